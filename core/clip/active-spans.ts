/**
 * Many channels at one time, in order of time: the span that each channel is in lies in one flat array, so that a
 * frame of forward play reads memory in a row and looks nothing up.
 */
import {
	SPAN_BEZIER,
	SPAN_CUBIC,
	SPAN_HOLD,
	SPAN_LINEAR,
	STRIDE,
	type CompiledCurve,
} from '../curve/compile';
import { evaluateCurve, seekSpan } from '../curve/evaluate';
import { solveMonotoneCubic } from '../easing/cubic-bezier';

/** Numbers a channel: from and to (ticks), then the coefficients of its span as in `compile.ts`. */
const BLOCK = 2 + STRIDE;
/** Not a polynomial: the curve itself is asked. */
const ASK_CURVE = 255;

export class ActiveSpans {
	private readonly block: Float64Array;
	private readonly kinds: Uint8Array;
	private readonly values: Float64Array;

	constructor(private readonly curves: readonly CompiledCurve[]) {
		// An empty stretch at NaN: the first evaluation loads every channel.
		this.block = new Float64Array(curves.length * BLOCK).fill(NaN);
		this.kinds = new Uint8Array(curves.length);
		this.values = new Float64Array(curves.length);
	}

	/** The values of all channels at `t`, in a buffer that the next call writes again. Allocates nothing. */
	evaluate(t: number): Float64Array {
		const { block: k, kinds, values } = this;
		for (let i = 0, at = 0; i < values.length; i++, at += BLOCK) {
			if (!(t >= k[at] && t < k[at + 1])) this.load(i, t);
			const dt = t - k[at];
			switch (kinds[i]) {
				case SPAN_HOLD:
					values[i] = k[at + 9];
					break;
				case SPAN_LINEAR:
					values[i] = k[at + 9] + dt * k[at + 2];
					break;
				case SPAN_CUBIC: {
					const x = dt * k[at + 2];
					values[i] = k[at + 9] + ((k[at + 3] * x + k[at + 4]) * x + k[at + 5]) * x;
					break;
				}
				case SPAN_BEZIER: {
					const u = solveMonotoneCubic(k[at + 3], k[at + 4], k[at + 5], dt * k[at + 2]);
					values[i] = k[at + 9] + ((k[at + 6] * u + k[at + 7]) * u + k[at + 8]) * u;
					break;
				}
				default:
					values[i] = evaluateCurve(this.curves[i], t);
			}
		}
		return values;
	}

	/** Brings in the span that a channel is in at `t`. */
	private load(i: number, t: number): void {
		const curve = this.curves[i];
		const { block, kinds } = this;
		const at = i * BLOCK;
		const last = curve.count - 1;
		if (t < curve.times[0] || t >= curve.times[last]) {
			const before = t < curve.times[0];
			const holds = last === 0 || (before ? curve.before : curve.after) === 'hold';
			block[at] = before ? -Infinity : curve.times[last];
			block[at + 1] = before ? curve.times[0] : Infinity;
			block[at + 9] = curve.values[before ? 0 : last];
			kinds[i] = holds ? SPAN_HOLD : ASK_CURVE;
			return;
		}
		const span = seekSpan(curve, t);
		curve.cursor = span;
		block[at] = curve.times[span];
		block[at + 1] = curve.times[span + 1];
		for (let k = 0; k < STRIDE; k++) block[at + 2 + k] = curve.coefficients[span * STRIDE + k];
		kinds[i] = curve.kinds[span] <= SPAN_BEZIER ? curve.kinds[span] : ASK_CURVE;
	}
}
