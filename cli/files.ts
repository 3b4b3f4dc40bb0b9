/** Reading and writing the files that commands name. */
import { existsSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { drawnAssets } from '../core/document/assets';
import { readProjectFile } from '../core/formats/project/file';
import { isPack } from '../core/formats/project/is-pack';
import { readPack } from '../core/formats/project/pack';
import { clipsInOrder, type Clip, type Doc } from '../core/document/types';
import { describe } from '../core/result';
import { CliError } from './error';

function reason(error: unknown): string {
	const code = (error as NodeJS.ErrnoException).code;
	if (code === 'ENOENT') return 'there is no such file or folder';
	if (code === 'EACCES') return 'permission denied';
	if (code === 'EISDIR') return 'it is a folder';
	return error instanceof Error ? error.message : String(error);
}

export function readBytes(file: string): Buffer {
	try {
		return readFileSync(file);
	} catch (error) {
		throw new CliError(`${file}: ${reason(error)}`, 2);
	}
}

export function writeOut(file: string, content: string | Uint8Array): void {
	// Beside it first: a full disk or an end in the middle leaves what was there.
	const beside = `${file}.${process.pid}.part`;
	try {
		writeFileSync(beside, content);
		renameSync(beside, file);
	} catch (error) {
		rmSync(beside, { force: true });
		throw new CliError(`${file}: ${reason(error)}`, 2);
	}
}

/** A project file, or one in a zip with what it refers to. */
export function readProject(file: string): Doc {
	return readWithAssets(file).doc;
}

/** A project with the files that are with it, by their ids: those in its zip, or in the folder beside it. */
export function readWithAssets(file: string): { doc: Doc; assets: Map<string, Uint8Array> } {
	const bytes = readBytes(file);
	const read = isPack(bytes) ? readPack(bytes) : readProjectFile(bytes.toString('utf8'));
	if (!read.ok) throw new CliError(`${file}: ${describe(read.problems[0])}`, 1);
	if ('doc' in read.value) {
		const assets = new Map(read.value.files.map(({ id, content }) => [id, content]));
		return { doc: read.value.doc, assets };
	}
	return { doc: read.value, assets: assetsBeside(file, read.value) };
}

/** What importing as a project file has put beside it. */
function assetsBeside(file: string, doc: Doc): Map<string, Uint8Array> {
	const folder = dirname(file);
	const names = existsSync(folder) ? readdirSync(folder) : [];
	return new Map(
		[...drawnAssets(doc)].flatMap((id) => {
			const name = names.find((own) => own.startsWith(`${id}.`) || own === id);
			return name ? [[id, readBytes(join(folder, name))] as const] : [];
		}),
	);
}

/** The clips of those names in the project's order; "all" is every clip. */
export function chosenClips(doc: Doc, names: readonly string[]): Clip[] {
	const clips = clipsInOrder(doc);
	const missing = names.find((name) =>
		name === 'all' ? clips.length === 0 : !clips.some((clip) => clip.name === name),
	);
	if (missing !== undefined) {
		const known = clips.map((clip) => `"${clip.name}"`).join(', ');
		throw new CliError(`there is no clip "${missing}"; there are: ${known || 'none'}`, 2);
	}
	return names.includes('all') ? clips : clips.filter((clip) => names.includes(clip.name));
}
