/** How fast a channel is, for lanes, bench and commands that tell it. */
import { curveOf } from '$core/clip/compile';
import { peakBetweenKeys, type PeakSpeed } from '$core/clip/profile';
import { kindOf, type Channel, type Clip } from '$core/document/types';
import { evaluateCurve } from '$player/curve/evaluate';
import type { FlatCurve } from '$player/curve/flat';
import { TICKS_PER_SECOND } from '$player/time';
import { writeNumber } from '$lib/ui/number-text';

/** Ticks that a slope is taken over. */
const SLOPE = 8;
/** So long before a tick a jump at it has not come yet. */
const JUST_BEFORE = 1e-3;

/** Whether a channel has a speed that is told: a number's. */
export const hasSpeed = ({ property }: Channel) => kindOf(property) === 'number';

const peaks = new WeakMap<FlatCurve, PeakSpeed & { length: number }>();

/** The fastest moment of a channel in its clip, jumps left out; in units a tick. */
export function fastestOf(channel: Channel, clip: Clip): PeakSpeed {
	const curve = curveOf(channel, clip);
	const known = peaks.get(curve);
	if (known?.length === clip.length) return known;
	const peak = { ...peakBetweenKeys(curve, 0, clip.length), length: clip.length };
	peaks.set(curve, peak);
	return peak;
}

/** Speed at a tick, in units a tick: at a corner that of the faster side, and a jump there is none. */
export function speedAt(curve: FlatCurve, t: number): number {
	const slope = (from: number, to: number) =>
		Math.abs(evaluateCurve(curve, to) - evaluateCurve(curve, from)) / (to - from);
	return Math.max(slope(t - SLOPE, t - JUST_BEFORE), slope(t, t + SLOPE));
}

/** A speed in words, such as "320 px/s"; the unit as it is written behind a number. */
export function tellSpeed(perTick: number, unit: string): string {
	const perSecond = perTick * TICKS_PER_SECOND;
	const number = perTick === Infinity ? '∞' : writeNumber(perSecond, Math.abs(perSecond) >= 100 ? 0 : 2);
	return `${number}${unit}/s`;
}
