/** Drags in the lanes without a screen: what the pointer does becomes edits, each one step of undo. */
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { setShape } from '$core/edits/keys';
import { Session } from '$lib/session/session.svelte';
import { makeQuay } from '../../../demo/quay';
import { handlePoints } from './draw-keys';
import { channelsOfClip } from '$core/document/types';
import { bendSpan, dragHandle, dragKeys, pickWithin, type Gesture, type Pointer } from './gestures';
import { dragLife } from './drag-life';
import { hitTest, type Hit } from './hit';
import { LaneSheet } from './lane-sheet.svelte';
import { LaneView } from './lane-view.svelte';
import type { LaneRow } from './rows';
import { pickLane } from './pick-lane';
import { readSnap } from './snap-settings';
import { makeSnapper } from './snap';
import { valuePerPixel } from './scale';

const FRAME = 2400;
const SACK = 'sack-drop/mail-sack/translation/y';
const TURN = 'sack-drop/mail-sack/rotation/z';

beforeEach(() => vi.stubGlobal('fetch', () => new Promise(() => {})));
afterEach(() => vi.unstubAllGlobals());

/** The sack's clip at six pixels a frame. */
function open() {
	const session = new Session({ doc: makeQuay(), revision: 0, undo: null, redo: null });
	session.openClip('sack-drop');
	const view = new LaneView();
	view.from = 0;
	view.ticksPerPixel = FRAME / 6;
	view.width = 520;
	const sheet = new LaneSheet(session, view);
	sheet.palette = {} as never;
	sheet.height = 900;
	const row = (id: string) =>
		sheet.layout.rows.find((found): found is LaneRow => found.kind === 'lane' && found.id === id)!;
	return { session, view, sheet, row, picture: () => sheet.picture! };
}
type Open = ReturnType<typeof open>;

const at = (x: number, y: number, keys: Partial<Pointer> = {}): Pointer => ({
	x,
	y,
	shift: false,
	ctrl: false,
	...keys,
});
const keysOf = ({ session }: Open, id = SACK) => session.doc.channels[id].keys;

function dragging(opened: Open, index: number, id = SACK): Gesture {
	const { session, view, picture, row } = opened;
	const { t } = session.doc.channels[id].keys[index];
	session.selection.pickKeys(new Map([[id, new Set([t])]]));
	const snapper = makeSnapper(session, view, { keys: session.selection.keys });
	return dragKeys(session, picture(), row(id), t, at(100, 100), snapper, () => {});
}

describe('a key that is dragged', () => {
	it('goes by whole frames in time and by what a pixel means in value, as one edit', () => {
		const opened = open();
		const { session, picture, row } = opened;
		const before = keysOf(opened)[4];
		const perPixel = valuePerPixel(picture().range(row(SACK)), row(SACK).height);
		const drag = dragging(opened, 4);
		drag.move(at(100 + 6.4, 90));
		drag.move(at(100 + 12.8, 80));
		expect(session.saver.pending).toBe(0);
		drag.end();
		const after = keysOf(opened)[4];
		expect(after.t).toBe(before.t + 2 * FRAME);
		expect(Math.abs(after.v - before.v - 20 * perPixel)).toBeLessThan(perPixel);
		expect([session.saver.pending, session.saver.undo]).toEqual([1, 'Move keys']);
		expect([...session.selection.keys.get(SACK)!]).toEqual([after.t]);
	});

	it('holds its other axis with Shift, whichever it set off along', () => {
		const opened = open();
		const before = keysOf(opened)[4];
		const along = dragging(opened, 4);
		along.move(at(118, 96, { shift: true }));
		along.move(at(118, 40, { shift: true }));
		expect(keysOf(opened)[4]).toMatchObject({ t: before.t + 3 * FRAME, v: before.v });
		along.cancel();
		const up = dragging(opened, 4);
		up.move(at(101, 80, { shift: true }));
		up.move(at(160, 80, { shift: true }));
		expect(keysOf(opened)[4].t).toBe(before.t);
		expect(keysOf(opened)[4].v).not.toBe(before.v);
	});

	it('takes the cue along where all keys of the part go, unless that was switched off', () => {
		const { session, picture, row } = open();
		const cue = () =>
			Object.values(session.doc.cues).find(({ clip, name }) => clip === 'sack-drop' && name === 'thump')!;
		const { t } = cue();
		const own = channelsOfClip(session.doc, 'sack-drop').filter(
			({ part, keys }) => part === 'mail-sack' && keys.some((key) => key.t === t),
		);
		for (const [too, moves] of [
			[true, 2],
			[false, 0],
		] as const) {
			session.view.cuesToo = too;
			session.selection.pickKeys(new Map(own.map(({ id }) => [id, new Set([t])])));
			const snapper = (ticks: number) => Math.round(ticks / FRAME) * FRAME;
			const drag = dragKeys(session, picture(), row(SACK), t, at(100, 100), snapper, () => {});
			drag.move(at(100 + 12.8, 100));
			expect(cue().t).toBe(t + moves * FRAME);
			drag.cancel();
			expect(cue().t).toBe(t);
		}
	});

	it('does not move for a click that trembles', () => {
		const opened = open();
		const { doc } = opened.session;
		const drag = dragging(opened, 4);
		drag.move(at(102, 103));
		drag.end();
		expect(opened.session.doc).toBe(doc);
	});

	it('stays in the clip and in order whatever the pointer does, and is back where it was after Escape', () => {
		const moves = fc.array(
			fc.tuple(
				fc.integer({ min: -900, max: 900 }),
				fc.integer({ min: -400, max: 400 }),
				fc.boolean(),
				fc.boolean(),
			),
			{ minLength: 1, maxLength: 6 },
		);
		const opened = open();
		const { session } = opened;
		const start = session.doc;
		fc.assert(
			fc.property(fc.nat(keysOf(opened).length - 1), moves, (index, pointers) => {
				const drag = dragging(opened, index);
				for (const [dx, dy, shift, ctrl] of pointers) {
					drag.move(at(100 + dx, 100 + dy, { shift, ctrl }));
					const keys = keysOf(opened);
					expect(keys.every(({ t }, i) => t >= (i > 0 ? keys[i - 1].t + 1 : 0) && t <= 72 * FRAME)).toBe(
						true,
					);
				}
				drag.cancel();
				expect(session.doc).toBe(start);
				expect([...session.selection.keys.keys()]).toEqual([SACK]);
			}),
		);
	});
});

describe('a span that is bent', () => {
	it('starts and finishes by other amounts, up to the whole, as far as it is pulled', () => {
		const opened = open();
		const { session, row } = opened;
		const { t } = keysOf(opened, TURN)[0];
		session.edit('Plain', (doc) => setShape(doc, new Map([[TURN, new Set([t])]]), { kind: 'linear' }));
		const bend = bendSpan(session, row(TURN), t, at(100, 100));
		bend.move(at(100, 73));
		const shape = keysOf(opened, TURN)[0].shape;
		if (shape.kind !== 'eased') throw new Error(shape.kind);
		expect(shape.finish - shape.start).toBeCloseTo(0.6, 2);
		bend.move(at(100, -2000));
		expect(keysOf(opened, TURN)[0].shape).toEqual({ kind: 'eased', start: 0, finish: 1 });
		bend.end();
		expect(session.saver.undo).toBe('Bend span');
	});
});

describe('a handle that is dragged', () => {
	it('follows the pointer, snaps to the horizontal, and keeps its reach with Shift', () => {
		const opened = open();
		const { session, view, picture, row } = opened;
		const arm = 'crane-swing/rope/rotation/z';
		session.openClip('crane-swing');
		view.setHeight(arm, 200);
		const { t, v } = keysOf(opened, arm)[3];
		session.selection.pickKeys(new Map([[arm, new Set([t])]]));
		const lane = row(arm);
		const point = handlePoints(lane, 3, picture().context(lane)).find(({ side }) => side === 'right')!;
		const perPixel = valuePerPixel(picture().range(lane), lane.height);
		const pull = () => dragHandle(session, picture(), row(arm), t, 'right', at(0, 0), point);
		const side = () => keysOf(opened, arm)[3].right!;

		const away = pull();
		away.move(at(0, -60));
		expect(Math.abs(side().rise! - (point.v - v + 60 * perPixel))).toBeLessThan(perPixel);
		away.cancel();
		const flat = pull();
		flat.move(at(0, (point.v - v) / perPixel + 2));
		expect(side()).toMatchObject({ mode: 'joined', rise: 0 });
		flat.move(at(0, (point.v - v) / perPixel + 2, { ctrl: true }));
		expect(side().rise).not.toBe(0);
		const { reach } = side();
		flat.move(at(500, 0, { shift: true }));
		expect(side().reach).toBeCloseTo(reach!, 2);
		flat.move(at(5000, 0));
		expect(side().reach).toBe(1);
		flat.end();
	});
});

describe('a rectangle', () => {
	it('picks what it touches; with Shift beside what is picked; a click picks nothing', () => {
		const opened = open();
		const { session, sheet, picture, row } = opened;
		const lanes = sheet.layout.rows.filter((found): found is LaneRow => found.kind === 'lane');
		const lane = row(SACK);
		const draw = (shift: boolean, to: number) => {
			const pick = pickWithin(session, picture(), lanes, 0, at(-4, lane.top + 1, { shift }), () => {});
			pick.move(at(to, lane.top + lane.height - 1, { shift }));
			pick.end();
		};
		draw(false, 6 * 18);
		const first = keysOf(opened)
			.map(({ t }) => t)
			.filter((t) => t <= 18 * FRAME);
		expect([...session.selection.keys.get(SACK)!]).toEqual(first);
		expect(session.selection.channelId).toBe(SACK);
		session.selection.pickKeys(new Map([[TURN, new Set([keysOf(opened, TURN)[1].t])]]));
		draw(true, 6 * 18);
		expect([...session.selection.keys.keys()].sort()).toEqual([TURN, SACK].sort());
		pickWithin(session, picture(), lanes, 0, at(300, 5), () => {}).end();
		expect(session.selection.keys.size).toBe(0);
	});
});

it('a rectangle reaches as far down as the lanes are scrolled', () => {
	const { session, sheet, picture, row } = open();
	const lanes = sheet.layout.rows.filter((found): found is LaneRow => found.kind === 'lane');
	const lane = row(SACK);
	const scrolled = lane.top - 20;
	const area: { top: number; bottom: number }[] = [];
	const pick = pickWithin(session, picture(), lanes, scrolled, at(-4, 21), (own) => own && area.push(own));
	pick.move(at(6 * 18, 20 + lane.height - 1));
	pick.end();
	expect(area[0]).toMatchObject({ top: lane.top + 1, bottom: lane.top + lane.height - 1 });
	expect([...session.selection.keys.keys()]).toEqual([SACK]);
});

it('keys of unlike things that are dragged together move in time, those like the grabbed one in value too', () => {
	const opened = open();
	const { session, view, picture, row } = opened;
	const sack = keysOf(opened)[2];
	const turn = keysOf(opened, TURN)[1];
	session.selection.pickKeys(
		new Map([
			[SACK, new Set([sack.t])],
			[TURN, new Set([turn.t])],
		]),
	);
	const snapper = makeSnapper(session, view, { keys: session.selection.keys });
	const drag = dragKeys(session, picture(), row(SACK), sack.t, at(100, 100), snapper, () => {});
	drag.move(at(106, 80));
	drag.end();
	const find = (id: string, t: number) => keysOf(opened, id).find((key) => key.t === t)!;
	expect(find(SACK, sack.t + FRAME).v).toBeGreaterThan(sack.v);
	expect(find(TURN, turn.t + FRAME).v).toBe(turn.v);
});

describe("a lane's name", () => {
	const lanes = (opened: Open) =>
		opened.sheet.layout.rows.filter((found) => found.kind === 'lane').map(({ id }) => id);
	const click = (opened: Open, id: string, held = {}) =>
		pickLane(opened.session, opened.sheet.layout.rows, id, {
			shiftKey: false,
			ctrlKey: false,
			metaKey: false,
			...held,
		});
	it('picks its lane, with Shift those between, with Ctrl one more or less', () => {
		const opened = open();
		const { selection } = opened.session;
		const all = lanes(opened);
		const picked = () => all.filter((id) => selection.isChannelPicked(id));
		click(opened, all[2], { shiftKey: true });
		expect(picked(), 'from nothing on it is a click').toEqual([all[2]]);
		click(opened, all[0], { shiftKey: true });
		expect(picked()).toEqual(all.slice(0, 3));
		click(opened, all[1], { ctrlKey: true });
		expect(picked()).toEqual([all[0], all[2]]);
		click(opened, all[1]);
		expect(picked()).toEqual([all[1]]);
	});
});

it('what drags snap to is as it was kept; of what is no choice, as usual', () => {
	const keep = (text: string | null) => vi.stubGlobal('localStorage', { getItem: () => text });
	keep(null);
	expect(readSnap()).toEqual({ keys: true, cues: true, playhead: true });
	keep('{"keys": false, "cues": 3}');
	expect(readSnap()).toEqual({ keys: false, cues: true, playhead: true });
});

describe('the sheet of lanes', () => {
	it('keeps its ranges while a drag goes on, and shows the pinned version and others laid over', () => {
		const opened = open();
		const { session, sheet, view, picture, row } = opened;
		const before = picture().range(row(SACK));
		sheet.freeze();
		const drag = dragging(opened, 4);
		drag.move(at(100, 140));
		expect(picture().range(row(SACK)).high).toBe(before.high);
		drag.cancel();
		sheet.thaw();
		session.togglePin();
		expect(picture().pinned(SACK)).toBeUndefined();
		const lift = dragging(opened, 4);
		lift.move(at(100, -300));
		lift.end();
		expect(picture().pinned(SACK)).toBeDefined();
		expect(picture().range(row(SACK)).high).toBeGreaterThan(before.high);
		view.together = [SACK, TURN];
		expect(picture().others(SACK)).toMatchObject([{ name: 'mail sack rotation z' }]);
		expect(picture().range(row(SACK))).toEqual(picture().range(row(TURN)));
	});
});

describe('an end of a part’s life', () => {
	const lamp = 'sack-drop/mail-sack/visible/value';
	const grab = ({ session, sheet, picture }: Open, x: number) => {
		session.selection.pickPart('mail-sack');
		const row = sheet.layout.rows.find((found) => found.kind === 'part' && found.id === 'mail-sack')!;
		return hitTest(picture(), x, row.top + row.height - 3);
	};

	it('is taken hold of at the foot of the row of the part in hand, and of no other', () => {
		const opened = open();
		const { session, sheet, picture } = opened;
		expect(grab(opened, 2)).toMatchObject({ kind: 'life', index: 0, end: 'from' });
		expect(grab(opened, 72 * 6 + 4)).toMatchObject({ kind: 'life', index: 0, end: 'to' });
		expect(grab(opened, 63).kind).toBe('part');
		const row = sheet.layout.rows.find((found) => found.kind === 'part' && found.id === 'mail-sack')!;
		// Above it are the part's keys.
		expect(hitTest(picture(), 2, row.top + 5).kind).toBe('column');
		session.selection.clear();
		expect(hitTest(picture(), 2, row.top + row.height - 3).kind).not.toBe('life');
	});

	it('makes the visible channel by whole frames, as one edit, and goes away with it', () => {
		const opened = open();
		const { session, view, picture } = opened;
		const drag = (x: number, to: number) => {
			const hit = grab(opened, x) as Extract<Hit, { kind: 'life' }>;
			const gesture = dragLife(session, picture(), hit, at(x, 0), makeSnapper(session, view), () => {});
			gesture.move(at(to, 0));
			gesture.end();
		};
		const keys = () => session.doc.channels[lamp]?.keys.map(({ t, v }) => [t / FRAME, v]);
		drag(1, 1 + 60.8);
		expect(keys()).toEqual([
			[0, 0],
			[10, 1],
		]);
		expect([session.saver.pending, session.saver.undo]).toEqual([1, 'Life of mail sack']);
		drag(72 * 6, 50 * 6);
		expect(keys()).toEqual([
			[0, 0],
			[10, 1],
			[50, 0],
		]);
		// Never shorter than a frame.
		drag(60, 900);
		expect(keys()![1]).toEqual([49, 1]);
		drag(49 * 6, -40);
		drag(50 * 6, 900);
		expect(keys()).toBe(undefined);
	});
});
