/** What the lanes draw, call by call, as it was looked at when it was written down. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { updateClip } from '$core/edits/clips';
import { setModes, setShape, setValue, setVector } from '$core/edits/keys';
import type { Doc } from '$core/document/types';
import { Session } from '$lib/session/session.svelte';
import { recordedCanvas, RecordedPath } from '$lib/ui/testing';
import { makeQuay } from '../../../demo/quay';
import { drawLanes } from './draw';
import { LaneSheet } from './lane-sheet.svelte';
import { LaneView, TALL, THIN } from './lane-view.svelte';
import { HUES } from './units';

beforeEach(() => {
	vi.stubGlobal('fetch', () => new Promise(() => {}));
	vi.stubGlobal('Path2D', RecordedPath);
});
afterEach(() => vi.unstubAllGlobals());

const FRAME = 2400;
const at = (frame: number) => frame * FRAME;
const palette = {
	...Object.fromEntries(
		['paper', 'sheet', 'band', 'rule', 'ink', 'muted', 'lake', 'rust'].map((name) => [name, name]),
	),
	hues: HUES,
} as never;

/** Lanes of a clip, a pixel and a half a frame. */
function open(doc: Doc, clip: string) {
	const session = new Session({ doc, revision: 0, undo: null, redo: null });
	session.openClip(clip);
	const view = new LaneView();
	view.from = at(-2);
	view.ticksPerPixel = FRAME / 1.5;
	view.width = 110;
	const sheet = new LaneSheet(session, view);
	sheet.palette = palette;
	const drawn = () => {
		const { context, drawn } = recordedCanvas();
		drawLanes(context, sheet.picture!);
		return drawn();
	};
	return { session, view, sheet, drawn };
}

it('a lane of normal height, a thin one and a tall one with handles, axis, excess and speed', async () => {
	const id = 'sack-drop/mail-sack/translation/y';
	const scale = 'sack-drop/mail-sack/scale/y';
	const keys = new Map([[id, new Set([at(17)])]]);
	let doc = setShape(makeQuay(), keys, { kind: 'handles' });
	doc = setModes(doc, keys, 'smooth');
	doc = setValue(
		doc,
		{ clip: 'sack-drop', part: 'mail-sack', property: 'scale', component: 'y' },
		at(8.5),
		1.2,
	);
	const { session, view, drawn } = open(doc, 'sack-drop');
	session.selection.pickKeys(keys);
	session.view.toggleSpeeds([id]);
	view.closed = new Set(['crane-arm', 'rope', 'dust']);
	view.setHeight(id, TALL);
	view.setHeight('sack-drop/mail-sack/rotation/z', THIN);
	view.setHeight(scale, THIN);
	await expect(drawn()).toMatchFileSnapshot('drawn/heights.txt');
});

it('colours, orientations and switches, keys between frames, and later rounds in pale', async () => {
	const place = { clip: 'kelp-sway', part: 'kelp-1', component: 'value' } as const;
	let doc = updateClip(makeQuay(), 'kelp-sway', { length: at(40) });
	for (const [frame, v] of [
		[0, 1],
		[12, 0],
		[30.25, 1],
	])
		doc = setValue(doc, { ...place, property: 'visible' }, at(frame), v);
	doc = setVector(doc, { ...place, property: 'colour' }, 0, [1, 0.5, 0, 1]);
	doc = setVector(doc, { ...place, property: 'colour' }, at(40), [0, 0.5, 1, 0.25]);
	doc = setVector(doc, { ...place, property: 'orientation' }, 0, [0, 0, 0, 1]);
	doc = setVector(doc, { ...place, property: 'orientation' }, at(20), [0, 0, 1, 0]);
	const { session, view, drawn } = open(doc, 'kelp-sway');
	session.selection.takeInHand('kelp-sway/kelp-1/visible/value');
	view.setHeight('kelp-sway/kelp-1/colour/value', THIN);
	view.closed = new Set(['kelp-2', 'kelp-3', 'kelp-4', 'kelp-5']);
	await expect(drawn()).toMatchFileSnapshot('drawn/strips.txt');
});

it('a formula, lanes on one axis, and what was there when the clip was pinned', async () => {
	const { session, view, drawn } = open(makeQuay(), 'ferry-crossing');
	const channels = Object.keys(session.doc.channels).filter((id) => id.startsWith('ferry-crossing/'));
	view.together = channels.slice(0, 2);
	// Two rounds of it, each lane with its numbers.
	view.ticksPerPixel = 2 * FRAME;
	view.tellsRanges = true;
	session.togglePin();
	const { part, property, component } = session.doc.channels[channels[0]];
	session.edit('Set a key', (doc) =>
		setValue(doc, { clip: 'ferry-crossing', part, property, component }, at(20), 3),
	);
	await expect(drawn()).toMatchFileSnapshot('drawn/formula.txt');
});
