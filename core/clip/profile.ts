/** Values of a channel over a stretch of time, for pictures of it. */
import type { FlatCurve } from '../../player/curve/flat';
import { evaluateCurve } from '../../player/curve/evaluate';
import { channelsOfClip, type Clip, type Doc } from '../document/types';
import { curveOf } from './compile';

/** `count` values at equal distances over [from, to] (ticks), written into `out`; gives their range. */
export function sampleProfile(
	curve: FlatCurve,
	from: number,
	to: number,
	out: Float64Array,
): { low: number; high: number } {
	let low = Infinity;
	let high = -Infinity;
	const step = (to - from) / Math.max(1, out.length - 1);
	for (let i = 0; i < out.length; i++) {
		const v = evaluateCurve(curve, from + i * step);
		out[i] = v;
		if (v < low) low = v;
		if (v > high) high = v;
	}
	return { low, high };
}

/** How fast a curve is at most, and where. */
export interface PeakSpeed {
	/** Units of the channel a tick; Infinity where the value jumps or a tangent stands upright. */
	speed: number;
	/** Ticks. */
	at: number;
}

const SPEED_CELLS = 256;
/** Share of the stretch that a slope is taken over at last. */
const SLOPE_SHARE = 1e-5;
/** A slope that grows like this when it is taken over a part of that is the slope of a jump. */
const STEEPENS = 2.5;

/** The largest speed of a curve over [from, to] in ticks, both ends included as they are seen from inside. */
export function peakSpeed(curve: FlatCurve, from: number, to: number): PeakSpeed {
	const length = to - from;
	if (!(length > 0)) return { speed: 0, at: from };
	// The last instant belongs to what comes after it.
	const end = to - 1e-9 * length;
	const slope = (a: number, b: number) =>
		Math.abs(evaluateCurve(curve, b) - evaluateCurve(curve, a)) / (b - a);
	const placeOf = (i: number) => from + ((end - from) * i) / SPEED_CELLS;
	let best = 0;
	const slopes = Array.from({ length: SPEED_CELLS }, (_, i) => slope(placeOf(i), placeOf(i + 1)));
	slopes.forEach((own, i) => {
		if (own > slopes[best]) best = i;
	});
	/** Closes in on the steeper half until a stretch is short enough. */
	const closeIn = (low: number, high: number, share: number): [number, number] => {
		while (high - low > share * length) {
			const middle = (low + high) / 2;
			if (slope(low, middle) > slope(middle, high)) high = middle;
			else low = middle;
		}
		return [low, high];
	};
	const near = closeIn(placeOf(best), placeOf(best + 1), SLOPE_SHARE);
	const nearer = closeIn(...near, SLOPE_SHARE / 16);
	const speed = slope(...near);
	const isJump = speed > 0 && slope(...nearer) > STEEPENS * speed;
	return { speed: isJump ? Infinity : speed, at: near[0] <= from ? from : near[1] >= end ? to : near[0] };
}

/**
 * The largest speed of a curve over [from, to] in ticks, the jumps at its keys left out: of all its spans, each as it is
 * seen from inside.
 */
export function peakBetweenKeys(curve: FlatCurve, from: number, to: number): PeakSpeed {
	const inside = Array.from(curve.times.subarray(0, curve.count)).filter((t) => t > from && t < to);
	const ends = [from, ...inside, to];
	return ends
		.slice(1)
		.map((end, i) => peakSpeed(curve, ends[i], end))
		.reduce((fastest, own) => (own.speed > fastest.speed ? own : fastest));
}

/** Profiles of the liveliest channels of a clip, each as `points` values in 0…1: what a thumbnail shows. */
export function clipRidges(doc: Doc, clip: Clip, count: number, points: number): number[][] {
	const buffer = new Float64Array(points);
	return channelsOfClip(doc, clip.id)
		.filter((channel) => channel.keys.length > 1)
		.sort((a, b) => b.keys.length - a.keys.length || (a.id < b.id ? -1 : 1))
		.slice(0, count)
		.map((channel) => {
			const { low, high } = sampleProfile(curveOf(channel, clip), 0, clip.length, buffer);
			return Array.from(buffer, (v) => Math.round((1000 * (v - low)) / (high - low || 1)) / 1000);
		});
}
