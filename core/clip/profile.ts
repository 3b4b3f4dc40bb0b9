/** Values of a channel over a stretch of time, for pictures of it. */
import type { CompiledCurve } from '../curve/compile';
import { evaluateCurve } from '../curve/evaluate';
import { channelsOfClip, type Clip, type Doc } from '../document/types';
import { curveOf } from './compile';

/** `count` values at equal distances over [from, to] (ticks), written into `out`; gives their range. */
export function sampleProfile(
	curve: CompiledCurve,
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
