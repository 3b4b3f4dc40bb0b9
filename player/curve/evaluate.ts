/** The one evaluator: the stage, the lanes, the checks, the fit and the exports all read curves through it. */
import { solveMonotoneCubic } from '../easing/cubic-bezier';
import { SPAN_BEZIER, SPAN_CUBIC, SPAN_EASE, STRIDE, type FlatCurve } from './flat';

/** The span that holds `t`, for times from the first to before the last key: the next one, or a binary search. */
export function seekSpan(curve: FlatCurve, t: number): number {
	const { times } = curve;
	const next = curve.cursor + 1;
	if (next < curve.count - 1 && t >= times[next] && t < times[next + 1]) return next;
	let low = 0;
	let high = curve.count - 1;
	while (high - low > 1) {
		const middle = (low + high) >> 1;
		if (times[middle] <= t) low = middle;
		else high = middle;
	}
	return low;
}

/** What a hold, a linear or a cubic span adds to its first value, from the row at `at`, `dt` ticks from its start. */
export function cubicChange(k: Float64Array, at: number, dt: number): number {
	const x = dt * k[at];
	return ((k[at + 1] * x + k[at + 2]) * x + k[at + 3]) * x;
}

/** The same of a span with handles. */
export function bezierChange(k: Float64Array, at: number, dt: number): number {
	const u = solveMonotoneCubic(k[at + 1], k[at + 2], k[at + 3], dt * k[at]);
	return ((k[at + 4] * u + k[at + 5]) * u + k[at + 6]) * u;
}

function spanValue(curve: FlatCurve, span: number, t: number): number {
	const k = curve.coefficients;
	const at = span * STRIDE;
	const v0 = curve.values[span];
	const dt = t - curve.times[span];
	const kind = curve.kinds[span];
	if (kind <= SPAN_CUBIC) return v0 + cubicChange(k, at, dt);
	if (kind === SPAN_BEZIER) return v0 + bezierChange(k, at, dt);
	const eased = curve.eases[span]!(dt * k[at]);
	return kind === SPAN_EASE ? v0 + k[at + 1] * eased : eased;
}

function outsideKeys(curve: FlatCurve, t: number, before: boolean): number {
	const lastIndex = curve.count - 1;
	const first = curve.times[0];
	const last = curve.times[lastIndex];
	const kind = lastIndex === 0 ? 'hold' : before ? curve.before : curve.after;
	switch (kind) {
		case 'hold':
			return curve.values[before ? 0 : lastIndex];
		case 'straight':
			return before
				? curve.values[0] + (t - first) * curve.endSlopes[0]
				: curve.values[lastIndex] + (t - last) * curve.endSlopes[1];
	}
	const period = last - first;
	const round = Math.floor((t - first) / period);
	const local = t - round * period;
	if (kind === 'alternate') return evaluateCurve(curve, round % 2 === 0 ? local : first + last - local);
	const travelled = kind === 'accumulate' ? round * (curve.values[lastIndex] - curve.values[0]) : 0;
	// Rounding may push a place just inside a round onto its ends.
	return evaluateCurve(curve, Math.min(last, Math.max(first, local))) + travelled;
}

/** What is not in the span found last: another span, the last key, or outside. */
function elsewhere(curve: FlatCurve, t: number): number {
	const last = curve.count - 1;
	if (t < curve.times[0]) return outsideKeys(curve, t, true);
	if (t > curve.times[last]) return outsideKeys(curve, t, false);
	if (t === curve.times[last]) return curve.values[last];
	return spanValue(curve, (curve.cursor = seekSpan(curve, t)), t);
}

/**
 * The value of a channel at a time in ticks (any real number). Continuous from the right: at a key's tick it is the
 * key's value. Allocates nothing; moves the curve's cursor.
 */
export function evaluateCurve(curve: FlatCurve, t: number): number {
	const { times, cursor } = curve;
	return t >= times[cursor] && t < times[cursor + 1] ? spanValue(curve, cursor, t) : elsewhere(curve, t);
}
