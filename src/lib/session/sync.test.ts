/**
 * Windows on one project, with a line between them and the server that is slow, loses requests and loses answers; they
 * are reloaded, and the server is started again. The server is the real one, with its database.
 */
import fc from 'fast-check';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Database } from 'better-sqlite3';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { applyOwn, touchedIds, type Changeset } from '$core/document/changeset';
import { removeKeys, setValue } from '$core/edits/keys';
import { putPart, removePart, updatePart } from '$core/edits/parts';
import { MAPS, type Doc } from '$core/document/types';
import { openDatabase } from '$lib/server/db/database';
import { ApiError } from '$lib/server/problem';
import { ProjectStore } from '$lib/server/project-store';
import { ProjectBuilder } from '../../../demo/builder';
import type { Answer } from '$lib/api/client';
import { sendUnsent, type Conflict, type StepServer } from './steps';
import { Sync, type SyncServer } from './sync';

let folder: string;
let db: Database;
beforeAll(() => {
	folder = mkdtempSync(join(tmpdir(), 'hillock-sync-'));
	db = openDatabase(folder);
	// Thousands of small projects: what a power cut would do is tried elsewhere.
	db.pragma('synchronous = OFF');
});
afterAll(() => {
	db.close();
	rmSync(folder, { recursive: true, force: true });
});

function smallProject(): Doc {
	const p = new ProjectBuilder('Jetty', 'world', 30);
	for (const name of ['raft', 'rope', 'bell']) p.part(name, { kind: 'box', size: [1, 1, 1] }, {});
	p.startClip('drift', 60);
	p.keys('raft', 'translation.x', [
		[0, 0],
		[30, 2],
		[60, 4],
	]);
	p.keys('bell', 'rotation.z', [
		[0, 0],
		[60, 90],
	]);
	return p.build();
}

const entity = (doc: Doc, id: string): unknown =>
	doc.project.id === id ? doc.project : MAPS.map((map) => doc[map][id]).find((found) => found !== undefined);
const asText = (doc: Doc, changeset: Changeset): string =>
	JSON.stringify([...touchedIds(changeset)].sort().map((id) => [id, entity(doc, id) ?? null]));

/** Requests and answers that are under way; a test lets them arrive one after the other, or not at all. */
class Line {
	private under: (() => void)[] = [];
	constructor(readonly store: () => ProjectStore) {}

	get isEmpty(): boolean {
		return this.under.length === 0;
	}
	private arrives(): Promise<void> {
		return new Promise((resolve) => this.under.push(resolve));
	}
	/** Lets one of them arrive. */
	async pass(which: number): Promise<void> {
		const [next] = this.under.splice(which % this.under.length, 1);
		next?.();
		await settle();
	}
	/** A window that is gone hears nothing any more, but what it sent may arrive. */
	server(
		project: string,
		isGone: () => boolean,
		fate: () => 'ok' | 'request lost' | 'answer lost',
	): SyncServer {
		const call = async <T>(work: () => T): Promise<Answer<T>> => {
			const away = { ok: false, problem: { status: 0, title: 'away', detail: '' } } as const;
			const wanted = fate();
			await this.arrives();
			if (wanted === 'request lost') return away;
			let answer: Answer<T>;
			try {
				answer = { ok: true, value: JSON.parse(JSON.stringify(work())) as T };
			} catch (error) {
				if (!(error instanceof ApiError)) throw error;
				const status = { 'stale-revision': 412, 'nothing-to-undo': 409 }[error.type as string] ?? 422;
				const problem = { status, title: error.type, detail: error.message, ...error.extra };
				answer = { ok: false, problem: JSON.parse(JSON.stringify(problem)) as typeof problem };
			}
			await this.arrives();
			if (isGone()) return new Promise(() => {});
			return wanted === 'answer lost' ? away : answer;
		};
		return {
			save: (revision, { editId, label, changeset }) =>
				call(() => this.store().edit(project, revision, editId, label, changeset)),
			retrace: (revision, { editId, kind, of }) =>
				call(() => this.store().retrace(project, revision, editId, kind as 'undo' | 'redo', of)),
			load: () => call(() => this.store().load(project)),
			wait: () => this.arrives(),
		};
	}
}
const settle = () => new Promise<void>((resolve) => setImmediate(resolve));

interface Made {
	/** What was there, as its window saw it, of all that it touches. */
	found: string;
	changeset: Changeset;
}

class World {
	store = new ProjectStore(db);
	readonly project = this.store.add(smallProject());
	readonly line = new Line(() => this.store);
	readonly windows: { sync: Sync; gone: boolean }[] = [];
	/** All that was done in any window, by its id. */
	readonly made = new Map<string, Made>();
	readonly told = new Set<string>();
	/** What an undo that the server had to work out was to take back. */
	private readonly meant = new Map<string, string>();
	private count = 0;

	constructor(private readonly fate: () => 'ok' | 'request lost' | 'answer lost') {}

	open(at: number, conflicts: readonly Conflict[] = []): void {
		const own: { sync: Sync; gone: boolean } = { sync: undefined as never, gone: false };
		const server = this.line.server(this.project, () => own.gone, this.fate);
		own.sync = new Sync(
			this.store.load(this.project),
			server,
			{
				onshown: () => {},
				onchange: () => own.sync?.conflicts.forEach(({ editId }) => this.told.add(editId)),
				onretraced: () => {},
				onovertaken: () => {},
			},
			conflicts,
		);
		this.windows[at] = own;
	}

	/** The page is loaded again: what it kept is sent first, as often as that takes. */
	async reload(at: number): Promise<void> {
		const old = this.windows[at];
		old.gone = true;
		const { revision, queue, conflicts } = old.sync.unsent;
		const unsent = JSON.parse(JSON.stringify({ revision, queue, conflicts })) as typeof old.sync.unsent;
		const server: StepServer = this.line.server(this.project, () => false, this.fate);
		let left: Conflict[] | null = null;
		while (left === null) {
			let isOver = false;
			const sending = sendUnsent(server, unsent).then((result) => {
				left = result;
				isOver = true;
			});
			while (!isOver && (await settle(), !isOver)) await this.line.pass(this.count);
			await sending;
		}
		for (const { editId } of left as Conflict[]) this.told.add(editId);
		this.open(at, left);
	}

	do(at: number, what: string, which: number): void {
		const { sync } = this.windows[at];
		const before = sync.shown;
		const value = ++this.count;
		const parts = Object.keys(before.parts).sort();
		const channels = Object.keys(before.channels).sort();
		const part = parts[which % parts.length];
		const channel = before.channels[channels[which % channels.length]];
		if (what === 'undo' || what === 'redo') sync.retrace(what);
		else if (what === 'value' && channel) {
			const { clip, part: own, property, component } = channel;
			const t = channel.keys[which % channel.keys.length].t;
			sync.edit(`value ${value}`, setValue(before, { clip, part: own, property, component }, t, value));
		} else if (what === 'key' && part) {
			const address = { clip: 'drift', part, property: 'scale', component: 'x' } as const;
			sync.edit(`key ${value}`, setValue(before, address, (which % 5) * 7200, value));
		} else if (what === 'remove' && channel)
			sync.edit(`remove ${value}`, removeKeys(before, new Map([[channel.id, new Set([channel.keys[0].t])]])));
		else if (what === 'name' && part)
			sync.edit(`name ${value}`, updatePart(before, part, { name: `p${value}` }));
		else if (what === 'part' && part)
			sync.edit(
				`part ${value}`,
				putPart(before, {
					...Object.values(before.parts)[0],
					id: `n${value}`,
					name: `n${value}`,
					parent: null,
				}),
			);
		else if (what === 'hang' && part)
			sync.edit(
				`hang ${value}`,
				putPart(before, { ...before.parts[part], id: `n${value}`, name: `n${value}`, parent: part }),
			);
		else if (what === 'delete' && part && parts.length > 1)
			sync.edit(`delete ${value}`, removePart(before, part));
		const step = sync.unsent.queue.at(-1);
		// Of the first of them the window knew what it would take back.
		if (step && step.kind !== 'edit' && !step.changeset && sync.pending === 1)
			this.meant.set(step.editId, step.label);
		if (step?.changeset && !this.made.has(step.editId))
			this.made.set(step.editId, { found: asText(before, step.changeset), changeset: step.changeset });
	}

	async drain(): Promise<void> {
		for (let i = 0; !this.line.isEmpty || this.windows.some(({ sync }) => sync.pending > 0); i++) {
			if (i > 5000) throw new Error('a window never comes to rest');
			await this.line.pass(i);
		}
		for (const { sync } of this.windows) {
			sync.receive(this.store.changes(this.project, sync.revision));
			await settle();
		}
	}

	/** Everything that was made is in the journal, upon what its window had seen, or was told. */
	expectNothingLost(start: Doc): void {
		const rows = db
			.prepare<[string], { edit_id: string; label: string; forward: string; kind: string }>(
				'SELECT edit_id, kind, label, forward FROM journal WHERE project = ? ORDER BY revision',
			)
			.all(this.project);
		let doc = start;
		const inJournal = new Set<string>();
		for (const { edit_id, label, forward, kind } of rows) {
			expect(label).toBe(this.meant.get(edit_id) ?? label);
			inJournal.add(edit_id);
			const changeset = JSON.parse(forward) as Changeset;
			const made = this.made.get(edit_id);
			if (made) expect([kind, asText(doc, changeset)]).toEqual([kind, made.found]);
			doc = applyOwn(doc, changeset)!;
		}
		const { doc: stored } = this.store.load(this.project);
		expect(JSON.parse(JSON.stringify(stored))).toEqual(JSON.parse(JSON.stringify(doc)));
		for (const { sync } of this.windows)
			expect(JSON.parse(JSON.stringify(sync.shown))).toEqual(JSON.parse(JSON.stringify(stored)));
		const lost = [...this.made].filter(
			([id, { changeset }]) => touchedIds(changeset).size > 0 && !inJournal.has(id) && !this.told.has(id),
		);
		// Undo and redo that were overtaken are told by a message and can be pressed again.
		expect(lost.filter(([id]) => !this.retraced.has(id))).toEqual([]);
	}
	readonly retraced = new Set<string>();
}

const WINDOWS = 3;
const WHAT = [
	'value',
	'value',
	'value',
	'key',
	'key',
	'name',
	'remove',
	'part',
	'hang',
	'delete',
	'undo',
	'undo',
	'redo',
];
const act = fc.oneof(
	{
		weight: 6,
		arbitrary: fc.record({
			kind: fc.constant('do' as const),
			at: fc.nat(WINDOWS - 1),
			what: fc.constantFrom(...WHAT),
			which: fc.nat(20),
		}),
	},
	{ weight: 6, arbitrary: fc.record({ kind: fc.constant('pass' as const), which: fc.nat(20) }) },
	{ weight: 1, arbitrary: fc.record({ kind: fc.constant('told' as const), at: fc.nat(WINDOWS - 1) }) },
	{ weight: 1, arbitrary: fc.record({ kind: fc.constant('reload' as const), at: fc.nat(WINDOWS - 1) }) },
	{ weight: 1, arbitrary: fc.record({ kind: fc.constant('restart' as const) }) },
);
const fates = fc.infiniteStream(
	fc.constantFrom('ok', 'ok', 'ok', 'ok', 'request lost', 'answer lost' as const) as fc.Arbitrary<
		'ok' | 'request lost' | 'answer lost'
	>,
);
/** Interleavings; many more go through a soak. */
const RUNS = Number(process.env.HILLOCK_INTERLEAVINGS ?? 150);

describe('three windows on one project', () => {
	it('end with one document; each edit is in it, on top of what its window saw, or told', async () => {
		await fc.assert(
			fc.asyncProperty(fc.array(act, { minLength: 10, maxLength: 60 }), fates, async (acts, fate) => {
				const world = new World(() => fate.next().value!);
				const start = world.store.load(world.project).doc;
				for (let at = 0; at < WINDOWS; at++) world.open(at);
				for (const one of acts) {
					if (one.kind === 'do') {
						const { sync } = world.windows[one.at];
						const known = sync.pending;
						world.do(one.at, one.what, one.which);
						const step = sync.unsent.queue.at(-1);
						if (step && sync.pending > known && step.kind !== 'edit') world.retraced.add(step.editId);
					} else if (one.kind === 'pass') {
						if (!world.line.isEmpty) await world.line.pass(one.which);
					} else if (one.kind === 'told') {
						const { sync } = world.windows[one.at];
						sync.receive(world.store.changes(world.project, sync.revision));
						await settle();
					} else if (one.kind === 'reload') await world.reload(one.at);
					else world.store = new ProjectStore(db);
				}
				await world.drain();
				world.expectNothingLost(start);
			}),
			{ numRuns: RUNS },
		);
	}, 3_600_000);
});

describe('one window', () => {
	function windows() {
		const store = new ProjectStore(db);
		const id = store.add(smallProject());
		const told: string[] = [];
		const line = new Line(() => store);
		const open = () => {
			const loaded = store.load(id);
			return new Sync(
				{ ...loaded, doc: loaded.doc },
				line.server(
					id,
					() => false,
					() => 'ok',
				),
				{
					onshown: () => {},
					onchange: () => {},
					onovertaken: (kind: string, theirs: string[]) =>
						void told.push(`${kind} overtaken by ${theirs.join(', ')}`),
					onretraced: (kind: string, label: string) => void told.push(`${kind} ${label}`),
				} as never,
			);
		};
		const flush = async (sync: Sync) => {
			while (sync.pending > 0 || !line.isEmpty) await line.pass(0);
			await sync.flushed();
		};
		const changesAfter = (revision: number) => store.changes(id, revision);
		/** What a later visit does with what was left: over a line of its own. */
		const send = async (unsent: Parameters<typeof sendUnsent>[1]) => {
			const own = new Line(() => store);
			const sending = sendUnsent(
				own.server(
					id,
					() => false,
					() => 'ok',
				),
				unsent,
			);
			while ((await settle(), !own.isEmpty)) await own.pass(0);
			return sending;
		};
		return { first: open(), open, flush, told, changesAfter, send };
	}

	it('tells what an undo took back that only the server knew; an edit ends what could be done again', async () => {
		const { first, open, flush, told } = windows();
		first.edit('Paint the raft', updatePart(first.shown, 'raft', { colour: '#112233' }));
		first.edit('Paint the bell', updatePart(first.shown, 'bell', { colour: '#112233' }));
		await flush(first);
		// It was shown at once: told by what was shown, not again by the server's answer.
		expect([first.retrace('undo'), first.undo, first.redo]).toEqual([
			'Paint the bell',
			'Paint the raft',
			'Paint the bell',
		]);
		await flush(first);
		expect(told).toEqual([]);
		first.edit('Paint the rope', updatePart(first.shown, 'rope', { colour: '#445566' }));
		expect(first.redo).toBeNull();
		await flush(first);

		// A window that was opened later has nothing to show before the answer.
		const later = open();
		expect([later.undo, later.redo, later.retrace('undo')]).toEqual(['Paint the rope', null, null]);
		await flush(later);
		expect(told).toEqual(['undo Paint the rope']);
		expect([later.shown.parts.rope.colour === '#445566', later.redo]).toEqual([false, 'Paint the rope']);
	});

	it('cannot do again what was never taken back, since another window had changed the same thing', async () => {
		const { first, open, flush, told } = windows();
		first.edit('Paint the raft', updatePart(first.shown, 'raft', { colour: '#112233' }));
		await flush(first);
		const other = open();
		other.edit('Paint it anew', updatePart(other.shown, 'raft', { colour: '#778899' }));
		await flush(other);
		expect(first.retrace('undo')).toBe('Paint the raft');
		expect(first.redo).toBe('Paint the raft');
		await flush(first);
		expect([first.shown.parts.raft.colour, first.redo]).toEqual(['#778899', null]);
		expect(told).toEqual(['undo overtaken by Paint it anew']);
	});

	it('cannot take back an edit that was not taken, since another window had changed the same thing', async () => {
		const { first, open, flush } = windows();
		const other = open();
		other.edit('Paint it anew', updatePart(other.shown, 'raft', { colour: '#778899' }));
		await flush(other);
		// The second waits: what the first one's answer tells is what stands against it.
		first.edit('Paint the bell', updatePart(first.shown, 'bell', { colour: '#112233' }));
		first.edit('Paint the raft', updatePart(first.shown, 'raft', { colour: '#112233' }));
		await flush(first);
		expect(first.conflicts.map(({ label }) => label)).toEqual(['Paint the raft']);
		expect([first.undo, first.shown.parts.raft.colour]).toEqual(['Paint the bell', '#778899']);
		first.retrace('undo');
		await flush(first);
		expect([first.undo, first.shown.parts.bell.colour]).toEqual([
			'Paint it anew',
			smallProject().parts.bell.colour,
		]);
		first.retrace('undo');
		await flush(first);
		expect(first.shown.parts.raft.colour).toBe(smallProject().parts.raft.colour);
	});

	it('that was left with two edits of one thing has both sent by the next one, in their order', async () => {
		const { first, open, send } = windows();
		const { revision } = first;
		first.edit('Paint the raft', updatePart(first.shown, 'raft', { colour: '#112233' }));
		first.edit('Paint it anew', updatePart(first.shown, 'raft', { colour: '#778899' }));
		const { queue } = first.unsent;
		expect(await send({ revision, queue: [...queue], conflicts: [] })).toEqual([]);
		expect(open().shown.parts.raft.colour).toBe('#778899');
	});

	it('goes on from all that there is, where something that others did has not come', async () => {
		const { first, open, flush, changesAfter } = windows();
		const other = open();
		const { revision } = first;
		other.edit('Paint the raft', updatePart(other.shown, 'raft', { colour: '#778899' }));
		other.edit('Paint the bell', updatePart(other.shown, 'bell', { colour: '#778899' }));
		await flush(other);
		first.receive(changesAfter(revision + 1));
		await flush(first);
		expect(first.shown.parts.raft.colour).toBe('#778899');
		first.edit('Paint it anew', updatePart(first.shown, 'raft', { colour: '#112233' }));
		await flush(first);
		expect([first.conflicts, first.shown.parts.raft.colour]).toEqual([[], '#112233']);
	});
});
