/** Copies of all that is stored, made and taken back by hand. */
import Database from 'better-sqlite3';
import { copyFileSync, existsSync, renameSync, rmSync } from 'node:fs';
import { backUp } from '../src/lib/server/db/backups';
import { databaseFile, openDatabase, openFile } from '../src/lib/server/db/database';
import { isSound } from '../src/lib/server/db/mend';
import { CliError } from './error';
import { defaultDataFolder, takeFolder } from './serve';

interface DataOptions {
	data?: string;
}

const told = (error: unknown) => (error instanceof Error ? error.message : String(error));

/** Writes a copy beside the data, or to a file; a server may run meanwhile. */
export async function backupData({
	data = defaultDataFolder(),
	out,
}: DataOptions & { out?: string }): Promise<void> {
	if (!existsSync(databaseFile(data))) throw new CliError(`${data}: there are no data yet`, 2);
	const db = openDatabase(data);
	try {
		if (out === undefined) process.stdout.write(`${await backUp(db, data)}\n`);
		else {
			// Beside it first: a full disk or an end in the middle leaves what was there.
			const part = `${out}.${process.pid}.part`;
			try {
				await db.backup(part);
				renameSync(part, out);
			} finally {
				rmSync(part, { force: true });
			}
			process.stdout.write(`${out}\n`);
		}
	} catch (error) {
		throw new CliError(`no backup could be made: ${told(error)}`, 2);
	} finally {
		db.close();
	}
}

/** Whether a database has our tables. */
function isOurs(path: string): boolean {
	const db = new Database(path, { readonly: true });
	const tables = db.prepare("SELECT 1 FROM sqlite_master WHERE name IN ('project', 'journal')").all();
	db.close();
	return tables.length === 2;
}

/** Puts a copy in the place of what is stored, which is kept beside it. No server may run on the folder. */
export function restoreData(file: string, { data = defaultDataFolder() }: DataOptions): void {
	if (!existsSync(file)) throw new CliError(`${file}: there is no such file`, 2);
	const lock = takeFolder(data);
	const place = databaseFile(data);
	const copy = `${place}.restored`;
	try {
		copyFileSync(file, copy);
		if (!isSound(copy) || !isOurs(copy))
			throw new CliError(`${file}: it is no database of Hillock, or it is damaged`, 1);
		openFile(copy).close();
		const stamp = new Date().toISOString().slice(0, 19).replaceAll(':', '-');
		const before = `${place.replace(/\.sqlite$/, '')}-before-${stamp}.sqlite`;
		const isThere = existsSync(place);
		for (const ending of ['', '-wal', '-shm'])
			if (existsSync(place + ending)) renameSync(place + ending, before + ending);
		renameSync(copy, place);
		process.stdout.write(
			`${data}: as it was in ${file}${isThere ? `; what was here is kept as ${before}` : ''}\n`,
		);
	} catch (error) {
		if (error instanceof CliError) throw error;
		throw new CliError(`${file}: ${told(error)}`, 1);
	} finally {
		for (const ending of ['', '-wal', '-shm']) rmSync(copy + ending, { force: true });
		lock.release();
	}
}
