/**
 * Splitting and joining spans without changing the motion. Bezier spans split by de Casteljau and join by its inverse;
 * parametric ones (springs, bounces, families) first become keys with simple shapes.
 */
import { bounceContacts } from '../../player/easing/bounce';
import { solveMonotoneCubic } from '../../player/easing/cubic-bezier';
import { stepsEase } from '../../player/easing/steps';
import { compileCurve } from './compile';
import { explicitSide, freezeSmooth, putKey, SMOOTH, spanAt } from './edit';
import { evaluateCurve } from '../../player/curve/evaluate';
import { THIRD } from '../../player/curve/build';
import { bezierOf, type CurveContext } from './handles';
import type { HandleSide, Key } from './types';
import type { Shape } from '../../player/easing/shape';

const HOLDS = { before: 'hold', after: 'hold' } as const;
const HANDLES: Shape = { kind: 'handles' };

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
	// After the last key there is no span, whatever its shape says.
	const parts = index + 1 < keys.length ? parametricKeys(keys, index, context) : null;
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
	const key: Key = {
		t,
		v: from.v + y.middle,
		shape: HANDLES,
		left: explicitSide((middle - x.ab) / middle, y.ab - y.middle, 'joined'),
		right: explicitSide((x.bc - middle) / (1 - middle), y.bc - y.middle, 'joined'),
	};
	const result = frozenAround(keys, index, context, [key]);
	result[index] = {
		...result[index],
		shape: HANDLES,
		right: explicitSide(x.a / middle, y.a, frozenMode(from.right)),
	};
	result[index + 2] = {
		...result[index + 2],
		left: explicitSide((1 - x.c) / (1 - middle), y.c - change, frozenMode(to.left)),
	};
	return result;
}

/** The mode of a side whose handle is written out: what held together goes on to. */
function frozenMode(side: HandleSide | undefined): HandleSide['mode'] {
	return side?.mode === 'smooth' || side?.mode === 'joined' ? 'joined' : 'split';
}

function frozenAround(keys: readonly Key[], index: number, context: CurveContext, inside: Key[]): Key[] {
	const result = keys.toSpliced(index + 1, 0, ...inside);
	result[index] = freezeSmooth(keys, index, context);
	result[index + 1 + inside.length] = freezeSmooth(keys, index + 1, context);
	return result;
}

/** How far control points may be off for two spans to count as one, as a share of the span's extent. */
const JOIN_TOLERANCE = 1e-7;

/**
 * The control points (as offsets from the first key) of the one cubic that two spans were split from, in one
 * coordinate: the handles of both spans in, those of the joined one out; null where there is none.
 */
function joinedHandles(
	share: number,
	spans: { out: number; into: number; change: number }[],
): { out: number; into: number } | null {
	const [first, second] = spans;
	const change = first.change + second.change;
	const out = first.out / share;
	const into = second.into / (1 - share);
	const mix = (a: number, b: number) => a + (b - a) * share;
	// Split again: what comes out must be the points that are there.
	const b = mix(out, change + into);
	const before = mix(first.out, b);
	const after = mix(b, change + second.into);
	const tolerance =
		JOIN_TOLERANCE * (Math.abs(out) + Math.abs(into) + Math.abs(first.change) + Math.abs(second.change));
	const isSame = (x: number, y: number) => Math.abs(x - y) <= tolerance;
	return isSame(before, first.change + first.into) &&
		isSame(after, first.change + second.out) &&
		isSame(mix(before, after), first.change)
		? { out, into }
		: null;
}

/**
 * Takes the key at tick `t` away where the spans on its two sides are one motion that a single span can draw: the
 * inverse of `insertOnCurve`. Null where the key carries motion (or is the first or the last, or none).
 * Source: de Casteljau's subdivision, solved for the whole: R1 = P0 + (P1 − P0)/λ, R2 = Q3 + (Q2 − Q3)/(1 − λ).
 */
export function joinSpans(keys: readonly Key[], t: number, context: CurveContext): Key[] | null {
	const index = spanAt(keys, t);
	if (index <= 0 || index >= keys.length - 1 || keys[index].t !== t) return null;
	const [from, key, to] = [keys[index - 1], keys[index], keys[index + 1]];
	const without = () => {
		const result = keys.toSpliced(index, 1);
		result[index - 1] = freezeSmooth(keys, index - 1, context);
		result[index] = freezeSmooth(keys, index + 1, context);
		return result;
	};
	if (from.shape.kind === 'hold' && key.shape.kind === 'hold') return from.v === key.v ? without() : null;
	const [first, second] = [bezierOf(keys, index - 1, context), bezierOf(keys, index, context)];
	if (!first || !second) return null;
	const [before, after, whole] = [key.t - from.t, to.t - key.t, to.t - from.t];
	const into = { time: first.inReach * before, value: first.inRise };
	const out = { time: second.outReach * after, value: second.outRise };
	// The key divides the line between its two handles as the parameter divides the span.
	const sum = into.time + out.time;
	const steep = Math.abs(into.value) + Math.abs(out.value);
	if (sum < 1e-9 && steep === 0) return null;
	const share = sum < 1e-9 ? Math.abs(into.value) / steep : into.time / sum;
	if (!(share > 1e-6 && share < 1 - 1e-6)) return null;
	const times = joinedHandles(share, [
		{ out: first.outReach * before, into: -into.time, change: before },
		{ out: out.time, into: -second.inReach * after, change: after },
	]);
	const values = joinedHandles(share, [
		{ out: first.outRise, into: first.inRise, change: key.v - from.v },
		{ out: out.value, into: second.inRise, change: to.v - key.v },
	]);
	if (!times || !values || times.out > whole * (1 + 1e-9) || -times.into > whole * (1 + 1e-9)) return null;
	const result = without();
	if (from.shape.kind === 'linear' && key.shape.kind === 'linear') return result;
	result[index - 1] = {
		...result[index - 1],
		shape: HANDLES,
		right: explicitSide(times.out / whole, values.out, frozenMode(from.right)),
	};
	result[index] = {
		...result[index],
		left: explicitSide(-times.into / whole, values.into, frozenMode(to.left)),
	};
	return result;
}
