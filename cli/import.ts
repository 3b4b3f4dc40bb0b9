import { basename } from 'node:path';
import { readGltf } from '../core/formats/gltf/read';
import { writeProjectFile } from '../core/formats/project/file';
import type { Doc } from '../core/document/types';
import { describe } from '../core/result';
import { openDatabase } from '../src/lib/server/db/database';
import { ProjectStore } from '../src/lib/server/project-store';
import { CliError } from './error';
import { readBytes, readProject, writeOut } from './files';
import { defaultDataFolder } from './serve';

async function readAny(file: string): Promise<Doc> {
	if (!/\.(glb|gltf)$/i.test(file)) return readProject(file);
	const read = await readGltf(readBytes(file), basename(file).replace(/\.\w+$/, ''));
	if (!read.ok) throw new CliError(`${file}: ${describe(read.problems[0])}`, 1);
	for (const note of read.value.leftOut) process.stderr.write(`hillock: left out: ${note}\n`);
	return read.value.doc;
}

export async function importFile(file: string, options: { out?: string; data?: string }): Promise<void> {
	const doc = await readAny(file);
	if (options.out) {
		writeOut(options.out, writeProjectFile(doc));
		process.stdout.write(`${options.out}: written\n`);
		return;
	}
	const db = openDatabase(options.data ?? defaultDataFolder());
	try {
		process.stdout.write(`stored as project ${new ProjectStore(db).add(doc)}\n`);
	} finally {
		db.close();
	}
}
