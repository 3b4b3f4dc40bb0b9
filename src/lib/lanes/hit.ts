/** What the pointer is on in the lanes. */
import { evaluateCurve } from '$player/curve/evaluate';
import { spanAt } from '$core/curve/edit';
import { kindOf } from '$core/document/types';
import type { Life } from '$core/edits/life';
import { canChangeLife, handlePoints, LIFE_BAR, showsHandles } from './draw-keys';
import type { LanePicture } from './picture';
import { columnTimes, type FormulaRow, type LaneRow, type PartRow } from './rows';
import { valueY } from './scale';

export type Hit =
	| { kind: 'key'; row: LaneRow; t: number }
	| { kind: 'handle'; row: LaneRow; t: number; side: 'left' | 'right' }
	| { kind: 'span'; row: LaneRow; t: number }
	/** Where a switch is on, with the keys at its ends. */
	| { kind: 'bar'; row: LaneRow; t: number; ends: number[] }
	| { kind: 'column'; row: PartRow; t: number }
	/** An end of a stretch in which a part is shown. */
	| { kind: 'life'; row: PartRow; index: number; end: keyof Life }
	| { kind: 'lane'; row: LaneRow }
	| { kind: 'part'; row: PartRow }
	| { kind: 'formula'; row: FormulaRow }
	| { kind: 'none' };

/** Half of a target of 24 pixels. */
const KEY_REACH = 12;
/** Where keys are close they leave each other half of the way, and at least so much: between them is ground to select from. */
const LEAST_REACH = 6;
const LINE_REACH = 6;

function nearestTime(
	times: readonly number[],
	x: number,
	toX: (t: number) => number,
	reach: number,
): number | null {
	let best: number | null = null;
	let distance = reach;
	for (const t of times) {
		const d = Math.abs(toX(t) - x);
		if (d < distance) {
			distance = d;
			best = t;
		}
	}
	return best;
}

/** A finger is this much broader than a pointer. */
export const FINGER = 2;

/** The end of a part's life at a place, at the foot of its row: above it are its keys. */
function lifeAt(picture: LanePicture, row: PartRow, x: number, y: number, breadth: number): Hit | null {
	const foot = row.top + row.height - picture.scrollTop;
	if (!canChangeLife(row, picture) || y < foot - 2 * LIFE_BAR - 2) return null;
	let best: Hit | null = null;
	let distance = KEY_REACH * breadth;
	for (const [index, life] of (row.lives ?? []).entries())
		for (const end of ['from', 'to'] as const) {
			const d = Math.abs(picture.x(life[end]) - x);
			if (d >= distance) continue;
			distance = d;
			best = { kind: 'life', row, index, end };
		}
	return best;
}

/** The key or the handle of a picked key that is nearest to a place, a handle where both are as near; null where none is. */
function keyOrHandleAt(
	picture: LanePicture,
	row: LaneRow,
	x: number,
	y: number,
	breadth: number,
): Hit | null {
	const reach = KEY_REACH * breadth;
	const top = row.top - picture.scrollTop;
	const range = picture.range(row);
	const { keys } = row.channel;
	const picked = showsHandles(row) ? picture.keys.get(row.id) : undefined;
	let best: Hit | null = null;
	let distance = Infinity;
	for (const [index, key] of keys.entries()) {
		if (picked?.has(key.t))
			for (const point of handlePoints(row, index, picture.context(row))) {
				const d = Math.hypot(picture.x(point.t) - x, top + valueY(point.v, range, row.height) - y);
				if (d >= reach || d > distance) continue;
				distance = d;
				best = { kind: 'handle', row, t: key.t, side: point.side };
			}
		const dx = Math.abs(picture.x(key.t) - x);
		if (dx > reach) continue;
		const gap = Math.min(key.t - (keys[index - 1]?.t ?? -Infinity), (keys[index + 1]?.t ?? Infinity) - key.t);
		const apart = (picture.x(key.t + gap) - picture.x(key.t)) / 2;
		const own = breadth * Math.min(KEY_REACH, Math.max(LEAST_REACH, apart));
		const ky = top + valueY(key.v, range, row.height);
		const d = Math.hypot(dx, ky - y);
		// The head, or the stake below it.
		const onStake = dx <= 3 * breadth && y >= ky;
		if ((d > own && !onStake) || d >= distance) continue;
		distance = d;
		best = { kind: 'key', row, t: key.t };
	}
	return best;
}

/** Coordinates in pixels of the lanes' drawing, `y` from its visible top; `breadth` of what points, 1 for a pointer. */
export function hitTest(picture: LanePicture, x: number, y: number, breadth = 1): Hit {
	const reach = KEY_REACH * breadth;
	const row = picture.rows.find(
		(r) => y >= r.top - picture.scrollTop && y < r.top + r.height - picture.scrollTop,
	);
	if (!row) return { kind: 'none' };
	if (row.kind === 'part') {
		const life = lifeAt(picture, row, x, y, breadth);
		if (life) return life;
		const t = nearestTime(columnTimes(row.channels), x, picture.x, reach);
		return t === null ? { kind: 'part', row } : { kind: 'column', row, t };
	}
	if (row.kind === 'formula') return { kind: 'formula', row };
	const top = row.top - picture.scrollTop;
	const range = picture.range(row);
	const keys = row.channel.keys;
	const found = keyOrHandleAt(picture, row, x, y, breadth);
	if (found) return found;
	const curve = picture.curve(row.id);
	const index = spanAt(keys, picture.ticksAt(x));
	if (curve && kindOf(row.channel.property) === 'switch') {
		const ends = [keys[index], keys[index + 1]].filter((key) => key !== undefined).map((key) => key.t);
		const on = evaluateCurve(curve, picture.ticksAt(x)) >= 0.5;
		return on && ends.length > 0 ? { kind: 'bar', row, t: ends[0], ends } : { kind: 'lane', row };
	}
	if (curve && index >= 0 && index < keys.length - 1 && row.height >= 30) {
		const lineY = top + valueY(evaluateCurve(curve, picture.ticksAt(x)), range, row.height);
		if (Math.abs(lineY - y) <= LINE_REACH * breadth) return { kind: 'span', row, t: keys[index].t };
	}
	return { kind: 'lane', row };
}

/** A rectangle of the drawing in pixels, `top` and `bottom` from the top of all lanes. */
export interface Area {
	left: number;
	right: number;
	top: number;
	bottom: number;
}

/** Keys inside a rectangle of the drawing, `y` from the top of all lanes. */
export function keysWithin(
	picture: LanePicture,
	rows: readonly LaneRow[],
	box: Area,
): Map<string, Set<number>> {
	const found = new Map<string, Set<number>>();
	const [from, to] = [picture.ticksAt(box.left), picture.ticksAt(box.right)];
	for (const row of rows) {
		if (row.top + row.height < box.top || row.top > box.bottom) continue;
		const range = picture.range(row);
		const times = new Set<number>();
		for (const key of row.channel.keys) {
			if (key.t < from || key.t > to) continue;
			const y = row.top + valueY(key.v, range, row.height);
			// A stake reaches from the floor to its head: touching any of it picks the key.
			if (box.bottom >= y - 3 && box.top <= row.top + row.height) times.add(key.t);
		}
		if (times.size > 0) found.set(row.id, times);
	}
	return found;
}

const NEXT: Record<Hit['kind'], string> = {
	key: 'drag: move key; Shift: hold one axis; Ctrl: no snap; double-click a lane: new key',
	handle: 'drag: shape the span; Shift: slope only',
	bar: 'drag: move the whole bar; drag an end of it: how long it is on',
	span: 'drag up or down: bend the span; double-click: new key on the line',
	column: 'drag: move all keys of this part at this time',
	life: 'drag: when the part is shown from or until; Ctrl: no snap',
	lane: 'drag: select keys; double-click: new key; wheel: scroll; Ctrl+wheel: zoom time, Alt+wheel: values',
	part: 'drag: select keys; click the name: select the part',
	formula: 'computed by a formula; click: read and change it on the bench',
	none: 'wheel: scroll; Ctrl+wheel: zoom time',
};
const CURSORS: Record<Hit['kind'], string> = {
	key: 'grab',
	handle: 'crosshair',
	bar: 'grab',
	span: 'ns-resize',
	column: 'ew-resize',
	life: 'col-resize',
	lane: 'default',
	part: 'default',
	formula: 'pointer',
	none: 'default',
};

export function hintFor(hit: Hit): string {
	return NEXT[hit.kind];
}

export function cursorFor(hit: Hit): string {
	return CURSORS[hit.kind];
}
