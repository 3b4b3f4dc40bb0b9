/** From any value over time to few keys with handles: cleaning up recordings, and reducing channels that have too many. */
import { compileCurve } from '../curve/compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import { PLAYS_ONCE } from '../curve/handles';
import type { HandleSide, Key } from '../curve/types';
import type { Shape } from '../../player/easing/shape';
import { fitCubic } from './cubic';
import { sampleRuns } from './samples';
import type { Source } from './source';
import { secondsToTicks, TICKS_PER_SECOND } from '../../player/time';
import type { Samples } from './take-filter';

const HOLDS = { before: 'hold', after: 'hold' } as const;

export interface KeysFromSource {
	keys: Key[];
	/** Largest and root mean square deviation from the source. */
	largest: number;
	rms: number;
}

/** Samples as a value over time, straight between them. */
export function sourceOfSamples({ times, values }: Samples): Source {
	let at = 0;
	return {
		size: 1,
		start: times[0],
		end: times[times.length - 1],
		pieces: Array.from(times, (t) => ({ t, jump: false, degree: 1 })),
		evaluate(t, out) {
			if (t < times[at]) at = 0;
			while (at + 2 < times.length && times[at + 1] <= t) at++;
			const x = (t - times[at]) / (times[at + 1] - times[at] || 1);
			out[0] = values[at] + (values[at + 1] - values[at]) * Math.min(1, Math.max(0, x));
		},
	};
}

/** Slopes on the two sides of a key that differ less than this share are one: its handles are joined. */
const JOINED = 0.02;

/** The keys of a cubic sampler: its tangents as handles of a third. */
function keysOf(times: Float32Array, values: Float32Array): Key[] {
	const keys: Key[] = [];
	for (let i = 0; i < times.length; i++) {
		const [into, value, out] = values.subarray(3 * i, 3 * i + 3);
		const t = secondsToTicks(times[i]);
		// Of two keys at one tick (a jump) the later counts, and the span before it holds on to its own value.
		if (keys.length > 0 && keys.at(-1)!.t >= t) {
			const earlier = keys.pop()!;
			if (keys.length > 0 && earlier.t - 1 > keys.at(-1)!.t)
				keys.push({ ...earlier, t: earlier.t - 1, shape: { kind: 'hold' }, right: undefined });
		}
		const before = keys.at(-1)?.t;
		const after = i + 1 < times.length ? secondsToTicks(times[i + 1]) : undefined;
		const inside = before !== undefined && after !== undefined;
		const joined = inside && Math.abs(into - out) <= JOINED * Math.max(Math.abs(into), Math.abs(out));
		const slope = (into + out) / 2;
		const side = (tangent: number, ticks: number): HandleSide => ({
			mode: joined ? 'joined' : 'split',
			rise: ((joined ? slope : tangent) * ticks) / TICKS_PER_SECOND / 3,
		});
		const key: Key = { t, v: value, shape: { kind: 'handles' } };
		if (before !== undefined) key.left = side(into, before - t);
		if (after !== undefined) key.right = side(out, after - t);
		keys.push(key);
	}
	return keys.map((key) => {
		const { right, ...rest } = key;
		return right ? key : rest;
	});
}

function deviation(source: Source, keys: readonly Key[]): { largest: number; rms: number } {
	const curve = compileCurve(keys, HOLDS, PLAYS_ONCE);
	const truth = new Float64Array(1);
	const marks = [source.start, ...source.pieces.map((piece) => piece.t), source.end];
	let [largest, sum, count] = [0, 0, 0];
	for (let m = 0; m + 1 < marks.length; m++) {
		const length = marks[m + 1] - marks[m];
		if (!(length > 0)) continue;
		const cells = Math.max(4, Math.min(200, Math.ceil(length / (TICKS_PER_SECOND / 120))));
		for (let i = 0; i < cells; i++) {
			// Each stretch at its start and inside: its end may be a jump.
			const t = marks[m] + (length * (i + (i === 0 ? 1e-6 : 0))) / cells;
			source.evaluate(t, truth);
			const off = Math.abs(evaluateCurve(curve, t) - truth[0]);
			largest = Math.max(largest, off);
			sum += off * off;
			count++;
		}
	}
	return { largest, rms: Math.sqrt(sum / Math.max(1, count)) };
}

const ROUNDS = 6;

/**
 * Few keys with handles that stay within `tolerance` of a source of one number (as measured between its samples). The
 * first key stands at its start, the last at its end. Throws a RangeError for a tolerance that is not above 0.
 */
export function keysWithin(source: Source, tolerance: number): KeysFromSource {
	if (!(tolerance > 0)) throw new RangeError('the tolerance must be above 0');
	let share = 0.95;
	let best: KeysFromSource | null = null;
	for (let round = 0; round < ROUNDS; round++) {
		const bound = tolerance * share;
		const { times, values } = fitCubic(sampleRuns(source, bound / 4), source, bound);
		const keys = keysOf(times, values);
		const made = { keys, ...deviation(source, keys) };
		if (made.largest <= tolerance) return made;
		if (!best || made.largest < best.largest) best = made;
		share *= 0.7;
	}
	return best!;
}

const LINEAR: Shape = { kind: 'linear' };

/** Straight keys at even distances, and one at the end: every `step` ticks of a source of one number. */
export function evenKeys(source: Source, step: number): Key[] {
	const value = new Float64Array(1);
	const keys: Key[] = [];
	const put = (t: number) => {
		source.evaluate(t, value);
		keys.push({ t, v: value[0], shape: LINEAR });
	};
	for (let t = source.start; t < source.end; t += step) put(t);
	put(source.end);
	return keys;
}
