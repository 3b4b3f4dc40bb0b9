/** What a formula computes, as curves: the player needs no parser. */
import { THIRD } from '../../../player/curve/build';
import type { Trace } from '../../clip/trace';
import { fit } from '../../fit/fit';
import type { Sampler } from '../../fit/sampler';
import { FORMULA_LOOKS } from '../../tracks/track';
import { secondsToTicks, ticksToSeconds } from '../../../player/time';
import { encodeCurve, type ShapeTable, type Spanned, type WrittenCurve } from './encode';

/** The keys of a sampler of one number on whole ticks; of those that fall onto one, the earlier gives way. */
function spannedOf({ interpolation, times, values }: Sampler, length: number): Spanned {
	const isCubic = interpolation === 'CUBICSPLINE';
	const stride = isCubic ? 3 : 1;
	const ticks = Array.from(times, (seconds) => Math.min(length, secondsToTicks(seconds)));
	for (let i = ticks.length - 2; i >= 0; i--) ticks[i] = Math.min(ticks[i], ticks[i + 1] - 1);
	const value = (i: number) => values[i * stride + (isCubic ? 1 : 0)];
	const spans = ticks.slice(1).map((next, i): Spanned['spans'][number] => {
		if (interpolation === 'STEP') return { kind: 'hold' };
		if (!isCubic) return { kind: 'linear' };
		const third = THIRD * ticksToSeconds(next - ticks[i]);
		return {
			outReach: THIRD,
			inReach: THIRD,
			outRise: third * values[i * stride + 2],
			inRise: -third * values[(i + 1) * stride],
		};
	});
	return {
		times: ticks,
		values: ticks.map((_, i) => value(i)),
		spans,
		ends: { before: 'hold', after: 'hold' },
	};
}

/** Where what a formula makes may jump: where it was found to, and at the ends of the round, where nobody looks beyond. */
export function jumpsOf(pieces: Trace['pieces'], length: number): number[] {
	return [0, ...pieces.filter(({ jump }) => jump).map(({ t }) => t), length];
}

/** Shares of the bound that the fit is given, one after another; rounding and whole ticks take the rest. */
const SHARES = [0.7, 0.35, 0.1];

/**
 * A curve of what a formula makes of a clip of `length` ticks. Throws a RangeError where none stays within the bound at
 * the places that are looked at.
 */
export function encodeComputed(
	{ read, pieces }: Trace,
	bound: number,
	length: number,
	table: ShapeTable,
): { curve: WrittenCurve; error: number } {
	const source = {
		size: 1,
		start: 0,
		end: length,
		pieces,
		looks: FORMULA_LOOKS,
		evaluate: (t: number, out: Float64Array) => (out[0] = read(t)),
	};
	const truth = {
		read: (t: number) => read(t),
		marks: pieces.map(({ t }) => t),
		jumps: jumpsOf(pieces, length),
	};
	let failed: unknown;
	for (const share of SHARES)
		try {
			const spanned = spannedOf(fit(source, share * bound).sampler, length);
			return encodeCurve(spanned, truth, bound, length, table);
		} catch (error) {
			if (!(error instanceof RangeError)) throw error;
			failed = error;
		}
	throw failed;
}
