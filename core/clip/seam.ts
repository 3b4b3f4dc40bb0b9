/** Where the end of a looping clip meets its start: how far each channel is from closing, and what closes it. */
import { evaluateCurve } from '../../player/curve/evaluate';
import type { FlatCurve } from '../../player/curve/flat';
import { TICKS_PER_SECOND } from '../../player/time';
import type { Clip } from '../document/types';

export interface Seam {
	/** v(L) − v(0); for rotations in degrees, whole turns taken off; 0 where the channel accumulates. */
	gap: number;
	/** Difference of the slopes at L and at 0, value units a second; twice the end slope for alternating clips. */
	slopeGap: number;
}

/** How far from an end a slope is read, in ticks. */
const STEP = 8;

export function seamOf(
	curve: FlatCurve,
	clip: Clip,
	options: { rotates: boolean; accumulates: boolean },
): Seam {
	const { length } = clip;
	const [start, end] = [evaluateCurve(curve, 0), evaluateCurve(curve, length)];
	const slopeStart = ((evaluateCurve(curve, STEP) - start) / STEP) * TICKS_PER_SECOND;
	const slopeEnd = ((end - evaluateCurve(curve, length - STEP)) / STEP) * TICKS_PER_SECOND;
	if (clip.loop.mode === 'alternate') {
		// There and back: the value always meets itself, the direction turns about at both ends.
		return { gap: 0, slopeGap: 2 * Math.max(Math.abs(slopeStart), Math.abs(slopeEnd)) };
	}
	const change = end - start;
	const gap = options.accumulates ? 0 : options.rotates ? change - 360 * Math.round(change / 360) : change;
	return { gap, slopeGap: slopeStart - slopeEnd };
}
