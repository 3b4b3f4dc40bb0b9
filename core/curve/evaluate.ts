/** The one evaluator: the stage, the lanes, the checks, the fit and the exports all read curves through it. */
import { solveMonotoneCubic } from '../easing/cubic-bezier';
import { SPAN, STRIDE, type CompiledCurve } from './compile';

/** The span that holds `t`, for times within the keys: the last one, the next one, or a binary search. */
function seek(curve: CompiledCurve, t: number): number {
	const { times } = curve;
	let span = curve.cursor;
	if (t >= times[span]) {
		if (t < times[span + 1]) return span;
		if (t < times[span + 2]) return (curve.cursor = span + 1);
	}
	let low = 0;
	let high = curve.count - 1;
	while (high - low > 1) {
		span = (low + high) >> 1;
		if (times[span] <= t) low = span;
		else high = span;
	}
	return (curve.cursor = low);
}

function insideKeys(curve: CompiledCurve, t: number): number {
	if (t === curve.times[curve.count - 1]) return curve.values[curve.count - 1];
	const span = seek(curve, t);
	const k = curve.coefficients;
	const at = span * STRIDE;
	const v0 = curve.values[span];
	const dt = t - curve.times[span];
	switch (curve.kinds[span]) {
		case SPAN.hold:
			return v0;
		case SPAN.linear:
			return v0 + dt * k[at];
		case SPAN.cubic: {
			const x = dt * k[at];
			return v0 + ((k[at + 1] * x + k[at + 2]) * x + k[at + 3]) * x;
		}
		case SPAN.bezier: {
			const u = solveMonotoneCubic(k[at + 1], k[at + 2], k[at + 3], dt * k[at]);
			return v0 + ((k[at + 4] * u + k[at + 5]) * u + k[at + 6]) * u;
		}
		case SPAN.ease:
			return v0 + k[at + 1] * curve.eases[span]!(dt * k[at]);
		default:
			return curve.eases[span]!(dt * k[at]);
	}
}

function outsideKeys(curve: CompiledCurve, t: number, before: boolean): number {
	const lastIndex = curve.count - 1;
	const first = curve.times[0];
	const last = curve.times[lastIndex];
	switch (before ? curve.before : curve.after) {
		case 'hold':
			return curve.values[before ? 0 : lastIndex];
		case 'straight':
			return before
				? curve.values[0] + (t - first) * curve.startSlope
				: curve.values[lastIndex] + (t - last) * curve.endSlope;
	}
	const period = last - first;
	const round = Math.floor((t - first) / period);
	const local = t - round * period;
	const kind = before ? curve.before : curve.after;
	if (kind === 'alternate') return insideKeys(curve, round % 2 === 0 ? local : first + last - local);
	const travelled = kind === 'accumulate' ? round * (curve.values[lastIndex] - curve.values[0]) : 0;
	return insideKeys(curve, local) + travelled;
}

/**
 * The value of a channel at a time in ticks (any real number). Continuous from the right: at a key's tick it is the
 * key's value. Allocates nothing; moves the curve's cursor.
 */
export function evaluateCurve(curve: CompiledCurve, t: number): number {
	if (curve.count === 1) return curve.values[0];
	if (t < curve.times[0]) return outsideKeys(curve, t, true);
	if (t > curve.times[curve.count - 1]) return outsideKeys(curve, t, false);
	return insideKeys(curve, t);
}
