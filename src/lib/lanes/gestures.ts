/** What dragging in the lanes does. Each gesture is one step of undo; all compute from where the drag began. */
import { spanAt } from '$core/curve/edit';
import type { HandleSide } from '$core/curve/types';
import { limitMove, moveKeys, setShape, setSide, shiftSelection, type KeySelection } from '$core/edits/keys';
import { moveCues } from '$core/edits/cues-along';
import type { Doc } from '$core/document/types';
import { clamp } from '$core/time';
import { cuesAlong } from '$lib/acts/move-keys';
import type { Drag } from '$lib/session/project.svelte';
import type { Session } from '$lib/session/session.svelte';
import type { LanePicture } from './picture';
import { keysWithin, type Area } from './hit';
import { THIN } from './lane-view.svelte';
import type { LaneRow } from './rows';
import { valuePerPixel } from './scale';
import { offerWholeFrames } from '$lib/acts/whole-frames';
import type { Snap } from './snap';

export interface Pointer {
	x: number;
	y: number;
	shift: boolean;
	ctrl: boolean;
}

export interface Gesture {
	move(pointer: Pointer): void;
	end(): void;
	cancel(): void;
}

/** Pixels that the pointer must leave before a press becomes a drag; more across the lane, so values hold still. */
export const SLACK_TIME = 3;
const SLACK_VALUE = 5;

/** Rounds to what a pixel can mean, so that dragged values are short numbers. */
function roundTo(value: number, unit: number): number {
	const step = 10 ** Math.floor(Math.log10(unit));
	return Number((Math.round(value / step) * step).toPrecision(12));
}

function moveIn(doc: Doc, selection: KeySelection, property: string, ticks: number, value: number): Doc {
	const alike = new Map([...selection].filter(([id]) => doc.channels[id]?.property === property));
	const others = new Map([...selection].filter(([id]) => doc.channels[id]?.property !== property));
	return moveKeys(moveKeys(doc, alike, ticks, value), others, ticks, 0);
}

/** Moves the selected keys with the one that was grabbed. */
export function dragKeys(
	session: Session,
	picture: LanePicture,
	row: LaneRow | null,
	grabbed: number,
	start: Pointer,
	snap: Snap,
	onGuide: (ticks: number | null) => void,
): Gesture {
	const selection = session.selection.keys;
	const cues = cuesAlong(session, selection);
	const drag: Drag = session.startDrag('Move keys');
	const perPixel = row ? valuePerPixel(picture.range(row), row.height) : 0;
	const timeOnly = !row || row.height <= THIN + 8;
	let axis: 'time' | 'value' | null = null;
	let moved = false;
	let isFree = false;
	return {
		move(pointer) {
			const dx = pointer.x - start.x;
			const dy = pointer.y - start.y;
			isFree = pointer.ctrl;
			if (!moved && Math.abs(dx) < SLACK_TIME && Math.abs(dy) < SLACK_VALUE) return;
			moved = true;
			if (!pointer.shift) axis = null;
			else axis ??= Math.abs(dx) >= Math.abs(dy) ? 'time' : 'value';
			const wanted = grabbed + (picture.ticksAt(dx) - picture.ticksAt(0));
			const target = snap(wanted, pointer.ctrl);
			const movesTime = axis !== 'value' && Math.abs(dx) >= SLACK_TIME;
			const ticks = movesTime ? limitMove(selection, target - grabbed, picture.length) : 0;
			const movesValue = !timeOnly && axis !== 'time' && Math.abs(dy) >= SLACK_VALUE;
			const value = movesValue ? roundTo(-dy * perPixel, perPixel) : 0;
			drag.update((doc) => ({
				doc: moveCues(moveIn(doc, selection, row?.channel.property ?? '', ticks, value), cues, ticks),
				keys: shiftSelection(selection, ticks),
			}));
			onGuide(grabbed + ticks);
		},
		end() {
			onGuide(null);
			drag.commit();
			// Who lets go of the grid means to.
			if (!isFree) offerWholeFrames(session, drag.start);
		},
		cancel() {
			onGuide(null);
			drag.cancel();
		},
	};
}

/** Bends a span by its start and finish amounts: pulling it up arrives sooner when it rises. */
export function bendSpan(session: Session, row: LaneRow, t: number, start: Pointer): Gesture {
	const { keys } = row.channel;
	const index = spanAt(keys, t);
	const shape = keys[index].shape;
	const amounts = shape.kind === 'eased' ? shape : { start: 1 / 3, finish: 1 / 3 };
	const rises = (keys[index + 1]?.v ?? 0) >= keys[index].v ? 1 : -1;
	const drag = session.startDrag('Bend span');
	const selection = new Map([[row.id, new Set([t])]]);
	return {
		move(pointer) {
			const pull = ((start.y - pointer.y) * rises) / 90;
			if (Math.abs(start.y - pointer.y) < SLACK_TIME) return;
			const finish = clamp(amounts.finish + pull, 0, 1);
			const begin = clamp(amounts.start - pull, 0, 1);
			const percent = (v: number) => Math.round(v * 100) / 100;
			drag.update((doc) =>
				setShape(doc, selection, { kind: 'eased', start: percent(begin), finish: percent(finish) }),
			);
		},
		end: () => drag.commit(),
		cancel: () => drag.cancel(),
	};
}

/** Drags the end of a handle. */
export function dragHandle(
	session: Session,
	picture: LanePicture,
	row: LaneRow,
	t: number,
	side: 'left' | 'right',
	start: Pointer,
	from: { t: number; v: number },
): Gesture {
	const { keys } = row.channel;
	const index = spanAt(keys, t);
	const key = keys[index];
	const span = side === 'right' ? keys[index + 1].t - t : t - keys[index - 1].t;
	const sign = side === 'right' ? 1 : -1;
	const perPixel = valuePerPixel(picture.range(row), row.height);
	const old = key[side];
	// Touching a smooth side by hand makes it joined.
	const mode: HandleSide['mode'] = old?.mode === 'split' ? 'split' : 'joined';
	const drag = session.startDrag('Shape with handles');
	return {
		move(pointer) {
			const at = from.t + (picture.ticksAt(pointer.x - start.x) - picture.ticksAt(0));
			const reach = pointer.shift ? Math.abs(from.t - t) / span : clamp((sign * (at - t)) / span, 0, 1);
			const rise = roundTo(from.v - key.v - (pointer.y - start.y) * perPixel, perPixel);
			// Near the horizontal it snaps to it.
			const flat = Math.abs(rise) < 4 * perPixel && !pointer.ctrl;
			const value: HandleSide = {
				mode,
				reach: Math.round(reach * 1000) / 1000,
				rise: flat ? 0 : rise,
			};
			drag.update((doc) => setSide(doc, row.id, t, side, value));
		},
		end: () => drag.commit(),
		cancel: () => drag.cancel(),
	};
}

/** Picks what lies in the rectangle that is drawn out; with Shift, beside what was picked. */
export function pickWithin(
	session: Session,
	picture: LanePicture,
	lanes: readonly LaneRow[],
	scrollTop: number,
	start: Pointer,
	onArea: (area: Area | null) => void,
): Gesture {
	const before: KeySelection = start.shift ? session.selection.keys : new Map();
	let moved = false;
	return {
		move(pointer) {
			if (!moved && Math.hypot(pointer.x - start.x, pointer.y - start.y) < SLACK_VALUE) return;
			moved = true;
			const area = {
				left: Math.min(start.x, pointer.x),
				right: Math.max(start.x, pointer.x),
				top: Math.min(start.y, pointer.y) + scrollTop,
				bottom: Math.max(start.y, pointer.y) + scrollTop,
			};
			onArea(area);
			const found: Map<string, ReadonlySet<number>> = keysWithin(picture, lanes, area);
			for (const [id, times] of before) found.set(id, new Set([...times, ...(found.get(id) ?? [])]));
			session.selection.keys = found;
		},
		end() {
			onArea(null);
			if (!moved && !start.shift) session.selection.keys = new Map();
			else if (session.selection.keys.size > 0) session.selection.pickKeys(session.selection.keys);
		},
		cancel() {
			onArea(null);
			session.selection.keys = before;
		},
	};
}
