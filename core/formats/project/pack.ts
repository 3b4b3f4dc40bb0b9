/**
 * `*.hillock.zip`: a project file with what it refers to, each named by the SHA-256 of its content. Whoever reads one
 * has to see that contents and names agree.
 */
import { strFromU8, strToU8, zipSync, type Zippable } from 'fflate';
import { assetsOf } from '../../document/assets';
import { TAKE_MEDIA_TYPE } from '../../takes/samples-file';
import type { Doc } from '../../document/types';
import { fail, ok, type Result } from '../../result';
import { EPOCH, readZip } from '../zip';
import { readProjectFile, writeProjectFile } from './file';
import { MAX_FILE_LENGTH, MOST_PACK_BYTES } from './limits';

export interface PackedFile {
	/** SHA-256 of the content, in hexadecimal. */
	id: string;
	content: Uint8Array;
}

export interface Pack {
	doc: Doc;
	files: PackedFile[];
	/** Ids of what the project refers to and the pack has not. */
	missing: string[];
}

const PROJECT = 'project.hillock.json';
const FOLDER = 'assets/';
const ASSET = /^assets\/[0-9a-f]{64}(\.[a-z0-9]{1,5})?$/;
export const MOST_FILES = 2000;

/** Endings of media types, so that the files of a pack open by themselves. */
const ENDINGS: Readonly<Record<string, string>> = {
	'image/png': '.png',
	'image/jpeg': '.jpg',
	'image/webp': '.webp',
	'image/svg+xml': '.svg',
	'video/mp4': '.mp4',
	'video/webm': '.webm',
	'audio/wav': '.wav',
	'audio/ogg': '.ogg',
	'audio/flac': '.flac',
	'audio/mpeg': '.mp3',
	'model/gltf-binary': '.glb',
	'model/gltf+json': '.gltf',
	[TAKE_MEDIA_TYPE]: '.take',
};

/** What a file of a media type is called beside its project. */
export function assetFileName(id: string, mediaType: string): string {
	return id + (ENDINGS[mediaType] ?? '');
}

export function writePack(doc: Doc, files: readonly (PackedFile & { mediaType: string })[]): Uint8Array {
	const entries: Zippable = {
		[PROJECT]: [strToU8(writeProjectFile(doc)), { level: 6, mtime: EPOCH }],
	};
	for (const { id, mediaType, content } of [...files].sort((a, b) => (a.id < b.id ? -1 : 1)))
		// Pictures and films are packed already.
		entries[FOLDER + assetFileName(id, mediaType)] = [content, { level: 0, mtime: EPOCH }];
	return zipSync(entries);
}

/** Reads a pack; names of files are not trusted to be paths, and nothing unfolds beyond a limit. */
export function readPack(bytes: Uint8Array): Result<Pack> {
	const entries = readZip(bytes, {
		wants: (name) => name === PROJECT || ASSET.test(name),
		mostBytes: MOST_PACK_BYTES,
		mostOf: (name) => (name === PROJECT ? MAX_FILE_LENGTH : MOST_PACK_BYTES),
		mostFiles: MOST_FILES,
	});
	if (!entries.ok) return entries;
	const project = entries.value.get(PROJECT);
	if (!project) return fail('', `There is no ${PROJECT} in this zip file.`);
	const read = readProjectFile(strFromU8(project));
	if (!read.ok) return read;
	const wanted = assetsOf(read.value);
	const files = [...entries.value].flatMap(([name, content]) => {
		const id = name.slice(FOLDER.length, FOLDER.length + 64);
		return name !== PROJECT && wanted.has(id) ? [{ id, content }] : [];
	});
	const found = new Set(files.map(({ id }) => id));
	return ok({ doc: read.value, files, missing: [...wanted].filter((id) => !found.has(id)) });
}
