/**
 * Edits on the keys of one channel: each a pure function from keys to keys. Keys that an edit leaves alone keep
 * their identity, so a changeset holds only what changed.
 */
import { isThird, THIRD } from '../../player/curve/build';
import { bezierOf, smoothSlope, type CurveContext } from './handles';
import type { HandleSide, Key } from './types';
import type { Shape } from '../../player/easing/shape';

/** Both ends at a moderate pace: the same as CSS `ease-in-out`. */
export const DEFAULT_SHAPE: Shape = { kind: 'eased', start: 0.42, finish: 0.42 };

/** Index of the key at tick `t`, or −1. */
export function indexAt(keys: readonly Key[], t: number): number {
	const index = spanAt(keys, t);
	return index >= 0 && keys[index].t === t ? index : -1;
}

/** Index of the last key at or before tick `t`, or −1. */
export function spanAt(keys: readonly Key[], t: number): number {
	let low = -1;
	let high = keys.length;
	while (high - low > 1) {
		const middle = (low + high) >> 1;
		if (keys[middle].t <= t) low = middle;
		else high = middle;
	}
	return low;
}

/** A side whose handle rises by a factor. */
export function scaleSide(side: HandleSide | undefined, factor: number): HandleSide | undefined {
	return side?.rise === undefined || factor === 1 ? side : { ...side, rise: side.rise * factor };
}

/**
 * Keeps the slopes of handles where spans became longer or shorter: rises scale with the span. `sources[i]` is the
 * index in `before` that key i comes from, or −1. A span of which `keepsForm` (by the index of its first key in
 * `before`) was scaled as a whole: its rises stay.
 */
export function keepSlopes(
	before: readonly Key[],
	after: Key[],
	sources: readonly number[],
	keepsForm: (span: number) => boolean = () => false,
): Key[] {
	const isWhole = (i: number) => sources[i + 1] === sources[i] + 1 && keepsForm(sources[i]);
	return after.map((key, i) => {
		const source = sources[i];
		if (source < 0 || (key.left?.rise === undefined && key.right?.rise === undefined)) return key;
		let { left, right } = key;
		if (source > 0 && i > 0 && !isWhole(i - 1)) {
			left = scaleSide(left, (key.t - after[i - 1].t) / (before[source].t - before[source - 1].t));
		}
		if (source < before.length - 1 && i < after.length - 1 && !isWhole(i)) {
			right = scaleSide(right, (after[i + 1].t - key.t) / (before[source + 1].t - before[source].t));
		}
		return left === key.left && right === key.right ? key : withSides(key, left, right);
	});
}

function withSides(key: Key, left: HandleSide | undefined, right: HandleSide | undefined): Key {
	const next = { ...key };
	delete next.left;
	delete next.right;
	if (left) next.left = left;
	if (right) next.right = right;
	return next;
}

/** A key whose value and handles are scaled about a value. */
export function scaleKey(key: Key, about: number, factor: number): Key {
	const next: Key = { ...key, v: about + (key.v - about) * factor };
	if (key.left) next.left = scaleSide(key.left, factor);
	if (key.right) next.right = scaleSide(key.right, factor);
	return next;
}

export const SMOOTH: HandleSide = { mode: 'smooth' };

/**
 * Sets the value at a tick: of the key that is there, or of a new one that takes on the shape of its span. Other
 * keys stay as they are.
 */
export function putKey(keys: readonly Key[], t: number, v: number): Key[] {
	const at = spanAt(keys, t);
	if (at >= 0 && keys[at].t === t) {
		return keys[at].v === v ? (keys as Key[]) : keys.with(at, { ...keys[at], v });
	}
	const shape = (keys[at] ?? keys[0])?.shape ?? DEFAULT_SHAPE;
	const key: Key = { t, v, shape };
	if (shape.kind === 'handles') {
		key.left = SMOOTH;
		key.right = SMOOTH;
	}
	const next = keys.toSpliced(at + 1, 0, key);
	const sources = next.map((_, i) => (i <= at ? i : i === at + 1 ? -1 : i - 1));
	return keepSlopes(keys, next, sources);
}

/** Removes the keys at the given ticks; the spans around them join. */
export function removeKeys(keys: readonly Key[], times: ReadonlySet<number>): Key[] {
	const sources = keys.flatMap((key, i) => (times.has(key.t) ? [] : [i]));
	return keepSlopes(
		keys,
		sources.map((i) => keys[i]),
		sources,
	);
}

/**
 * Moves the keys at the given ticks by `ticks` and `value`. Keys that they land on are replaced; times are kept
 * within 0…`length` by the caller's choice of `ticks`. Always computed from the keys as they were when a drag began.
 */
export function moveKeys(
	keys: readonly Key[],
	times: ReadonlySet<number>,
	ticks: number,
	value: number,
): Key[] {
	if (ticks === 0 && value === 0) return keys as Key[];
	const moved = new Map<number, { key: Key; source: number }>();
	keys.forEach((key, source) => {
		if (!times.has(key.t)) moved.set(key.t, { key, source });
	});
	keys.forEach((key, source) => {
		if (times.has(key.t))
			moved.set(key.t + ticks, { key: { ...key, t: key.t + ticks, v: key.v + value }, source });
	});
	const sorted = [...moved.values()].sort((a, b) => a.key.t - b.key.t);
	return keepSlopes(
		keys,
		sorted.map((entry) => entry.key),
		sorted.map((entry) => entry.source),
	);
}

/** Gives the spans that start at the given ticks a shape. New handles begin as smooth. */
export function setShape(keys: readonly Key[], times: ReadonlySet<number>, shape: Shape): Key[] {
	const next = keys.map((key) => (times.has(key.t) ? { ...key, shape } : key));
	if (shape.kind !== 'handles') return next;
	return next.map((key, i) => {
		const right = times.has(key.t) && !key.right ? SMOOTH : key.right;
		const left = i > 0 && times.has(next[i - 1].t) && !key.left ? SMOOTH : key.left;
		return left === key.left && right === key.right ? key : withSides(key, left, right);
	});
}

/**
 * Turns spans of a single Bezier (eased, fall, bezier …) into handles that draw the same, so that they can be bent.
 */
export function toHandles(keys: readonly Key[], index: number, context: CurveContext): Key[] {
	const key = keys[index];
	const next = keys[index + 1];
	if (!next || key.shape.kind === 'handles') return keys as Key[];
	const handles = bezierOf(keys, index, context);
	if (!handles) return keys as Key[];
	const result = [...keys];
	result[index] = {
		...key,
		shape: { kind: 'handles' },
		right: explicitSide(handles.outReach, handles.outRise, 'split'),
	};
	result[index + 1] = { ...next, left: explicitSide(handles.inReach, handles.inRise, 'split') };
	return result;
}

export function explicitSide(reach: number, rise: number, mode: HandleSide['mode']): HandleSide {
	return isThird(reach) ? { mode, rise } : { mode, reach, rise };
}

/** Replaces smooth sides of a key by the handles that they have now, since new neighbours would change them. */
export function freezeSmooth(keys: readonly Key[], index: number, context: CurveContext): Key {
	const key = keys[index];
	if (key.left?.mode !== 'smooth' && key.right?.mode !== 'smooth') return key;
	const slope = smoothSlope(keys, index, context);
	const before = keys[index - 1];
	const after = keys[index + 1];
	const left: HandleSide | undefined =
		key.left?.mode === 'smooth' && before
			? { mode: 'joined', rise: -slope * (key.t - before.t) * THIRD }
			: key.left;
	const right: HandleSide | undefined =
		key.right?.mode === 'smooth' && after
			? { mode: 'joined', rise: slope * (after.t - key.t) * THIRD }
			: key.right;
	return withSides(key, left, right);
}

/** Replaces smooth sides of the first and the last key by the handles that they have now, before a cut takes their seam away. */
export function freezeEnds(keys: readonly Key[], context: CurveContext): Key[] {
	const last = keys.length - 1;
	return keys.map((key, i) => (i === 0 || i === last ? freezeSmooth(keys, i, context) : key));
}

export type SideName = 'left' | 'right';

/**
 * Sets one side of a key by hand. A `smooth` or `flat` mode is taken as it is; a `joined` side turns the other side
 * to the same slope. The spans concerned become handles.
 */
export function setSide(
	keys: readonly Key[],
	index: number,
	side: SideName,
	value: HandleSide,
	context: CurveContext,
): Key[] {
	const span = side === 'right' ? index : index - 1;
	if (span < 0 || span >= keys.length - 1) return keys as Key[];
	const shaped = toHandles(keys, span, context);
	const key = { ...freezeSmooth(shaped, index, context), [side]: value };
	const other: SideName = side === 'right' ? 'left' : 'right';
	const otherSpan = side === 'right' ? index - 1 : index;
	const otherKey = keys[otherSpan + (side === 'right' ? 0 : 1)];
	if (value.mode === 'joined' && key[other] && otherKey) {
		const own = Math.abs(keys[span + 1].t - keys[span].t);
		const theirs = Math.abs(otherKey.t - key.t);
		const slope = (value.rise ?? 0) / ((value.reach ?? THIRD) * own || 1);
		const reach = key[other].reach;
		key[other] = {
			mode: 'joined',
			...(reach === undefined ? {} : { reach }),
			// Never −0, which no file can hold.
			rise: 0 - slope * (reach ?? THIRD) * theirs,
		};
	}
	return shaped.with(index, key);
}

/** Sets the mode of both sides of the keys at the given ticks, keeping where their handles stand. */
export function setModes(
	keys: readonly Key[],
	times: ReadonlySet<number>,
	mode: HandleSide['mode'],
	context: CurveContext,
): Key[] {
	let next = keys as Key[];
	for (let i = 0; i < keys.length; i++) {
		if (!times.has(keys[i].t)) continue;
		if (i > 0) next = toHandles(next, i - 1, context);
		if (i < keys.length - 1) next = toHandles(next, i, context);
		const key = mode === 'smooth' || mode === 'flat' ? next[i] : freezeSmooth(next, i, context);
		if (mode === 'smooth') next = next.with(i, withSides(key, SMOOTH, SMOOTH));
		else if (mode === 'flat') next = next.with(i, withSides(key, flatSide(key.left), flatSide(key.right)));
		else {
			next = next.with(i, withSides(key, inMode(key.left, mode), inMode(key.right, mode)));
			if (mode === 'joined' && i > 0 && i < keys.length - 1) {
				next = setSide(next, i, 'right', { ...next[i].right!, mode }, context);
			}
		}
	}
	return next;
}

/** A side in another mode, its handle where it stands: a flat one says nothing of its rise, which is 0. */
function inMode(side: HandleSide | undefined, mode: HandleSide['mode']): HandleSide {
	return side?.mode === 'flat' ? { ...side, mode, rise: 0 } : { ...side, mode };
}

function flatSide(side: HandleSide | undefined): HandleSide {
	return side?.reach === undefined ? { mode: 'flat' } : { mode: 'flat', reach: side.reach };
}
