/**
 * Colours and orientations over time: their keys hold four numbers, and one progress curve says how far each span is.
 * The progress of key i is i, so that spans, shapes, handles and ends are those of any other curve.
 */
import { mixColours } from '../pose/colour';
import { slerp } from '../pose/quaternion';
import type { ColourSpace } from '../pose/colour';
import { TICKS_PER_SECOND } from '../time';
import { compileCurve, type CompiledCurve } from './compile';
import { evaluateCurve, seekSpan } from './evaluate';
import type { CurveContext } from './handles';
import { insertOnCurve } from './split';
import type { EndKind, Ends, HandleSide, Key } from './types';
import type { Four } from '../pose/vector';

export interface VectorCurve {
	readonly keys: readonly Key[];
	readonly progress: CompiledCurve;
	/** How two neighbours are mixed: colours in a space, orientations the short way round. */
	readonly mix: ColourSpace | 'turn';
	/** The keys' numbers, four a key; of turns, those of the next key on the near side are `ends`. */
	readonly starts: Float64Array;
	readonly ends: Float64Array;
	/** Of each span that turns, the angle between its ends and the inverse of its sine; 0, 0 where it is too small. */
	readonly turns: Float64Array;
}

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
	keys: readonly Key[],
	ends: Ends,
	context: CurveContext,
	mix: VectorCurve['mix'],
): VectorCurve {
	const own: Ends = { before: vectorEnd(ends.before), after: vectorEnd(ends.after) };
	const progress = compileCurve(progressKeys(keys), own, { ...context, accumulates: false });
	return { keys, mix, progress, ...spanTurns(keys, mix) };
}

/** Below this angle (radians) a slerp is a straight line to within 1e-14. */
const LEAST_TURN = 1e-6;

/** What slerp (glTF 2.0, appendix C.4) needs of each span, worked out once. */
function spanTurns(keys: readonly Key[], mix: VectorCurve['mix']) {
	const starts = new Float64Array(4 * keys.length);
	const ends = new Float64Array(4 * keys.length);
	const turns = new Float64Array(2 * keys.length);
	keys.forEach((key, i) => {
		const next = (keys[i + 1] ?? key).vector!;
		const own = key.vector!;
		const dot = own[0] * next[0] + own[1] * next[1] + own[2] * next[2] + own[3] * next[3];
		const near = mix === 'turn' && dot < 0 ? -1 : 1;
		starts.set(own, 4 * i);
		for (let k = 0; k < 4; k++) ends[4 * i + k] = near * next[k];
		const angle = Math.acos(Math.min(1, Math.abs(dot)));
		if (mix === 'turn' && angle > LEAST_TURN) {
			turns[2 * i] = angle;
			turns[2 * i + 1] = 1 / Math.sin(angle);
		}
	});
	return { starts, ends, turns };
}

/** Time within the keys that a time outside them shows, as the ends say. */
function foldTime({ times, count, before, after }: CompiledCurve, t: number): number {
	const [first, last] = [times[0], times[count - 1]];
	if (t >= first && t <= last) return t;
	const kind = t < first ? before : after;
	if (kind === 'hold' || last === first) return t < first ? first : last;
	const period = last - first;
	const round = Math.floor((t - first) / period);
	const local = Math.min(last, Math.max(first, t - round * period));
	return kind === 'alternate' && round % 2 !== 0 ? first + last - local : local;
}

/** glTF's cubic spline between two keys with tangents (glTF 2.0, appendix C.5), made a unit quaternion. */
function alongTangents(from: Key, to: Key, u: number, out: { [index: number]: number }, at: number): void {
	const seconds = (to.t - from.t) / TICKS_PER_SECOND;
	const u2 = u * u;
	const u3 = u2 * u;
	let length = 0;
	for (let k = 0; k < 4; k++) {
		const v =
			(2 * u3 - 3 * u2 + 1) * from.vector![k] +
			seconds * (u3 - 2 * u2 + u) * from.tangents!.right[k] +
			(3 * u2 - 2 * u3) * to.vector![k] +
			seconds * (u3 - u2) * to.tangents!.left[k];
		out[at + k] = v;
		length += v * v;
	}
	const scale = 1 / (Math.sqrt(length) || 1);
	for (let k = 0; k < 4; k++) out[at + k] *= scale;
}

/** The vector at a share of the way from one key to the next, without the tangents of a cubic. */
function between(from: Key, to: Key, share: number, mix: VectorCurve['mix']): Four {
	const out: Four = [0, 0, 0, 1];
	if (mix === 'turn') slerp(from.vector!, to.vector!, share, out);
	else mixColours(from.vector!, to.vector!, share, mix, out, 0);
	return out;
}

/** Radians between two orientations from which on a shape that overshoots could take the other way round. */
const HALF_TURN = 0.99 * Math.PI;

/** Puts keys on the curve where two new ones are half a turn or more apart: between such the short way is another. */
function withoutHalfTurns({ keys, turns }: VectorCurve, context: CurveContext, made: Key[]): Key[] {
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
export function editVector(curve: VectorCurve, context: CurveContext, edit: (keys: Key[]) => Key[]): Key[] {
	const { keys, mix } = curve;
	const after = withoutHalfTurns(curve, context, edit(progressKeys(keys)));
	let span = 0;
	return after.map((key, i): Key => {
		while (span + 2 < keys.length && keys[span + 1].t <= key.t) span++;
		// A whole progress is an old key, wherever it has been moved to.
		const own = Math.abs(key.v - Math.round(key.v)) < 1e-9 ? keys[Math.round(key.v)] : undefined;
		const vector = own?.vector ?? between(keys[span], keys[span + 1] ?? keys[span], key.v - span, mix);
		const { left, right } = key;
		const gained = i === 0 ? 0 : key.v - after[i - 1].v;
		const next = i + 1 < after.length ? after[i + 1].v - key.v : 0;
		const scale = (side: HandleSide | undefined, change: number) =>
			side?.rise === undefined ? side : { ...side, rise: change === 0 ? 0 : side.rise / change };
		const made: Key = {
			...key,
			v: 0,
			vector,
			shape: own?.shape.kind === 'tangents' && key.shape.kind === 'linear' ? own.shape : key.shape,
		};
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

/** The span that holds a time within the keys: the last one found, the one after it, or by search. */
function spanOf(progress: CompiledCurve, t: number): number {
	const { times, cursor } = progress;
	if (t >= times[cursor] && t < times[cursor + 1]) return cursor;
	const last = progress.count - 1;
	return t >= times[last] ? last : seekSpan(progress, t);
}

/** Writes the four numbers of a vector channel at a time in ticks, at `at`. Allocates nothing for turns and sRGB. */
export function evaluateVector(
	{ keys, progress, mix, starts, ends, turns }: VectorCurve,
	t: number,
	out: { [index: number]: number },
	at = 0,
): void {
	const local = foldTime(progress, t);
	const last = keys.length - 1;
	const span = spanOf(progress, local);
	const share = span === last ? 0 : evaluateCurve(progress, local) - span;
	if (span < last && keys[span].shape.kind === 'tangents') {
		alongTangents(keys[span], keys[span + 1], share, out, at);
		return;
	}
	if (mix !== 'turn') {
		mixColours(keys[span].vector!, keys[Math.min(last, span + 1)].vector!, share, mix, out, at);
		return;
	}
	const angle = turns[2 * span];
	let from = 1 - share;
	let to = share;
	if (angle !== 0) {
		const inverse = turns[2 * span + 1];
		from = Math.sin(angle * from) * inverse;
		to = Math.sin(angle * to) * inverse;
	}
	const row = 4 * span;
	out[at] = from * starts[row] + to * ends[row];
	out[at + 1] = from * starts[row + 1] + to * ends[row + 1];
	out[at + 2] = from * starts[row + 2] + to * ends[row + 2];
	out[at + 3] = from * starts[row + 3] + to * ends[row + 3];
}
