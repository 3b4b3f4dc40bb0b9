/** Copies by hand: made while a server runs, taken back when none does. */
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { makeQuay } from '../demo/quay';
import { databaseFile, lockFolder, openDatabase } from '../src/lib/server/db/database';
import { ProjectStore } from '../src/lib/server/project-store';
import { backupData, restoreData } from './backup';
import { CliError } from './error';

let data: string;
let out: string;
beforeEach(() => {
	data = mkdtempSync(join(tmpdir(), 'hillock-backup-'));
	out = '';
	vi.spyOn(process.stdout, 'write').mockImplementation((text) => ((out += String(text)), true));
});
afterEach(() => {
	vi.restoreAllMocks();
	rmSync(data, { recursive: true, force: true });
});

function withStore<T>(what: (store: ProjectStore) => T): T {
	const db = openDatabase(data);
	try {
		return what(new ProjectStore(db));
	} finally {
		db.close();
	}
}
const ids = () => withStore((store) => store.list().map(({ doc }) => doc.project.id));

it('what was copied while a server ran comes back; what was there since is kept', async () => {
	const server = lockFolder(data)!;
	const first = withStore((store) => store.add(makeQuay()));
	const file = join(data, 'copy.sqlite');
	await backupData({ data, out: file });
	expect([out, existsSync(file)]).toEqual([`${file}\n`, true]);
	await backupData({ data });
	expect(out).toMatch(/backups.hillock-[\dT-]+Z\.sqlite\n$/);
	const second = withStore((store) => store.add(makeQuay()));
	expect(() => restoreData(file, { data })).toThrow(/another Hillock serves this folder/);
	expect(ids().sort()).toEqual([first, second].sort());
	server.release();

	restoreData(file, { data });
	expect(ids()).toEqual([first]);
	const kept = readdirSync(data).find((name) => name.startsWith('hillock-before-'))!;
	restoreData(join(data, kept), { data });
	expect(ids().sort()).toEqual([first, second].sort());
	expect(readdirSync(data).filter((name) => /part|restored/.test(name))).toEqual([]);
});

it('what is none, or is damaged, is refused, and nothing is touched', async () => {
	withStore((store) => store.add(makeQuay()));
	const before = ids();
	const broken = join(data, 'broken.sqlite');
	await backupData({ data, out: broken });
	const bytes = readFileSync(broken);
	writeFileSync(broken, bytes.fill(7, 4096 * 3, 4096 * 9));
	const foreign = join(data, 'foreign.sqlite');
	const other = new Database(foreign);
	other.exec('CREATE TABLE tune (id)');
	other.close();
	writeFileSync(join(data, 'text'), 'no database at all');
	for (const file of [broken, foreign, join(data, 'text'), join(data, 'nowhere'), data])
		expect(() => restoreData(file, { data }), file).toThrow(CliError);
	expect(ids()).toEqual(before);
	expect(existsSync(databaseFile(data))).toBe(true);
	await expect(backupData({ data: join(data, 'nowhere') })).rejects.toThrow(/there are no data yet/);
	await expect(backupData({ data, out: join(data, 'no/folder/b.sqlite') })).rejects.toThrow(CliError);
});
