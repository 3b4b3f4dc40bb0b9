import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import { assetsOf } from '../core/document/assets';
import type { TakenIn } from '../core/formats/format';
import { projectFile } from '../core/formats/project/format';
import { takeIn } from '../core/formats/loaders';
import { formatOf } from '../core/formats/registry';
import { writeProjectFile } from '../core/formats/project/file';
import { assetFileName, writePack } from '../core/formats/project/pack';
import type { Doc } from '../core/document/types';
import { describe } from '../core/result';
import { openDatabase } from '../src/lib/server/db/database';
import { newFile, ProjectStore, sha256, type NewFile } from '../src/lib/server/project-store';
import { CliError } from './error';
import { readBytes, writeOut } from './files';
import { defaultDataFolder } from './serve';

/** Reads a project, or what becomes one, with the files that come with it. */
export async function readAny(file: string): Promise<{ doc: Doc; files: NewFile[] }> {
	const told = (note: string) => process.stderr.write(`hillock: left out: ${note}\n`);
	const bytes = readBytes(file);
	const name = basename(file).replace(/\.\w+$/, '');
	const format = formatOf(bytes, file);
	const read = await takeIn(format, { bytes, name, sha256: sha256(bytes) });
	if (!read.ok) throw new CliError(`${file}: ${describe(read.problems[0])}`, 1);
	const { doc, files, leftOut } = read.value;
	leftOut.forEach(told);
	const beside = format === projectFile ? filesBeside(file, doc, told) : [];
	const all = [...files, ...beside];
	const torn = all.find(({ id, content }) => sha256(content) !== id);
	if (torn) throw new CliError(`${file}: the file ${torn.id.slice(0, 8)}… in it has been changed`, 1);
	return { doc, files: await Promise.all(all.map(newFile)) };
}

/** The folder of a project file's pictures, films and models. */
const besides = (file: string) => `${file.replace(/(\.hillock)?\.json$/i, '')}.assets`;

/** What a project file refers to, from the folder beside it. */
function filesBeside(file: string, doc: Doc, told: (note: string) => void): TakenIn['files'] {
	const folder = besides(file);
	const names = existsSync(folder) ? readdirSync(folder) : [];
	return [...assetsOf(doc)].flatMap((id) => {
		const name = names.find((candidate) => candidate.startsWith(id));
		if (name) return [{ id, name: id, content: readBytes(join(folder, name)) }];
		told(`${id.slice(0, 8)}…: a file that is not there`);
		return [];
	});
}

/** Writes a project with its files: as a zip where it is called one, else in a folder beside it. */
export function writeProject(out: string, doc: Doc, files: readonly NewFile[]): void {
	if (/\.zip$/i.test(out)) {
		writeOut(out, writePack(doc, files));
		return;
	}
	writeOut(out, writeProjectFile(doc));
	if (files.length === 0) return;
	mkdirSync(besides(out), { recursive: true });
	for (const { id, content, mediaType } of files)
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
