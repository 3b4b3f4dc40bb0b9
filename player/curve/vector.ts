/**
 * Colours and orientations over time: rows of four numbers at keys, and one progress curve that says how far each span
 * is. The progress of key i is i.
 */
import { mixColours, type ColourSpace } from '../maths/colour';
import { evaluateCurve, seekSpan } from './evaluate';
import type { FlatCurve } from './flat';

export interface VectorCurve {
	readonly progress: FlatCurve;
	/** How two neighbours are mixed: colours in a space, orientations the short way round. */
	readonly mix: ColourSpace | 'turn';
	/** The keys' numbers, four a key, and those at the end of the span that begins there: of turns, on the near side. */
	readonly starts: Float64Array;
	readonly ends: Float64Array;
	/** Of each span that turns, the angle between its ends and the inverse of its sine; 0, 0 where it is too small. */
	readonly turns: Float64Array;
	/**
	 * Eight numbers a span that is a cubic spline: the change over the span's time at its start and at its end; NaN
	 * first where it is none. Null where no span is.
	 */
	readonly tangents: Float64Array | null;
}

/** Below this angle (radians) a slerp is a straight line to within 1e-14. */
const LEAST_TURN = 1e-6;

/** Makes a curve of its progress and of rows of four numbers a key; what slerp (glTF 2.0, appendix C.4) needs is worked out once. */
export function buildVector(
	progress: FlatCurve,
	mix: VectorCurve['mix'],
	rows: ArrayLike<number>,
	tangents: Float64Array | null,
): VectorCurve {
	const { count } = progress;
	const starts = Float64Array.from(rows);
	const ends = starts.slice();
	const turns = new Float64Array(2 * count);
	for (let i = 0; i < count - 1; i++) {
		const at = 4 * i;
		let dot = 0;
		for (let k = at; k < at + 4; k++) dot += starts[k] * starts[k + 4];
		const near = mix === 'turn' && dot < 0 ? -1 : 1;
		for (let k = at; k < at + 4; k++) ends[k] = near * starts[k + 4];
		const angle = Math.acos(Math.min(1, Math.abs(dot)));
		if (mix === 'turn' && angle > LEAST_TURN) {
			turns[2 * i] = angle;
			turns[2 * i + 1] = 1 / Math.sin(angle);
		}
	}
	return { progress, mix, starts, ends, turns, tangents };
}

/** Time within the keys that a time outside them shows, as the ends say. */
function foldTime({ times, count, before, after }: FlatCurve, t: number): number {
	const [first, last] = [times[0], times[count - 1]];
	if (t >= first && t <= last) return t;
	const kind = t < first ? before : after;
	if (kind === 'hold' || last === first) return t < first ? first : last;
	const period = last - first;
	const round = Math.floor((t - first) / period);
	const local = Math.min(last, Math.max(first, t - round * period));
	return kind === 'alternate' && round % 2 !== 0 ? first + last - local : local;
}

/** The span that holds a time within the keys: the last one found, the one after it, or by search. */
function spanOf(progress: FlatCurve, t: number): number {
	const { times, cursor } = progress;
	if (t >= times[cursor] && t < times[cursor + 1]) return cursor;
	const last = progress.count - 1;
	return t >= times[last] ? last : seekSpan(progress, t);
}

/** glTF's cubic spline between two keys with tangents (glTF 2.0, appendix C.5), made a unit quaternion. */
function alongTangents(
	{ starts, ends }: VectorCurve,
	tangents: Float64Array,
	span: number,
	u: number,
	out: { [index: number]: number },
	at: number,
): void {
	const u2 = u * u;
	const u3 = u2 * u;
	let length = 0;
	for (let k = 0; k < 4; k++) {
		const v =
			(2 * u3 - 3 * u2 + 1) * starts[4 * span + k] +
			(u3 - 2 * u2 + u) * tangents[8 * span + k] +
			(3 * u2 - 2 * u3) * ends[4 * span + k] +
			(u3 - u2) * tangents[8 * span + 4 + k];
		out[at + k] = v;
		length += v * v;
	}
	const scale = 1 / (Math.sqrt(length) || 1);
	for (let k = 0; k < 4; k++) out[at + k] *= scale;
}

/** Writes the four numbers at a time in ticks, at `at`. Allocates nothing; moves the progress curve's cursor. */
export function evaluateVector(
	curve: VectorCurve,
	t: number,
	out: { [index: number]: number },
	at = 0,
): void {
	const { progress, mix, starts, ends, turns, tangents } = curve;
	if (t < progress.times[0] && progress.before === 'hold') {
		// The key itself, whatever its span starts with.
		for (let k = 0; k < 4; k++) out[at + k] = starts[k];
		return;
	}
	const local = foldTime(progress, t);
	const last = progress.count - 1;
	const span = spanOf(progress, local);
	const share = span === last ? 0 : evaluateCurve(progress, local) - span;
	if (tangents && span < last && !Number.isNaN(tangents[8 * span])) {
		alongTangents(curve, tangents, span, share, out, at);
		return;
	}
	const row = 4 * span;
	if (mix !== 'turn') {
		mixColours(starts, row, ends, row, share, mix, out, at);
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
	out[at] = from * starts[row] + to * ends[row];
	out[at + 1] = from * starts[row + 1] + to * ends[row + 1];
	out[at + 2] = from * starts[row + 2] + to * ends[row + 2];
	out[at + 3] = from * starts[row + 3] + to * ends[row + 3];
}
