import { fileStem } from '$core/formats/file-name';
import { writeProjectFile } from '$core/formats/project/file';
import { writePack } from '$core/formats/project/pack';
import { attachment } from '$lib/server/attachment';
import { answer } from '$lib/server/problem';
import { getStore } from '$lib/server/store';

/** The project file; with what it refers to, in one zip, where it refers to anything. */
export function GET({ params }): Promise<Response> {
	return answer(() => {
		const store = getStore();
		const { doc } = store.load(params.project);
		const name = fileStem(doc.project.name);
		const files = store
			.assetsOf(params.project, doc)
			.map(({ id, content, media_type }) => ({ id, content, mediaType: media_type }));
		return files.length === 0
			? attachment(writeProjectFile(doc), `${name}.hillock.json`, 'application/json')
			: attachment(new Uint8Array(writePack(doc, files)), `${name}.hillock.zip`, 'application/zip');
	});
}
