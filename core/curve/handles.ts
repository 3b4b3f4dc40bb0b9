/** Where the handles of a span stand: modes, smooth slopes and the limits on reach. */
import { shapeHandles, THIRD, type SpanHandles } from '../../player/curve/build';
import type { HandleSide, Key } from './types';

/** What a curve must know of its clip for smooth keys at the ends. Times in ticks. */
export interface CurveContext {
	repeats: boolean;
	length: number;
	accumulates: boolean;
}

export const PLAYS_ONCE: CurveContext = { repeats: false, length: 0, accumulates: false };

/**
 * Slope at a middle key by Steffen's monotone method: the curve stays within its keys.
 * Source: M. Steffen, "A simple method for monotonic interpolation in one dimension", A&A 239 (1990), eq. 11.
 */
function steffenSlope(before: Key, key: Key, after: Key): number {
	const h0 = key.t - before.t;
	const h1 = after.t - key.t;
	const s0 = (key.v - before.v) / h0;
	const s1 = (after.v - key.v) / h1;
	if (s0 * s1 <= 0) return 0;
	const parabola = (s0 * h1 + s1 * h0) / (h0 + h1);
	return Math.sign(s0) * Math.min(2 * Math.abs(s0), 2 * Math.abs(s1), Math.abs(parabola));
}

/**
 * The slope (value units a tick) that a smooth side of key `index` has. The ends are flat, unless the clip repeats
 * and keys stand on both sides of the seam: then their neighbours are taken across it.
 */
export function smoothSlope(keys: readonly Key[], index: number, context: CurveContext): number {
	const last = keys.length - 1;
	if (last < 1) return 0;
	if (index > 0 && index < last) return steffenSlope(keys[index - 1], keys[index], keys[index + 1]);
	const onSeam = context.repeats && keys[0].t === 0 && keys[last].t === context.length;
	const change = context.accumulates ? keys[last].v - keys[0].v : 0;
	// A value that jumps at the seam has no common slope there.
	if (!onSeam || keys[last].v - keys[0].v !== change) return 0;
	const before = keys[last - 1];
	const after = keys[1];
	return steffenSlope({ ...before, t: before.t - context.length, v: before.v - change }, keys[0], after);
}

function sideOffset(
	side: HandleSide | undefined,
	spanTicks: number,
	chordRise: number,
	smooth: () => number,
): { reach: number; rise: number } {
	if (!side) return { reach: THIRD, rise: chordRise * THIRD };
	if (side.mode === 'smooth') return { reach: THIRD, rise: smooth() * spanTicks * THIRD };
	const reach = Math.max(0, side.reach ?? THIRD);
	return { reach, rise: side.mode === 'flat' ? 0 : (side.rise ?? chordRise * reach) };
}

/**
 * Whether a cubic with these reaches goes forward in time all along: its derivative over the parameter, a quadratic,
 * has no root inside. Up to 1 all do; a part of such a span may have one up to 4/3.
 */
function goesForward(out: number, into: number): boolean {
	return (out <= 1 && into <= 1) || out + into - 1 <= Math.sqrt(out * into) + 1e-9;
}

/** A handle no longer than its span. */
function shortened({ reach, rise }: { reach: number; rise: number }): { reach: number; rise: number } {
	return reach > 1 ? { reach: 1, rise: rise / reach } : { reach, rise };
}

/** The handles of the span from key `index` to the next, whatever the span's shape is. */
export function spanHandles(keys: readonly Key[], index: number, context: CurveContext): SpanHandles {
	const from = keys[index];
	const to = keys[index + 1];
	const ticks = to.t - from.t;
	const change = to.v - from.v;
	let out = sideOffset(from.right, ticks, change, () => smoothSlope(keys, index, context));
	let into = sideOffset(to.left, ticks, -change, () => -smoothSlope(keys, index + 1, context));
	if (!goesForward(out.reach, into.reach)) [out, into] = [shortened(out), shortened(into)];
	return { outReach: out.reach, outRise: out.rise, inReach: into.reach, inRise: into.rise };
}

/** Handles that give a span's Bezier shape, or null when the shape is no single Bezier. */
export function bezierOf(keys: readonly Key[], index: number, context: CurveContext): SpanHandles | null {
	const { shape, v } = keys[index];
	return shape.kind === 'handles'
		? spanHandles(keys, index, context)
		: shapeHandles(shape, keys[index + 1].v - v);
}
