/** Recording without a screen: a clock by hand, a server that answers or not. */
import { toast } from 'svelte-sonner';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { Cleaning } from '$core/document/takes';
import { Session } from '$lib/session/session.svelte';
import { makeQuay } from '../../../demo/quay';
import { Recorder } from './recorder.svelte';
import { nearestShare, valueOver } from './recorded-path';

vi.hoisted(() => vi.stubGlobal('location', new URL('http://127.0.0.1')));
vi.mock('svelte-sonner', () => ({
	toast: Object.assign(vi.fn(), { dismiss: vi.fn(), error: vi.fn() }),
}));
// There is no worker here: what it does is done at once.
vi.mock('$lib/workers/takes', async () => {
	const { TakeCleaner } = await import('$core/takes/clean');
	return {
		WorkedSamples: class {
			constructor(readonly samples: never) {}
			cleanTogether = () => this;
			cleanAll = (cleaning: Cleaning) => Promise.resolve(new TakeCleaner(this.samples).clean(cleaning));
		},
	};
});
const errors = () => vi.mocked(toast.error).mock.calls.map(([text]) => String(text));

const X = 'sack-drop/crane-arm/translation/x';
let session: Session;
let recorder: Recorder;
let now: number;
let frames: FrameRequestCallback[];
let isAway: boolean;

/** Goes on by milliseconds, with a frame at the end. */
function goOn(ms: number): void {
	now += ms;
	for (const frame of frames.splice(0)) frame(now);
}

beforeEach(() => {
	[now, frames, isAway] = [1000, [], false];
	vi.mocked(toast).mockClear();
	vi.mocked(toast.error).mockClear();
	vi.stubGlobal('performance', { now: () => now });
	vi.stubGlobal('requestAnimationFrame', (frame: FrameRequestCallback) => frames.push(frame));
	vi.stubGlobal('cancelAnimationFrame', () => {});
	vi.stubGlobal('fetch', (request: Request) => {
		if (isAway) return Promise.reject(new TypeError('away'));
		if (!new URL(request.url).pathname.endsWith('/assets')) return new Promise(() => {});
		const asset = { id: 'a'.repeat(64), mediaType: 'application/x-hillock-take' };
		return Promise.resolve(
			new Response(JSON.stringify(asset), { status: 201, headers: { 'content-type': 'application/json' } }),
		);
	});
	session = new Session({ doc: makeQuay(), revision: 0, undo: null, redo: null });
	session.openClip('sack-drop');
	session.selection.pickPart('crane-arm');
	recorder = new Recorder(session);
	recorder.countIn = 0;
	recorder.device = 'stick';
});
afterEach(() => vi.unstubAllGlobals());

/** Half a second in which the device goes evenly to full way. */
function act(): void {
	for (let i = 0; i <= 50; i++) {
		recorder.feed(now, { across: i / 50, up: -i / 50 });
		goOn(10);
	}
}

it('what is told while it records becomes a take and keys, at once shown, one step of undo', async () => {
	const before = session.doc;
	recorder.begin();
	expect(recorder.phase).toBe('recording');
	act();
	// Shown while it goes on, and not yet done.
	expect(session.doc.channels[X].keys.length).toBeGreaterThan(5);
	expect(session.project.committed).toBe(before);
	await recorder.stop();
	expect(recorder.phase).toBe('rest');
	const [take] = Object.values(session.doc.takes);
	expect([take.from, take.columns.length, take.asset]).toEqual([0, 2, 'a'.repeat(64)]);
	expect(take.to).toBe(0.51 * 72_000);
	const { keys } = session.doc.channels[X];
	expect(keys.at(-1)!.v - keys[0].v).toBeCloseTo(2, 1);
	expect(keys.length).toBeLessThan(6);
	expect(session.transport.playing).toBe(false);
	void session.project.undo();
	expect(session.doc.channels[X]).toBeUndefined();
	expect(session.doc.takes).toEqual({});
});

it('a device of one way leaves what the other way would drive as it is', async () => {
	recorder.device = 'slider';
	expect(recorder.driven).toMatchObject({ across: { component: 'x' }, up: null });
	recorder.begin();
	act();
	await recorder.stop();
	const [take] = Object.values(session.doc.takes);
	expect(take.columns.map(({ component }) => component)).toEqual(['x']);
	expect(session.doc.channels['sack-drop/crane-arm/translation/y']).toBeUndefined();
	recorder.device = 'stick';
	expect(recorder.driven.up).toMatchObject({ component: 'y' });
});

it('only while held: what lies between stays', async () => {
	recorder.onlyHeld = true;
	recorder.begin();
	goOn(300);
	act();
	recorder.feed(now, null);
	goOn(300);
	await recorder.stop();
	const { keys } = session.doc.channels[X];
	expect(keys[0].t).toBeGreaterThanOrEqual(0.3 * 72_000);
	expect(keys.at(-1)!.t).toBeLessThanOrEqual(0.82 * 72_000);
});

it('plays up to the range first, and what is done on the way there is not recorded', async () => {
	session.transport.setRange(72_000, 2 * 72_000);
	recorder.leadIn = 0.5;
	recorder.begin();
	expect([recorder.round, session.transport.local]).toEqual([0, 36_000]);
	recorder.feed(now, { across: 7, up: 7 });
	goOn(200);
	recorder.feed(now, { across: 0, up: 0 });
	goOn(300);
	act();
	expect(recorder.round).toBe(1);
	await recorder.stop();
	const [take] = Object.values(session.doc.takes);
	expect(take.from).toBe(72_000);
	expect(Math.abs(take.to - 1.5 * 72_000)).toBeLessThan(2000);
	const { keys } = session.doc.channels[X];
	expect(keys.at(-1)!.v - keys[0].v).toBeCloseTo(2, 1);
	// Let go before it has begun, there is nothing to keep.
	const before = session.doc;
	recorder.begin();
	goOn(100);
	await recorder.stop();
	expect([session.doc, recorder.phase]).toEqual([before, 'rest']);
});

it('along its path a part goes where it went, at another pace', async () => {
	session.selection.pickPart('mail-sack');
	const { clip } = session;
	const numbers = recorder.path;
	expect(numbers.map(({ component }) => component)).toEqual(['x', 'y']);
	const were = numbers.map((column) => valueOver(session.doc, clip!, column));
	recorder.keepsPath = true;
	recorder.begin();
	act();
	await recorder.stop();
	const [take] = Object.values(session.doc.takes);
	expect(take.columns).toEqual(numbers);
	numbers.forEach((column, c) => {
		const { keys } = session.doc.channels[`sack-drop/mail-sack/translation/${column.component}`];
		expect(keys[0].v).toBeCloseTo(were[c](0), 2);
		const end = keys.find(({ t }) => t === take.to)!;
		expect(end.v).toBeCloseTo(were[c](clip!.length), 1);
	});
	session.selection.pickPart('crane-arm');
	expect(recorder.why).toBe('The part has no path to go along yet.');
});

it('on a path that crosses itself it goes on the way it went', () => {
	const path = Array.from({ length: 201 }, (_, i) => {
		const a = (2 * Math.PI * i) / 200;
		return { x: 100 * Math.sin(a), y: 100 * Math.sin(2 * a) };
	});
	let share: number | null = 0;
	for (let i = 0; i <= 200; i += 4) {
		const at = { x: path[i].x + 6 * Math.sin(i), y: path[i].y + 6 * Math.cos(i) };
		share = nearestShare(path, at, share);
		expect(Math.abs(share - i / 200)).toBeLessThan(0.04);
	}
});

it('thrown away nothing is left, and silence is no take', async () => {
	const before = session.doc;
	recorder.begin();
	act();
	recorder.cancel();
	expect([session.doc, recorder.phase]).toEqual([before, 'rest']);
	recorder.onlyHeld = true;
	recorder.begin();
	goOn(200);
	await recorder.stop();
	expect(session.doc).toBe(before);
});

it('without the server the keys stay, and that the samples are lost is told', async () => {
	isAway = true;
	recorder.begin();
	act();
	await recorder.stop();
	expect(session.doc.channels[X].keys.length).toBeGreaterThan(1);
	expect(session.doc.takes).toEqual({});
	expect(errors()).toEqual(['The recording could not be kept: the server does not answer']);
	// When it is back, they are sent.
	const [, options] = vi.mocked(toast.error).mock.calls[0];
	const sendAgain = (options!.action as unknown as { onClick: () => void }).onClick;
	sendAgain();
	await vi.waitFor(() => expect(errors()).toHaveLength(2));
	isAway = false;
	sendAgain();
	await vi.waitFor(() => expect(Object.values(session.doc.takes)).toHaveLength(1));
	expect(Object.values(session.doc.takes)[0].asset).toBe('a'.repeat(64));
});

it('says why nothing can be recorded', () => {
	session.selection.pickPart(null);
	recorder.begin();
	expect([recorder.phase, errors()]).toEqual([
		'rest',
		['Select a part to record, or choose what is driven.'],
	]);
	session.selection.pickPart('crane-arm');
	recorder.drives = { across: recorder.driven.across, up: recorder.driven.across };
	expect(recorder.why).toBe('Both ways of the device drive the same number.');
});
