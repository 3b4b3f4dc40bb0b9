/** Copies of the database beside it, made by themselves: one a day, one before each change of its tables. */
import type { Database } from 'better-sqlite3';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';

/** So many are kept; the oldest go. */
export const BACKUPS_KEPT = 7;
const EVERY_MS = 86_400_000;
const LOOK_MS = 3_600_000;
/** After a start others come first. */
const FIRST_LOOK_MS = 20_000;
/** The time of day is in the name, as files may have it. */
const NAME = /^hillock-(\d{4}-\d\d-\d\d)T(\d\d)-(\d\d)-(\d\d)Z\.sqlite$/;

export interface Backup {
	path: string;
	/** Milliseconds since 1970. */
	madeAt: number;
}

function folderOf(data: string): string {
	return join(data, 'backups');
}

/** The newest first. */
export function backupsOf(data: string): Backup[] {
	const folder = folderOf(data);
	if (!existsSync(folder)) return [];
	return readdirSync(folder)
		.flatMap((name): Backup[] => {
			const [, day, hour, minute, second] = NAME.exec(name) ?? [];
			const madeAt = Date.parse(`${day}T${hour}:${minute}:${second}Z`);
			return Number.isNaN(madeAt) ? [] : [{ path: join(folder, name), madeAt }];
		})
		.sort((a, b) => b.madeAt - a.madeAt);
}

/** A place for a copy that is being made, and what gives it its name when it is whole. */
function newBackup(data: string, now: number): { part: string; keep: () => string } {
	const folder = folderOf(data);
	mkdirSync(folder, { recursive: true });
	const stamp = new Date(now).toISOString().slice(0, 19).replaceAll(':', '-');
	const path = join(folder, `hillock-${stamp}Z.sqlite`);
	const part = `${path}.part`;
	rmSync(part, { force: true });
	return {
		part,
		keep: () => {
			renameSync(part, path);
			for (const { path: old } of backupsOf(data).slice(BACKUPS_KEPT)) rmSync(old, { force: true });
			return path;
		},
	};
}

/** Copies the database while it is used; others read and write meanwhile. Gives the file. */
export async function backUp(db: Database, data: string, now = Date.now()): Promise<string> {
	const { part, keep } = newBackup(data, now);
	try {
		await db.backup(part);
		return keep();
	} catch (error) {
		rmSync(part, { force: true });
		throw error;
	}
}

/** Copies it at once, before its tables change: nobody uses it yet. */
export function backUpAtOnce(db: Database, data: string, now = Date.now()): string {
	const { part, keep } = newBackup(data, now);
	try {
		db.prepare('VACUUM INTO ?').run(part);
		return keep();
	} catch (error) {
		rmSync(part, { force: true });
		throw error;
	}
}

/** When anything was changed last, in milliseconds; 0 where there is nothing. */
function changedAt(db: Database): number {
	const row = db.prepare<[], { at: string | null }>('SELECT max(updated_at) AS at FROM project').get();
	return row?.at ? Date.parse(row.at) : 0;
}

/** Whether a copy is due: none for a day, and something changed since the newest one. */
export function isDue(db: Database, data: string, now = Date.now()): boolean {
	const newest = backupsOf(data)[0]?.madeAt ?? 0;
	return now - newest >= EVERY_MS && changedAt(db) > newest;
}

/** Makes copies when they are due, as long as the database is open; gives what ends it. */
export function keepBackedUp(db: Database, data: string): () => void {
	const look = () => {
		if (!db.open || !isDue(db, data)) return;
		backUp(db, data).catch((error: unknown) => {
			if (db.open) process.stderr.write(`hillock: no backup could be made: ${String(error)}\n`);
		});
	};
	const first = setTimeout(look, FIRST_LOOK_MS).unref();
	const every = setInterval(look, LOOK_MS).unref();
	return () => {
		clearTimeout(first);
		clearInterval(every);
	};
}
