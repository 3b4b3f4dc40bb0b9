/** The SQLite database: opened once, migrated, refused when a newer Hillock wrote it. */
import Database from 'better-sqlite3';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { backUpAtOnce } from './backups';

const migrations = import.meta.glob<string>('./migrations/*.sql', {
	query: '?raw',
	import: 'default',
	eager: true,
});

const steps = Object.keys(migrations)
	.sort()
	.map((name) => migrations[name]);

/** The database of a data folder. */
export function databaseFile(folder: string): string {
	return join(folder, 'hillock.sqlite');
}

function migrate(db: Database.Database, before: () => void): void {
	const version = db.pragma('user_version', { simple: true }) as number;
	if (version > steps.length) {
		throw new Error(`The data folder was written by a newer Hillock (version ${version}): update Hillock.`);
	}
	if (version > 0 && version < steps.length) before();
	for (let i = version; i < steps.length; i++) {
		db.transaction(() => {
			db.exec(steps[i]);
			db.pragma(`user_version = ${i + 1}`);
		})();
	}
}

/**
 * Takes a data folder for this process as its only server; null when another one has it. The lock is the system's own
 * on a file, so that it ends with its process, however that ends.
 */
export function lockFolder(folder: string): { release: () => void } | null {
	mkdirSync(folder, { recursive: true });
	const db = new Database(join(folder, 'server.lock'), { timeout: 0 });
	try {
		db.exec('BEGIN EXCLUSIVE');
		return { release: () => db.close() };
	} catch (error) {
		db.close();
		if ((error as { code?: string }).code === 'SQLITE_BUSY') return null;
		throw error;
	}
}

/** Opens (and makes) the database in a folder. Everything that was acknowledged survives a crash. */
export function openDatabase(folder: string): Database.Database {
	mkdirSync(folder, { recursive: true });
	return openFile(databaseFile(folder), (db) => backUpAtOnce(db, folder));
}

/** Opens a database file and brings its tables up to date; `before` is called when that changes any. */
export function openFile(path: string, before?: (db: Database.Database) => void): Database.Database {
	const db = new Database(path);
	db.pragma('busy_timeout = 5000');
	db.pragma('journal_mode = WAL');
	db.pragma('synchronous = FULL');
	db.pragma('foreign_keys = ON');
	try {
		migrate(db, () => before?.(db));
	} catch (error) {
		db.close();
		throw error;
	}
	return db;
}
