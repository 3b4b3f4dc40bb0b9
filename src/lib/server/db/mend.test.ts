/** Copies of the database, and what becomes of one that is damaged. */
import Database from 'better-sqlite3';
import fc from 'fast-check';
import {
	copyFileSync,
	existsSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	rmSync,
	truncateSync,
	writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { diffDocuments } from '$core/document/changeset';
import { updateProject } from '$core/edits/clips';
import type { Doc } from '$core/document/types';
import { makeParcelSlip } from '../../../../demo/parcel-slip';
import { makeQuay } from '../../../../demo/quay';
import type { Vec3 } from '$player/maths/vector';
import { updatePart } from '$core/edits/parts';
import { ProjectStore, sha256 } from '../project-store';
import { backUp, backupsOf, BACKUPS_KEPT, isDue } from './backups';
import { databaseFile, openDatabase } from './database';
import { forgetMendedNote, isSound, mendDatabase, mendedNote } from './mend';

let data: string;
beforeEach(() => (data = mkdtempSync(join(tmpdir(), 'hillock-mend-'))));
afterEach(() => rmSync(data, { recursive: true, force: true }));

/** Fills the folder: three projects, some edits. Gives the documents by their ids. */
function fill(): Map<string, Doc> {
	const db = openDatabase(data);
	const store = new ProjectStore(db);
	const ids = [makeQuay(), makeParcelSlip(), makeQuay()].map((doc) => store.add(doc));
	ids.forEach((id, n) => rename(store, id, `Project ${n}`));
	const docs = new Map(ids.map((id) => [id, store.load(id).doc]));
	db.close();
	return docs;
}

function rename(store: ProjectStore, id: string, name: string): void {
	const { doc, revision } = store.load(id);
	store.edit(id, revision, `e-${id}-${name}`, 'Rename', diffDocuments(doc, updateProject(doc, { name })));
}

const DAY = 86_400_000;

describe('backups', () => {
	it('are due once a day when something changed, and only so many are kept', async () => {
		const [id] = fill().keys();
		const db = openDatabase(data);
		// Names have whole seconds: not in the one in which the folder was filled.
		const now = (Math.floor(Date.now() / 1000) + 2) * 1000;
		expect(isDue(db, data, now)).toBe(true);
		await backUp(db, data, now);
		expect([isDue(db, data, now + 2 * DAY), backupsOf(data).length]).toEqual([false, 1]);
		rename(new ProjectStore(db, () => new Date(now + 1000).toISOString()), id, 'Another');
		expect([isDue(db, data, now + DAY / 2), isDue(db, data, now + DAY)]).toEqual([false, true]);
		for (let n = 1; n < BACKUPS_KEPT + 3; n++) await backUp(db, data, now + n * DAY);
		db.close();
		const kept = backupsOf(data);
		expect(kept.length).toBe(BACKUPS_KEPT);
		expect(kept[0].madeAt).toBeGreaterThan(now + 8 * DAY);
		// Nothing half made stays, and each is a whole database.
		expect(readdirSync(join(data, 'backups')).every((name) => name.endsWith('.sqlite'))).toBe(true);
		expect(kept.every(({ path }) => isSound(path))).toBe(true);
	});

	it('are made before the tables change', () => {
		fill();
		const db = new Database(databaseFile(data));
		const version = db.pragma('user_version', { simple: true }) as number;
		db.exec('ALTER TABLE journal DROP COLUMN name');
		db.pragma(`user_version = ${version - 1}`);
		db.close();
		openDatabase(data).close();
		const [{ path }] = backupsOf(data);
		const before = new Database(path, { readonly: true });
		expect(before.pragma('user_version', { simple: true })).toBe(version - 1);
		before.close();
		openDatabase(data).close();
		expect(backupsOf(data).length).toBe(1);
	});
});

describe('a damaged database', () => {
	/** Reads every project of the folder as the application does. */
	function docsNow(): Map<string, Doc> {
		const db = openDatabase(data);
		const store = new ProjectStore(db);
		const docs = new Map(store.list().map(({ doc }) => [doc.project.id, doc]));
		db.close();
		return docs;
	}

	it('is mended page by page: what can be read stays as it is, the rest comes from the backup', async () => {
		const docs = fill();
		const db = openDatabase(data);
		await backUp(db, data, Date.now() - DAY);
		const store = new ProjectStore(db);
		for (const id of docs.keys()) rename(store, id, `${docs.get(id)!.project.name} today`);
		const today = new Map([...docs.keys()].map((id) => [id, store.load(id).doc]));
		db.close();
		const file = databaseFile(data);
		const whole = join(data, 'whole');
		copyFileSync(file, whole);
		const pages = readFileSync(file).length / 4096;
		const hows = new Set<string>();
		fc.assert(
			fc.property(
				fc.array(fc.nat(pages - 1), { minLength: 1, maxLength: 4 }),
				fc.uint8Array({ minLength: 64, maxLength: 64 }),
				(torn, noise) => {
					const bytes = readFileSync(whole);
					for (const page of torn)
						for (let i = 0; i < 4096; i++) bytes[page * 4096 + i] = noise[i % 64] ^ (i & 0xff);
					for (const name of readdirSync(data))
						if (/^(damaged|hillock\.)/.test(name)) rmSync(join(data, name));
					writeFileSync(file, bytes);
					const mended = mendDatabase(data);
					const now = docsNow();
					expect([...now.keys()].sort()).toEqual([...docs.keys()].sort());
					for (const [id, doc] of now) {
						const isToday = doc.project.name.endsWith('today');
						expect(doc).toEqual((isToday ? today : docs).get(id));
					}
					mended?.projects.forEach(({ how }) => hows.add(how));
					expect(mended === null || existsSync(mended.kept)).toBe(true);
					expect(isSound(file)).toBe(true);
				},
			),
			{ numRuns: 60 },
		);
		expect(hows).toContain('whole');
		expect(hows).toContain('from a backup');
		expect(hows).not.toContain('lost');
	}, 120_000);

	it('with a project in the trash is mended too, and that one can still be brought back', async () => {
		const [first, second] = fill().keys();
		const db = openDatabase(data);
		await backUp(db, data);
		new ProjectStore(db).remove(first);
		db.close();
		const file = databaseFile(data);
		const whole = readFileSync(file);
		for (let page = 2; page < whole.length / 4096; page++) {
			writeFileSync(file, Buffer.from(whole).fill(0x41, 4096 * page, 4096 * (page + 1)));
			const mended = mendDatabase(data);
			const again = openDatabase(data);
			const store = new ProjectStore(again);
			expect(store.load(second).doc.project.name, `page ${page}`).toBe('Project 1');
			if (store.deleted().length > 0) store.restore(first);
			expect(store.load(first).doc.project.name).toBe('Project 0');
			again.close();
			if (mended) expect(mended.projects.length).toBe(3);
		}
		expect(readdirSync(data).filter((name) => name.startsWith('mending'))).toEqual([]);
	}, 60_000);

	it('keeps the pictures that can be read, takes the others from the backup, and counts what is gone', async () => {
		const picture = (fill: number) => {
			const content = Buffer.alloc(9000, fill);
			return { id: sha256(content), name: `${fill}.png`, mediaType: 'image/png', content };
		};
		const [first, second] = [picture(1), picture(2)];
		const base = makeParcelSlip();
		const [card, other] = Object.values(base.parts);
		const drawn = (asset: string) => ({
			kind: 'image' as const,
			asset,
			size: [80, 40, 0] as Vec3,
			offset: [0, 0, 0] as Vec3,
		});
		const doc = updatePart(updatePart(base, card.id, { drawing: drawn(first.id) }), other.id, {
			drawing: drawn(second.id),
		});
		const db = openDatabase(data);
		const id = new ProjectStore(db).add(doc, { files: [first, second] });
		await backUp(db, data);
		db.close();
		const file = databaseFile(data);
		const tear = () => {
			const bytes = readFileSync(file);
			// Where the rest of the second picture is: in a page that is full of its bytes.
			const at = bytes.indexOf(Buffer.alloc(4000, 2));
			bytes.fill(0x55, at - (at % 4096), at - (at % 4096) + 4);
			writeFileSync(file, bytes);
		};
		const files = () => {
			const db = openDatabase(data);
			const store = new ProjectStore(db);
			const kept = store.assetsOf(id, store.load(id).doc).map((own) => own.id);
			db.close();
			return kept.sort();
		};
		tear();
		expect(mendDatabase(data)!.projects).toEqual([{ name: doc.project.name, how: 'whole' }]);
		expect(files()).toEqual([first.id, second.id].sort());
		rmSync(join(data, 'backups'), { recursive: true });
		tear();
		expect(mendDatabase(data)!.projects).toEqual([{ name: doc.project.name, how: 'whole', lostFiles: 1 }]);
		expect(files()).toEqual([first.id]);
	});

	it('that is cut short, or no database at all, without a backup: what is lost is told', () => {
		const docs = fill();
		truncateSync(databaseFile(data), 4096 * 6);
		const mended = mendDatabase(data)!;
		const here = docsNow();
		const lost = mended.projects.filter(({ how }) => how === 'lost').length;
		// Nothing goes without a word.
		expect(mended.isListed && lost < docs.size - here.size).toBe(false);
		for (const [id, doc] of here) expect(doc).toEqual(docs.get(id));
		expect(mendedNote(data)).toEqual(mended);
		forgetMendedNote(data);
		expect(mendedNote(data)).toBe(null);

		writeFileSync(databaseFile(data), 'nothing that anybody could read '.repeat(400));
		expect(mendDatabase(data)).toMatchObject({ projects: [], isListed: false });
		expect(docsNow().size).toBe(0);
		expect(mendDatabase(data)).toBe(null);
	});
});
