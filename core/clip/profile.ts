/** Values of a channel over a stretch of time, for pictures of it. */
import type { CompiledCurve } from '../curve/compile';
import { evaluateCurve } from '../curve/evaluate';

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
