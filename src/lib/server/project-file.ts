/** A project as the file that it is kept as. */
import { fileStem } from '$core/formats/file-name';
import { writeProjectFile } from '$core/formats/project/file';
import { writePack } from '$core/formats/project/pack';
import type { ProjectStore } from './project-store';

export interface ProjectFile {
	name: string;
	content: string | Uint8Array<ArrayBuffer>;
	mediaType: string;
}

/** The project file; with what it refers to, in one zip, where it refers to anything. */
export function projectFile(store: ProjectStore, id: string): ProjectFile {
	const { doc } = store.load(id);
	const name = fileStem(doc.project.name);
	const files = store
		.assetsOf(id, doc)
		.map(({ id, content, media_type }) => ({ id, content, mediaType: media_type }));
	if (files.length === 0)
		return { name: `${name}.hillock.json`, content: writeProjectFile(doc), mediaType: 'application/json' };
	const content = new Uint8Array(writePack(doc, files));
	return { name: `${name}.hillock.zip`, content, mediaType: 'application/zip' };
}
