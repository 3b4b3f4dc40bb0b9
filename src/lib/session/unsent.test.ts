/** What windows that are gone have left in the browser, each in a record of its own. */
import 'fake-indexeddb/auto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Database } from 'better-sqlite3';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { updatePart } from '$core/edits/parts';
import { openDatabase } from '$lib/server/db/database';
import { ApiError } from '$lib/server/problem';
import { ProjectStore } from '$lib/server/project-store';
import { makeQuay } from '../../../demo/quay';
import type { Answer } from '$lib/api/client';
import type { StepServer } from './steps';
import { Sync, type SyncServer } from './sync';
import { adoptUnsent, forgetAdopted, UnsentRecord } from './unsent';

let folder: string;
let db: Database;
let store: ProjectStore;
let project: string;
let isAway: boolean;
/** Locks that windows hold. */
let held: Set<string>;

beforeEach(() => {
	folder = mkdtempSync(join(tmpdir(), 'hillock-unsent-'));
	db = openDatabase(folder);
	store = new ProjectStore(db);
	project = store.add(makeQuay());
	isAway = false;
	held = new Set();
	vi.stubGlobal('navigator', {
		locks: {
			request: (name: string, work: () => Promise<unknown>) => {
				held.add(name);
				return work().finally(() => held.delete(name));
			},
			query: () => Promise.resolve({ held: [...held].map((name) => ({ name })) }),
		},
	});
});
afterEach(() => {
	vi.unstubAllGlobals();
	db.close();
	rmSync(folder, { recursive: true, force: true });
});

const call = <T>(work: () => T): Promise<Answer<T>> => {
	if (isAway) return Promise.resolve({ ok: false, problem: { status: 0, title: 'away', detail: '' } });
	try {
		return Promise.resolve({ ok: true, value: work() });
	} catch (error) {
		if (!(error instanceof ApiError)) throw error;
		const problem = { status: 412, title: error.type, detail: error.message, ...error.extra };
		return Promise.resolve({ ok: false, problem });
	}
};
const server: StepServer & SyncServer = {
	save: (revision, { editId, label, changeset }) =>
		call(() => store.edit(project, revision, editId, label, changeset)),
	retrace: (revision, { editId, kind }) =>
		call(() => store.retrace(project, revision, editId, kind as 'undo')),
	load: () => call(() => store.load(project)),
	wait: () => new Promise(() => {}),
};

function openWindow() {
	const record = new UnsentRecord(project);
	const sync: Sync = new Sync(store.load(project), server, {
		onshown: () => {},
		onchange: () => record.keep(sync.unsent),
		onretraced: () => {},
		onovertaken: () => {},
	});
	return { sync, close: () => held.delete(`hillock-window-${record.window}`) };
}
const paint = (sync: Sync, part: string, colour: string) =>
	sync.edit(`Paint the ${part}`, updatePart(sync.shown, part, { colour }));
const written = () => new Promise((resolve) => setTimeout(resolve, 30));
const colours = () => {
	const { parts } = store.load(project).doc;
	return [parts.buoy.colour, parts.ferry.colour];
};

it('two windows that were away keep both their edits; each is sent once, by whoever opens the project next', async () => {
	const [one, two] = [openWindow(), openWindow()];
	isAway = true;
	paint(one.sync, 'buoy', '#111111');
	paint(two.sync, 'ferry', '#222222');
	await written();
	isAway = false;
	one.close();
	// The second window lives: it will send its own.
	expect(await adoptUnsent(project, server)).toEqual([]);
	expect(colours()).toEqual(['#111111', makeQuay().parts.ferry.colour]);
	two.close();
	expect(await adoptUnsent(project, server)).toEqual([]);
	expect(await adoptUnsent(project, server)).toEqual([]);
	expect(colours()).toEqual(['#111111', '#222222']);
	expect(store.history(project, 10)).toHaveLength(2);
});

it('what was made away on what somebody saved meanwhile overwrites nothing, and is told until it is chosen', async () => {
	const window = openWindow();
	isAway = true;
	paint(window.sync, 'buoy', '#111111');
	paint(window.sync, 'ferry', '#222222');
	await written();
	isAway = false;
	const { doc } = store.load(project);
	const changeset = { put: { buoy: { ...doc.parts.buoy, colour: '#333333' } }, splice: {}, drop: [] };
	store.edit(project, 0, 'elsewhere', 'Paint it otherwise', changeset);
	window.close();
	isAway = true;
	expect(await adoptUnsent(project, server)).toEqual([]);
	isAway = false;
	const conflicts = await adoptUnsent(project, server);
	expect(conflicts).toMatchObject([{ label: 'Paint the buoy', theirs: ['Paint it otherwise'] }]);
	expect(colours()).toEqual(['#333333', '#222222']);
	// Nobody has chosen, and the page is loaded again.
	expect(await adoptUnsent(project, server)).toEqual(conflicts);
	await forgetAdopted(project);
	expect(await adoptUnsent(project, server)).toEqual([]);
});

it('an edit whose answer was lost with its page is in the project once', async () => {
	const window = openWindow();
	isAway = true;
	paint(window.sync, 'buoy', '#111111');
	await written();
	isAway = false;
	const [step] = window.sync.unsent.queue;
	store.edit(project, 0, step.editId, step.label, step.changeset!);
	window.close();
	expect(await adoptUnsent(project, server)).toEqual([]);
	expect(store.history(project, 10)).toHaveLength(1);
});
