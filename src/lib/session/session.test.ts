/** The open project as people change it, on the real routes and a database of its own: only the network is not there. */
import fc from 'fast-check';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { compileClip, poseAt } from '$core/clip/compile';
import { setValue } from '$core/edits/keys';
import { updateClip } from '$core/edits/clips';
import { removePart, updatePart } from '$core/edits/parts';
import { VERSION } from '$core/document/migrate';
import { channelsOfClip, type Doc } from '$core/document/types';
import { validateDocument } from '$core/document/validate';
import { LaneView } from '$lib/lanes/lane-view.svelte';
import { closeStore, getStore } from '$lib/server/store';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import * as projectRoute from '../../routes/api/projects/[project]/+server';
import * as redoRoute from '../../routes/api/projects/[project]/redo/+server';
import * as undoRoute from '../../routes/api/projects/[project]/undo/+server';
import { makeCommands } from '$lib/compose/commands';
import { Session } from './session.svelte';

type Handler = (event: never) => Response | Promise<Response>;

let folder: string;
let isAway = false;

vi.hoisted(() => vi.stubGlobal('location', new URL('http://127.0.0.1')));

async function answer(request: Request): Promise<Response> {
	if (isAway) throw new TypeError('fetch failed');
	const [, id, action] = /^\/api\/projects\/([^/]+)\/?(\w*)$/.exec(new URL(request.url).pathname)!;
	const routes: Record<string, unknown> = {
		'PATCH ': projectRoute.PATCH,
		'GET ': projectRoute.GET,
		'POST undo': undoRoute.POST,
		'POST redo': redoRoute.POST,
	};
	const handler = routes[`${request.method} ${action}`] as Handler;
	return handler({ params: { project: id }, request } as never);
}

beforeEach(() => {
	folder = mkdtempSync(join(tmpdir(), 'hillock-session-'));
	process.env.HILLOCK_DATA = folder;
	isAway = false;
	vi.stubGlobal('fetch', answer);
	vi.stubGlobal('navigator', {});
});
afterEach(async () => {
	vi.unstubAllGlobals();
	await closeStore();
	rmSync(folder, { recursive: true, force: true });
});

function open(id = getStore().add(makeQuay())): Session {
	const session = new Session(getStore().load(id));
	session.openClip(session.project.clips[0].id);
	return session;
}
/** JSON has no −0. */
const asJson = (doc: Doc): Doc => JSON.parse(JSON.stringify(doc)) as Doc;
const stored = (session: Session): Doc => getStore().load(session.project.id).doc;

const Y = { clip: 'sack-drop', part: 'mail-sack', property: 'translation', component: 'y' } as const;
const Y_ID = 'sack-drop/mail-sack/translation/y';

describe('edits', () => {
	it('are shown at once, and saved when the server says so', async () => {
		const session = open();
		session.edit('Lift the sack', (doc) => setValue(doc, Y, 7200, 9));
		expect(session.doc.channels[Y_ID].keys).toContainEqual(expect.objectContaining({ t: 7200, v: 9 }));
		expect(session.saver.state).toBe('saving');
		expect(session.saver.undo).toBe('Lift the sack');
		await session.saver.flushed();
		expect(session.saver.state).toBe('saved');
		expect(stored(session)).toEqual(session.doc);
	});

	it('that change nothing are none', () => {
		const session = open();
		session.edit('Nothing', (doc) => ({ ...doc }));
		expect([session.saver.pending, session.saver.undo]).toEqual([0, null]);
	});

	it('while the server is away wait, and are sent in their order when it is back', async () => {
		vi.useFakeTimers();
		try {
			const session = open();
			isAway = true;
			for (const v of [4, 5, 6]) session.edit(`To ${v}`, (doc) => setValue(doc, Y, 7200, v));
			await vi.advanceTimersByTimeAsync(100);
			expect(session.saver.state).toBe('away');
			expect(session.saver.pending).toBe(3);
			expect(stored(session)).not.toEqual(session.doc);
			isAway = false;
			await vi.advanceTimersByTimeAsync(5000);
			await session.saver.flushed();
			expect(session.saver.state).toBe('saved');
			expect(stored(session)).toEqual(session.doc);
			await session.project.undo();
			expect(session.doc.channels[Y_ID].keys).toContainEqual(expect.objectContaining({ t: 7200, v: 5 }));
		} finally {
			vi.useRealTimers();
		}
	});

	it('of two windows on other things are merged, on the same thing the later one is told', async () => {
		const one = open();
		const two = open(one.project.id);
		one.edit('Lift the sack', (doc) => setValue(doc, Y, 7200, 9));
		await one.saver.flushed();
		two.edit('Paint the buoy', (doc) => updatePart(doc, 'buoy', { colour: '#123456' }));
		await two.saver.flushed();
		await vi.waitFor(() => expect(two.doc).toEqual(stored(two)));
		expect(two.doc.parts.buoy.colour).toBe('#123456');
		// The first window does not know of the buoy yet, and paints it too.
		one.edit('Paint it otherwise', (doc) => updatePart(doc, 'buoy', { colour: '#654321' }));
		await vi.waitFor(() => expect(one.doc.parts.buoy.colour).toBe('#123456'));
		expect(stored(one).parts.buoy.colour).toBe('#123456');
	});
});

describe('undo', () => {
	it('pressed many times at once takes back as many edits, of this visit and of those before', async () => {
		const session = open();
		const start = session.doc;
		for (let i = 1; i <= 6; i++) session.edit(`Lift to ${i}`, (doc) => setValue(doc, Y, 7200, i));
		for (let i = 0; i < 6; i++) void session.project.undo();
		expect(session.doc).toEqual(start);
		for (let i = 0; i < 6; i++) void session.project.redo();
		await session.saver.flushed();
		expect(stored(session)).toEqual(asJson(session.doc));
		expect(session.doc.channels[Y_ID].keys).toContainEqual(expect.objectContaining({ t: 7200, v: 6 }));
		const later = open(session.project.id);
		for (let i = 0; i < 9; i++) void later.project.undo();
		await later.saver.flushed();
		expect(stored(later)).toEqual(start);
		expect(later.doc).toEqual(start);
		expect([later.saver.undo, later.saver.redo, later.saver.conflicts]).toEqual([null, 'Lift to 1', []]);
	});

	it('that another window has overtaken takes nothing back, and the next one says whose edit it is', async () => {
		const one = open();
		const two = open(one.project.id);
		one.edit('Lift the sack', (doc) => setValue(doc, Y, 7200, 9));
		await one.saver.flushed();
		two.edit('Paint the buoy', (doc) => updatePart(doc, 'buoy', { colour: '#123456' }));
		await two.saver.flushed();
		await one.project.undo();
		expect(one.doc).toEqual(stored(one));
		expect(one.doc.channels[Y_ID].keys).toContainEqual(expect.objectContaining({ t: 7200, v: 9 }));
		expect(one.saver.undo).toBe('Paint the buoy');
	});
});

describe('edits that wait behind one whose answer tells of another window', () => {
	it('are put on top of it, or are told with both sides where they touch the same', async () => {
		const one = open();
		const two = open(one.project.id);
		const clip = one.clip!;
		one.edit('Note', (doc) => updateClip(doc, clip.id, { note: 'heavy' }));
		await one.saver.flushed();
		two.edit('Lift the sack', (doc) => setValue(doc, Y, 7200, 9));
		two.edit('Loop', (doc) => updateClip(doc, clip.id, { loop: { mode: 'repeat', count: null, pause: 0 } }));
		two.edit('Paint the buoy', (doc) => updatePart(doc, 'buoy', { colour: '#123456' }));
		await two.saver.flushed();
		expect(two.doc).toEqual(stored(two));
		expect(two.doc.clips[clip.id]).toMatchObject({ note: 'heavy', loop: { mode: 'once' } });
		expect(two.doc.parts.buoy.colour).toBe('#123456');
		expect(two.saver.conflicts).toMatchObject([{ label: 'Loop', theirs: ['Note'] }]);
		// Its own side is what it changed, on top of what is there now.
		expect(two.saver.sync.settle(two.saver.conflicts[0].editId, 'mine')).toBe(true);
		await two.saver.flushed();
		expect(stored(two).clips[clip.id]).toMatchObject({ note: 'heavy', loop: { mode: 'repeat' } });
		expect(two.saver.conflicts).toEqual([]);
	});
});

describe('a drag', () => {
	it('is computed from where it began, and is one step of undo', async () => {
		const session = open();
		const start = session.doc;
		const drag = session.startDrag('Drag the sack');
		for (const v of [4, 5, 6]) drag.update((doc) => setValue(doc, Y, 7200, v));
		expect(session.saver.pending).toBe(0);
		drag.commit();
		await session.saver.flushed();
		expect(session.saver.undo).toBe('Drag the sack');
		await session.project.undo();
		expect(session.doc).toEqual(start);
		expect(session.saver.undo).toBe(null);
	});

	it('that is broken off leaves nothing behind, and one that is over does nothing more', () => {
		const session = open();
		const start = session.doc;
		const first = session.startDrag('First');
		first.update((doc) => setValue(doc, Y, 7200, 4));
		first.cancel();
		expect(session.doc).toBe(start);
		const second = session.startDrag('Second');
		// Another edit ends a drag that goes on.
		second.update((doc) => setValue(doc, Y, 7200, 5));
		session.edit('Third', (doc) => setValue(doc, Y, 9600, 6));
		second.update((doc) => setValue(doc, Y, 7200, 7));
		second.commit();
		const { keys } = session.doc.channels[Y_ID];
		expect(keys.filter(({ t }) => t === 7200 || t === 9600).map(({ v }) => v)).toEqual([6]);
	});
});

describe('a drag, while another window deletes the part in hand', () => {
	it('leaves nothing of it picked, however it ends', async () => {
		const id = getStore().add(makeQuay());
		const [one, two] = [open(id), open(id)];
		one.selection.pickPart('ferry');
		two.edit('Delete the ferry', (doc) => removePart(doc, 'ferry'));
		await two.saver.flushed();
		one.edit('Note', (doc) => updateClip(doc, one.clipId!, { note: 'n' }));
		const drag = one.startDrag('Try');
		drag.update((doc) => updateClip(doc, one.clipId!, { note: 'tried' }));
		await one.saver.flushed();
		expect(one.doc.parts.ferry).toBeUndefined();
		drag.cancel();
		expect(one.selection.partId).toBe(null);
	});
});

describe('a pinned clip', () => {
	it('is swapped with what it has become, and back', () => {
		const session = open();
		const before = session.doc;
		session.togglePin();
		session.edit('Lift the sack', (doc) => setValue(doc, Y, 7200, 9));
		const after = session.doc;
		session.swapPinned();
		expect(session.doc.channels).toEqual(before.channels);
		session.swapPinned();
		expect(session.doc.channels).toEqual(after.channels);
		session.togglePin();
		expect(session.pinnedClip).toBe(null);
	});
});

describe('whatever commands are run', () => {
	/** What needs a window, and what is awaited by itself. */
	const WINDOW = new Set([
		'bench',
		'go-to-frame',
		'project-file',
		'play',
		'play-across',
		'play-start',
		'night',
		'undo',
		'redo',
	]);
	const step = fc.record({
		command: fc.nat(),
		channel: fc.nat(),
		clip: fc.nat(7),
		keys: fc.array(fc.nat(9), { maxLength: 4 }),
		whole: fc.boolean(),
		retraces: fc.constantFrom(null, null, null, null, 'undo' as const, 'redo' as const),
		frame: fc.nat(160),
	});
	type Step = typeof step extends fc.Arbitrary<infer S> ? S : never;

	function take(session: Session, commands: ReturnType<typeof makeCommands>, wanted: Step): void {
		const clips = session.project.clips;
		if (wanted.clip < 2 && clips.length > 0) session.openClip(clips[wanted.channel % clips.length].id);
		session.transport.seek(wanted.frame * 2400);
		const channels = session.clip ? channelsOfClip(session.doc, session.clip.id) : [];
		if (channels.length > 0) {
			const channel = channels[wanted.channel % channels.length];
			session.selection.pickChannel(channel.id);
			if (wanted.whole) session.selection.pickPart(channel.part);
			else {
				const times = wanted.keys.flatMap((i) => channel.keys[i]?.t ?? []);
				if (times.length > 0) session.selection.pickKeys(new Map([[channel.id, new Set(times)]]));
			}
		}
		const command = commands[wanted.command % commands.length];
		if (command.can()) command.run();
	}
	function expectSound(doc: Doc): void {
		const checked = validateDocument({ format: 'hillock-project', version: VERSION, ...doc });
		expect(checked.ok ? [] : checked.problems).toEqual([]);
		for (const clip of Object.values(doc.clips)) {
			expect(poseAt(compileClip(doc, clip), clip.length / 3).every(Number.isFinite)).toBe(true);
		}
	}

	/** Many more have been run by hand. */
	const RUNS = 40;
	it.each([
		['world', makeQuay],
		['interface', makeParcelSlip],
	])(
		'a project of the %s stays sound, the server has it, and undo leads back to the start',
		async (_, make) => {
			await fc.assert(
				fc.asyncProperty(fc.array(step, { minLength: 1, maxLength: 25 }), async (steps) => {
					const session = open(getStore().add(make()));
					const start = session.doc;
					const commands = makeCommands({
						session,
						view: new LaneView(),
						openClip: (id) => id !== null && session.openClip(id),
						goTo: () => {},
					}).filter(({ id }) => !WINDOW.has(id));
					for (const wanted of steps) {
						if (wanted.retraces) await session.project[wanted.retraces]();
						take(session, commands, wanted);
						await session.saver.flushed();
					}
					expectSound(session.doc);
					expect(stored(session)).toEqual(asJson(session.doc));
					while (session.saver.undo !== null) await session.project.undo();
					expect(asJson(session.doc)).toEqual(start);
					expect(stored(session)).toEqual(start);
				}),
				{ numRuns: RUNS },
			);
		},
	);
});
