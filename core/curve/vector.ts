/**
 * Keys of colours and orientations hold four numbers, and one progress curve says how far each span is. The progress of
 * key i is i, so that spans, shapes, handles and ends are those of any other curve.
 */
import { mixColours } from '../../player/maths/colour';
import { slerp } from '../../player/maths/quaternion';
import type { EndKind, Ends } from '../../player/curve/flat';
import { buildVector, type VectorCurve } from '../../player/curve/vector';
import type { Four } from '../../player/maths/vector';
import { TICKS_PER_SECOND } from '../../player/time';
import { compileCurve } from './compile';
import type { CurveContext } from './handles';
import { insertOnCurve } from './split';
import type { HandleSide, Key, VectorKey } from './types';

/** Neither colours nor orientations go on or add up: they hold, or come again. */
function vectorEnd(kind: EndKind): EndKind {
	if (kind === 'straight') return 'hold';
	return kind === 'accumulate' ? 'repeat' : kind;
}

/** The keys of a vector channel as keys of its progress. */
export function progressKeys(keys: readonly Key[]): Key[] {
	return keys.map((key, i) => ({
		...key,
		v: i,
		shape: key.shape.kind === 'tangents' ? { kind: 'linear' } : key.shape,
	}));
}

export function compileVector(
	keys: readonly VectorKey[],
	ends: Ends,
	context: CurveContext,
	mix: VectorCurve['mix'],
): VectorCurve {
	const own: Ends = { before: vectorEnd(ends.before), after: vectorEnd(ends.after) };
	const progress = compileCurve(progressKeys(keys), own, { ...context, accumulates: false });
	return buildVector(
		progress,
		mix,
		keys.flatMap(({ vector }) => vector),
		spanTangents(keys),
	);
}

/** What cubic splines change over the time of their spans, as the player reads it. */
function spanTangents(keys: readonly VectorKey[]): Float64Array | null {
	if (!keys.some((key) => key.shape.kind === 'tangents')) return null;
	const tangents = new Float64Array(8 * keys.length).fill(NaN);
	keys.forEach((key, i) => {
		const next = keys[i + 1];
		if (key.shape.kind !== 'tangents' || !key.tangents || !next?.tangents) return;
		const seconds = (next.t - key.t) / TICKS_PER_SECOND;
		for (let k = 0; k < 4; k++) {
			tangents[8 * i + k] = seconds * key.tangents.right[k];
			tangents[8 * i + 4 + k] = seconds * next.tangents.left[k];
		}
	});
	return tangents;
}

/** The vector at a share of the way from one key to the next, without the tangents of a cubic. */
function between(from: VectorKey, to: VectorKey, share: number, mix: VectorCurve['mix']): Four {
	const out: Four = [0, 0, 0, 1];
	if (mix === 'turn') slerp(from.vector, to.vector, share, out);
	else mixColours(from.vector, 0, to.vector, 0, share, mix, out, 0);
	return out;
}

/** Radians between two orientations from which on a shape that overshoots could take the other way round. */
const HALF_TURN = 0.99 * Math.PI;

/** Puts keys on the curve where two new ones are half a turn or more apart: between such the short way is another. */
function withoutHalfTurns(
	keys: readonly Key[],
	{ turns }: VectorCurve,
	context: CurveContext,
	made: Key[],
): Key[] {
	let after = made;
	let span = 0;
	for (let i = 0; i + 1 < after.length; i++) {
		const [from, to] = [after[i], after[i + 1]];
		while (span + 2 < keys.length && keys[span + 1].t <= from.t) span++;
		const progress = Math.abs(to.v - from.v);
		const middle = Math.round((from.t + to.t) / 2);
		// What was one span before turns the short way, as it did.
		if (progress <= 1 + 1e-9 || 2 * turns[2 * span] * progress < HALF_TURN || middle === from.t) continue;
		after = insertOnCurve(after, middle, context);
		i--;
	}
	return after;
}

/**
 * Applies an edit that may make keys on the curve (a split, a shape into keys) to the keys of a vector channel: new
 * keys get the vector that is there, and handles, whose rises count in progress, are measured anew in their own span.
 */
export function editVector(
	keys: readonly VectorKey[],
	curve: VectorCurve,
	context: CurveContext,
	edit: (keys: Key[]) => Key[],
): VectorKey[] {
	const { mix } = curve;
	const after = withoutHalfTurns(keys, curve, context, edit(progressKeys(keys)));
	let span = 0;
	return after.map((key, i): VectorKey => {
		while (span + 2 < keys.length && keys[span + 1].t <= key.t) span++;
		// A whole progress is an old key, wherever it has been moved to.
		const own = Math.abs(key.v - Math.round(key.v)) < 1e-9 ? keys[Math.round(key.v)] : undefined;
		const vector = own?.vector ?? between(keys[span], keys[span + 1] ?? keys[span], key.v - span, mix);
		const { left, right, tangents } = key;
		const gained = i === 0 ? 0 : key.v - after[i - 1].v;
		const next = i + 1 < after.length ? after[i + 1].v - key.v : 0;
		const scale = (side: HandleSide | undefined, change: number) =>
			side?.rise === undefined ? side : { ...side, rise: change === 0 ? 0 : side.rise / change };
		const made: VectorKey = {
			t: key.t,
			v: 0,
			vector,
			shape: own?.shape.kind === 'tangents' && key.shape.kind === 'linear' ? own.shape : key.shape,
		};
		if (tangents) made.tangents = tangents;
		if (left) made.left = scale(left, gained);
		if (right) made.right = scale(right, next);
		return made;
	});
}

/** Turns the rises of handles about, which count in progress, for keys that were put in reverse order. */
export function turnRises(keys: readonly Key[], from: number, to: number): Key[] {
	const turn = (side: HandleSide | undefined) =>
		side?.rise === undefined ? side : { ...side, rise: -side.rise };
	return keys.map((key) => {
		if (key.t < from || key.t > to) return key;
		const made = { ...key };
		if (key.left && key.t > from) made.left = turn(key.left);
		if (key.right && key.t < to) made.right = turn(key.right);
		return made;
	});
}
