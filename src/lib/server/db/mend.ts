/**
 * What is done about a damaged database before it is served: what can be read of it goes into a new one, project by
 * project, and what cannot comes from the newest backup that has it. The damaged file is kept.
 */
import Database from 'better-sqlite3';
import { copyFileSync, existsSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { assetsOf } from '$core/document/assets';
import { emptyDoc } from '$core/document/types';
import type { Mended, MendedProject } from '$lib/api/mended';
import { backupsOf } from './backups';
import { assetTable } from './asset-table';
import { databaseFile, openFile } from './database';
import { entityTable } from './entity-table';

/** A database, what is not in it yet, and the index of that. */
const ENDINGS = ['', '-wal', '-shm'];
/** What is told to the page until somebody has read it. */
const NOTE = 'mended.json';

/** Whether all pages of a database can be read and fit together. */
export function isSound(path: string): boolean {
	if (!existsSync(path)) return true;
	let db;
	try {
		db = new Database(path);
		return db.pragma('quick_check(1)', { simple: true }) === 'ok';
	} catch (error) {
		// One that is being written by somebody else is none that is damaged.
		if ((error as { code?: string }).code === 'SQLITE_BUSY') return true;
		return false;
	} finally {
		db?.close();
	}
}

/** Ids and names of projects, as far as they can be read. */
function projectsIn(db: Database.Database, schema: string): { ids: Map<string, string>; isAll: boolean } {
	const ids = new Map<string, string>();
	try {
		const rows = db.prepare<[], { id: string; name: string }>(
			`SELECT id, json_extract(body, '$.name') AS name FROM ${schema}.project`,
		);
		for (const { id, name } of rows.iterate()) ids.set(id, name);
		return { ids, isAll: true };
	} catch {
		return { ids, isAll: false };
	}
}

/** The columns that a table has here and there: what a later version added has its default. */
function columnsOf(db: Database.Database, schema: string, table: string): string {
	const names = (own: string) =>
		(db.pragma(`${own}.table_info(${table})`) as { name: string }[]).map(({ name }) => name);
	const there = new Set(names(schema));
	return names('main')
		.filter((name) => there.has(name))
		.join(', ');
}

/** Copies the rows of a project from an attached database. Throws where they cannot be read. */
function copyRows(db: Database.Database, schema: string, table: string, id: string): void {
	const columns = columnsOf(db, schema, table);
	const key = table === 'project' ? 'id' : 'project';
	db.prepare(
		`INSERT INTO main.${table} (${columns}) SELECT ${columns} FROM ${schema}.${table} WHERE ${key} = ?`,
	).run(id);
}

/** Tries something that leaves nothing behind when it fails. */
function attempt(db: Database.Database, what: () => void): boolean {
	try {
		db.transaction(what)();
		return true;
	} catch {
		return false;
	}
}

/** Pictures, films, sounds and models, each by itself; what cannot be read is left. */
function copyFiles(db: Database.Database, schema: string, project: string): void {
	const ids: string[] = [];
	attempt(db, () => {
		const rows = db.prepare<[string], { id: string }>(`SELECT id FROM ${schema}.asset WHERE project = ?`);
		for (const { id } of rows.iterate(project)) ids.push(id);
	});
	const columns = columnsOf(db, schema, 'asset');
	for (const id of ids)
		attempt(db, () =>
			db
				.prepare(
					`INSERT OR IGNORE INTO main.asset (${columns})
					 SELECT ${columns} FROM ${schema}.asset WHERE project = ? AND id = ?`,
				)
				.run(project, id),
		);
}

/** How many files a project refers to that are not here; of one in the trash too. */
function lostFiles(db: Database.Database, project: string): number {
	const blank = emptyDoc({ type: 'project', id: project, name: '', space: 'world', frameRate: 30 });
	const files = assetTable(db);
	try {
		const doc = { ...blank, ...entityTable(db).load(project) };
		return [...assetsOf(doc)].filter((id) => !files.find(project, id)).length;
	} catch {
		// What cannot be understood here is told where it is opened.
		return 0;
	}
}

/** The project and all that it is made of; null where that cannot be read. */
function copyProject(db: Database.Database, schema: string, id: string): 'whole' | 'without history' | null {
	const isThere = attempt(db, () => {
		copyRows(db, schema, 'project', id);
		copyRows(db, schema, 'entity', id);
		const isHere = db.prepare('SELECT 1 FROM main.project WHERE id = ? AND json_valid(body)').get(id);
		const torn = db.prepare('SELECT 1 FROM main.entity WHERE project = ? AND NOT json_valid(body)').get(id);
		if (!isHere || torn) throw new Error('torn');
	});
	if (!isThere) return null;
	copyFiles(db, schema, id);
	if (attempt(db, () => copyRows(db, schema, 'journal', id))) return 'whole';
	// What leads back cannot be read: undo begins here.
	db.prepare('UPDATE main.project SET undo_top = NULL WHERE id = ?').run(id);
	return 'without history';
}

/** A copy of a backup with the tables of today; null where it is damaged itself, or of a newer version. */
function upgraded(path: string): string | null {
	const copy = `${path}.read`;
	try {
		copyFileSync(path, copy);
		if (isSound(copy)) {
			openFile(copy).close();
			return copy;
		}
	} catch {
		// What cannot be read is no backup: the next older one is tried.
	}
	rmSync(copy, { force: true });
	return null;
}

/** Does something with a database attached; null where it cannot be. */
function within<T>(db: Database.Database, path: string, what: (schema: string) => T): T | null {
	try {
		db.prepare('ATTACH ? AS other').run(path);
	} catch {
		return null;
	}
	try {
		return what('other');
	} finally {
		db.exec('DETACH other');
	}
}

/** Mends a folder's database where it is damaged; null where it is sound. Nobody may have it open. */
export function mendDatabase(data: string): Mended | null {
	const file = databaseFile(data);
	if (isSound(file)) return null;
	// Made beside it, and put in its place when it is whole: an end in the middle begins anew the next time.
	const made = join(data, 'mending.sqlite');
	for (const ending of ENDINGS) rmSync(made + ending, { force: true });
	const db = openFile(made);
	const found = new Map<string, MendedProject>();
	// A copy is read in the tables of today; what is damaged was served by this version, or is read as far as it fits.
	const read = within(db, file, (schema) => {
		const { ids, isAll } = projectsIn(db, schema);
		for (const [id, name] of ids) {
			const how = copyProject(db, schema, id);
			found.set(id, { name, how: how ?? 'lost' });
		}
		return isAll;
	});
	const missing = (id: string) => (found.get(id)?.how ?? (read ? 'whole' : 'lost')) === 'lost';
	const isWhole = () => [...found.keys()].every((id) => !missing(id) && lostFiles(db, id) === 0);
	for (const { path, madeAt } of backupsOf(data)) {
		if (read && isWhole()) break;
		const copy = upgraded(path);
		if (!copy) continue;
		within(db, copy, (schema) => {
			for (const [id, name] of projectsIn(db, schema).ids) {
				if (!missing(id)) copyFiles(db, schema, id);
				else if (copyProject(db, schema, id))
					found.set(id, { name, how: 'from a backup', madeAt: new Date(madeAt).toISOString() });
			}
		});
		rmSync(copy, { force: true });
	}
	for (const [id, own] of found) {
		const lost = own.how === 'lost' ? 0 : lostFiles(db, id);
		if (lost > 0) found.set(id, { ...own, lostFiles: lost });
	}
	db.close();
	const stamp = new Date().toISOString().slice(0, 19).replaceAll(':', '-');
	const kept = join(data, `damaged-${stamp}.sqlite`);
	for (const ending of ENDINGS) if (existsSync(file + ending)) renameSync(file + ending, kept + ending);
	renameSync(made, file);
	const mended: Mended = { projects: [...found.values()], isListed: read === true, kept };
	writeFileSync(join(data, NOTE), JSON.stringify(mended));
	return mended;
}

/** What was mended and not read yet. */
export function mendedNote(data: string): Mended | null {
	const path = join(data, NOTE);
	return existsSync(path) ? (JSON.parse(readFileSync(path, 'utf8')) as Mended) : null;
}

export function forgetMendedNote(data: string): void {
	rmSync(join(data, NOTE), { force: true });
}
