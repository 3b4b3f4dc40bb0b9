import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import { assetsOf } from '../core/document/assets';
import { readGltf } from '../core/formats/gltf/read';
import { writeProjectFile } from '../core/formats/project/file';
import { assetFileName, isPack, writePack, type Pack, type PackedFile } from '../core/formats/project/pack';
import type { Doc } from '../core/document/types';
import { describe } from '../core/result';
import { openDatabase } from '../src/lib/server/db/database';
import { mediaTypeOf } from '../src/lib/server/media';
import { ProjectStore, sha256, type NewFile } from '../src/lib/server/project-store';
import { CliError } from './error';
import { readBytes, readPacked, readProject, writeOut } from './files';
import { defaultDataFolder } from './serve';

/** Reads a project with the files that come with it. */
async function readAny(file: string): Promise<{ doc: Doc; files: NewFile[] }> {
	const told = (note: string) => process.stderr.write(`hillock: left out: ${note}\n`);
	const bytes = readBytes(file);
	if (/\.(glb|gltf)$/i.test(file)) {
		const id = sha256(bytes);
		const name = basename(file).replace(/\.\w+$/, '');
		const read = await readGltf(bytes, name, id);
		if (!read.ok) throw new CliError(`${file}: ${describe(read.problems[0])}`, 1);
		read.value.leftOut.forEach(told);
		return { doc: read.value.doc, files: [{ id, name, content: bytes }] };
	}
	const { doc, files, missing } = isPack(bytes) ? readPacked(file, bytes) : readBeside(file);
	for (const id of missing) told(`${id.slice(0, 8)}…: a file that is not there`);
	const torn = files.find(({ id, content }) => sha256(content) !== id);
	if (torn) throw new CliError(`${file}: the file ${torn.id.slice(0, 8)}… in it has been changed`, 1);
	return { doc, files: files.map(({ id, content }) => ({ id, name: id, content: Buffer.from(content) })) };
}

/** The folder of a project file's pictures, films and models. */
const besides = (file: string) => `${file.replace(/(\.hillock)?\.json$/i, '')}.assets`;

/** A project file and what lies in the folder beside it. */
function readBeside(file: string): Pack {
	const doc = readProject(file);
	const folder = besides(file);
	const names = existsSync(folder) ? readdirSync(folder) : [];
	const files: PackedFile[] = [];
	const missing: string[] = [];
	for (const id of assetsOf(doc)) {
		const name = names.find((candidate) => candidate.startsWith(id));
		if (name) files.push({ id, content: readBytes(join(folder, name)) });
		else missing.push(id);
	}
	return { doc, files, missing };
}

function writeProject(out: string, doc: Doc, files: readonly NewFile[]): void {
	const packed = files.map(({ id, content }) => ({ id, content, mediaType: mediaTypeOf(content) ?? '' }));
	if (/\.zip$/i.test(out)) {
		writeOut(out, writePack(doc, packed));
		return;
	}
	writeOut(out, writeProjectFile(doc));
	if (packed.length === 0) return;
	mkdirSync(besides(out), { recursive: true });
	for (const { id, content, mediaType } of packed)
		writeOut(join(besides(out), assetFileName(id, mediaType)), content);
}

export async function importFile(file: string, options: { out?: string; data?: string }): Promise<void> {
	const { doc, files } = await readAny(file);
	if (options.out) {
		writeProject(options.out, doc, files);
		process.stdout.write(`${options.out}: written\n`);
		return;
	}
	const db = openDatabase(options.data ?? defaultDataFolder());
	try {
		process.stdout.write(`stored as project ${new ProjectStore(db).add(doc, { files })}\n`);
	} finally {
		db.close();
	}
}
