/**
 * Edits on the keys of one channel: each a pure function from keys to keys. Keys that an edit leaves alone keep
 * their identity, so a changeset holds only what changed.
 */
import { bounceContacts } from '../easing/bounce';
import { solveMonotoneCubic } from '../easing/cubic-bezier';
import { stepsEase } from '../easing/steps';
import { compileCurve } from './compile';
import { evaluateCurve } from './evaluate';
import { bezierOf, isThird, smoothSlope, THIRD, type CurveContext } from './handles';
import type { HandleSide, Key, Shape } from './types';

/** Both ends at a moderate pace: the same as CSS `ease-in-out`. */
export const DEFAULT_SHAPE: Shape = { kind: 'eased', start: 0.42, finish: 0.42 };

const HOLDS = { before: 'hold', after: 'hold' } as const;

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
 * index in `before` that key i comes from, or −1.
 */
export function keepSlopes(before: readonly Key[], after: Key[], sources: readonly number[]): Key[] {
	return after.map((key, i) => {
		const source = sources[i];
		if (source < 0 || (key.left?.rise === undefined && key.right?.rise === undefined)) return key;
		let { left, right } = key;
		if (source > 0 && i > 0) {
			left = scaleSide(left, (key.t - after[i - 1].t) / (before[source].t - before[source - 1].t));
		}
		if (source < before.length - 1 && i < after.length - 1) {
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

const SMOOTH: HandleSide = { mode: 'smooth' };

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

function explicitSide(reach: number, rise: number, mode: HandleSide['mode']): HandleSide {
	return isThird(reach) ? { mode, rise } : { mode, reach, rise };
}

/** Replaces smooth sides of a key by what they come to, since new neighbours would change them. */
function freezeSmooth(keys: readonly Key[], index: number, context: CurveContext): Key {
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

/** Replaces smooth sides of the first and the last key by what they come to, before a cut takes their seam away. */
export function freezeEnds(keys: readonly Key[], context: CurveContext): Key[] {
	const last = keys.length - 1;
	return keys.map((key, i) => (i === 0 || i === last ? freezeSmooth(keys, i, context) : key));
}

/** Keys (without the last) that draw a parametric span: exactly where the shape allows, else within a bound. */
function parametricKeys(keys: readonly Key[], index: number, context: CurveContext): Key[] | null {
	const from = keys[index];
	const to = keys[index + 1];
	const { shape } = from;
	const change = to.v - from.v;
	const at = (x: number) => Math.round(from.t + x * (to.t - from.t));
	switch (shape.kind) {
		case 'steps': {
			const ease = stepsEase(shape.count, shape.jump);
			return Array.from({ length: shape.count }, (_, i) => ({
				...(i === 0 ? from : {}),
				t: at(i / shape.count),
				v: from.v + change * ease((i + 1e-9) / shape.count),
				shape: { kind: 'hold' } as Shape,
			}));
		}
		case 'bounce': {
			const contacts = bounceContacts(shape.restitution, shape.count);
			const result: Key[] = [{ ...from, shape: { kind: 'fall' } }];
			for (let j = 0; j < shape.count; j++) {
				const apex = to.v - change * shape.restitution ** (2 * (j + 1));
				result.push({ t: at(contacts[j]), v: to.v, shape: { kind: 'rise' } });
				result.push({ t: at((contacts[j] + contacts[j + 1]) / 2), v: apex, shape: { kind: 'fall' } });
			}
			return result;
		}
		case 'stops':
		case 'family':
		case 'spring':
			return hermiteKeys(keys, index, context);
		default:
			return null;
	}
}

/** Error that a parametric span may have as handles, as a fraction of its travel. */
export const HANDLE_BOUND = 0.001;

/** Halves a span until cubics with the curve's own slopes stay within the bound. */
function hermiteKeys(keys: readonly Key[], index: number, context: CurveContext): Key[] {
	const from = keys[index];
	const to = keys[index + 1];
	const curve = compileCurve([from, to], HOLDS, context);
	const ticks = to.t - from.t;
	let extent = 0;
	for (let i = 0; i <= 64; i++) {
		extent = Math.max(extent, Math.abs(evaluateCurve(curve, from.t + (ticks * i) / 64) - from.v));
	}
	const bound = HANDLE_BOUND * Math.max(extent, 1e-9);
	const value = (t: number) => evaluateCurve(curve, t);
	const step = Math.min(0.25, ticks * 1e-5);
	const slopeRight = (t: number) => (value(t + step) - value(t)) / step;
	const slopeLeft = (t: number) => (value(t) - value(t - step)) / step;
	const result: Key[] = [];
	let leftOfNext: HandleSide = SMOOTH;
	const divide = (a: number, b: number): void => {
		const d = b - a;
		const sa = slopeRight(a);
		const sb = slopeLeft(b);
		const va = value(a);
		const vb = value(b);
		let worst = 0;
		for (let i = 1; i < 16; i++) {
			const x = i / 16;
			const y = 1 - x;
			const hermite = y * y * ((1 + 2 * x) * va + x * d * sa) + x * x * ((3 - 2 * x) * vb - y * d * sb);
			worst = Math.max(worst, Math.abs(hermite - value(a + x * d)));
		}
		const middle = Math.round((a + b) / 2);
		if (worst > bound && middle > a && middle < b) {
			divide(a, middle);
			divide(middle, b);
			return;
		}
		const previous = result.at(-1);
		const key: Key = {
			t: a,
			v: va,
			shape: { kind: 'handles' },
			right: { mode: 'split', rise: sa * d * THIRD },
		};
		if (previous) key.left = leftOfNext;
		result.push(key);
		leftOfNext = { mode: 'split', rise: -sb * d * THIRD };
	};
	divide(from.t, to.t);
	if (from.left) result[0] = { ...result[0], left: from.left };
	// The side of the last key travels on the list's end: `expandSpan` takes it off again.
	result.push({ ...to, left: leftOfNext });
	return result;
}

/** Replaces a parametric span by keys with simple shapes that draw the same (springs and families: within 0.1 %). */
export function expandSpan(keys: readonly Key[], index: number, context: CurveContext): Key[] {
	const parts = parametricKeys(keys, index, context);
	if (!parts) return keys as Key[];
	const times = new Set<number>();
	const distinct = parts.filter((key) => key.t <= keys[index + 1].t && !times.has(key.t) && times.add(key.t));
	const last = distinct.at(-1)!;
	if (last.t === keys[index + 1].t) distinct.pop();
	const end = last.t === keys[index + 1].t ? { ...keys[index + 1], left: last.left } : keys[index + 1];
	return [...keys.slice(0, index), ...distinct, end, ...keys.slice(index + 2)];
}

/** Puts a key on the curve at tick `t` without changing the motion. Outside the keys the value of the end is taken. */
export function insertOnCurve(keys: readonly Key[], t: number, context: CurveContext): Key[] {
	const index = spanAt(keys, t);
	if (index >= 0 && keys[index].t === t) return keys as Key[];
	if (index < 0 || index === keys.length - 1) return putKey(keys, t, (keys[index] ?? keys[0]).v);
	const from = keys[index];
	const to = keys[index + 1];
	if (from.shape.kind === 'hold' || from.shape.kind === 'linear') {
		const v =
			from.shape.kind === 'hold' ? from.v : from.v + ((to.v - from.v) * (t - from.t)) / (to.t - from.t);
		return frozenAround(keys, index, context, [{ t, v, shape: from.shape }]);
	}
	const handles = bezierOf(keys, index, context);
	if (!handles) return insertOnCurve(expandSpan(keys, index, context), t, context);
	const ticks = to.t - from.t;
	const x1 = handles.outReach;
	const x2 = 1 - handles.inReach;
	const u = solveMonotoneCubic(1 - 3 * x2 + 3 * x1, 3 * x2 - 6 * x1, 3 * x1, (t - from.t) / ticks);
	// de Casteljau on both coordinates, times as fractions of the span.
	const split = (p1: number, p2: number, p3: number) => {
		const a = p1 * u;
		const b = p1 + (p2 - p1) * u;
		const c = p2 + (p3 - p2) * u;
		const ab = a + (b - a) * u;
		const bc = b + (c - b) * u;
		return { a, ab, middle: ab + (bc - ab) * u, bc, c };
	};
	const x = split(x1, x2, 1);
	const change = to.v - from.v;
	const y = split(handles.outRise, change + handles.inRise, change);
	const middle = (t - from.t) / ticks;
	const HANDLES: Shape = { kind: 'handles' };
	const key: Key = {
		t,
		v: from.v + y.middle,
		shape: HANDLES,
		left: explicitSide((middle - x.ab) / middle, y.ab - y.middle, 'joined'),
		right: explicitSide((x.bc - middle) / (1 - middle), y.bc - y.middle, 'joined'),
	};
	const result = frozenAround(keys, index, context, [key]);
	const joins = (mode: HandleSide['mode'] | undefined) =>
		mode === 'smooth' || mode === 'joined' ? 'joined' : 'split';
	result[index] = {
		...result[index],
		shape: HANDLES,
		right: explicitSide(x.a / middle, y.a, joins(from.right?.mode)),
	};
	result[index + 2] = {
		...result[index + 2],
		left: explicitSide((1 - x.c) / (1 - middle), y.c - change, joins(to.left?.mode)),
	};
	return result;
}

function frozenAround(keys: readonly Key[], index: number, context: CurveContext, inside: Key[]): Key[] {
	const result = keys.toSpliced(index + 1, 0, ...inside);
	result[index] = freezeSmooth(keys, index, context);
	result[index + 1 + inside.length] = freezeSmooth(keys, index + 1, context);
	return result;
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
			rise: -slope * (reach ?? THIRD) * theirs,
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
			next = next.with(i, withSides(key, { ...key.left, mode }, { ...key.right, mode }));
			if (mode === 'joined' && i > 0 && i < keys.length - 1) {
				next = setSide(next, i, 'right', { ...next[i].right!, mode }, context);
			}
		}
	}
	return next;
}

function flatSide(side: HandleSide | undefined): HandleSide {
	return side?.reach === undefined ? { mode: 'flat' } : { mode: 'flat', reach: side.reach };
}
