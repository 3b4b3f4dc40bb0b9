/**
 * Many channels at one time, in order of time. What each channel does in the span that it is in lies in flat arrays, so
 * that a frame of forward play reads memory in a row, and looks nothing up until some channel comes to its next key.
 */
import { SPAN_BEZIER, SPAN_CUBIC, SPAN_HOLD, SPAN_LINEAR, STRIDE, type FlatCurve } from './flat';
import { bezierChange, cubicChange, evaluateCurve, seekSpan } from './evaluate';

/** In the place of a span's kind: beyond the keys, where the curve's ends say what it does. */
const OUTSIDE = 255;
/** A time before all others. It is finite, so that a slope of 0 times it is 0 (0 · Infinity would be NaN). */
const LONG_AGO = -Number.MAX_VALUE;

export class ActiveSpans {
	/** Ticks from which, and until which, a channel stays in its span. */
	private readonly since: Float64Array;
	private readonly until: Float64Array;
	/** Value at `since` and slope a tick, which is 0 for all but straight spans. */
	private readonly starts: Float64Array;
	private readonly slopes: Float64Array;
	private readonly values: Float64Array;
	private readonly kinds: Uint8Array;
	/** Channels that are neither held nor straight now, kind by kind: the first of each list, as many as its count. */
	private readonly cubics: Int32Array;
	private cubicCount = 0;
	private readonly beziers: Int32Array;
	private bezierCount = 0;
	private readonly others: Int32Array;
	private otherCount = 0;
	/** Coefficients of cubics and Beziers, STRIDE a channel. */
	private readonly rows: Float64Array;
	/** Where no channel leaves its span. */
	private allSince = NaN;
	private allUntil = NaN;

	constructor(private readonly curves: readonly FlatCurve[]) {
		const count = curves.length;
		// An empty stretch at NaN: the first evaluation loads every channel.
		this.since = new Float64Array(count).fill(NaN);
		this.until = new Float64Array(count).fill(NaN);
		this.starts = new Float64Array(count);
		this.slopes = new Float64Array(count);
		this.values = new Float64Array(count);
		this.kinds = new Uint8Array(count);
		this.cubics = new Int32Array(count);
		this.beziers = new Int32Array(count);
		this.others = new Int32Array(count);
		this.rows = new Float64Array(count * STRIDE);
	}

	/** The values of all channels at `t`, in a buffer that the next call writes again. Allocates nothing. */
	evaluate(t: number): Float64Array {
		if (!(t >= this.allSince && t < this.allUntil)) this.update(t);
		const { since, starts, slopes, values, rows, cubics, beziers, others } = this;
		const curved = this.cubicCount + this.bezierCount + this.otherCount;
		// All channels, since to pick the straight ones would cost more than the others' values, which are overwritten.
		if (curved < values.length)
			for (let i = 0; i < values.length; i++) values[i] = starts[i] + (t - since[i]) * slopes[i];
		for (let n = 0; n < this.cubicCount; n++) {
			const i = cubics[n];
			values[i] = starts[i] + cubicChange(rows, i * STRIDE, t - since[i]);
		}
		for (let n = 0; n < this.bezierCount; n++) {
			const i = beziers[n];
			values[i] = starts[i] + bezierChange(rows, i * STRIDE, t - since[i]);
		}
		for (let n = 0; n < this.otherCount; n++) values[others[n]] = evaluateCurve(this.curves[others[n]], t);
		return values;
	}

	/** Brings in the spans of channels that have left theirs. */
	private update(t: number): void {
		const { kinds, since, until, cubics, beziers, others } = this;
		let latest = -Infinity;
		let soonest = Infinity;
		let cubicCount = 0;
		let bezierCount = 0;
		let otherCount = 0;
		for (let i = 0; i < since.length; i++) {
			if (!(t >= since[i] && t < until[i])) this.load(i, t);
			if (since[i] > latest) latest = since[i];
			if (until[i] < soonest) soonest = until[i];
			const kind = kinds[i];
			if (kind === SPAN_CUBIC) cubics[cubicCount++] = i;
			else if (kind === SPAN_BEZIER) beziers[bezierCount++] = i;
			else if (kind > SPAN_BEZIER) others[otherCount++] = i;
		}
		this.allSince = latest;
		this.allUntil = soonest;
		this.cubicCount = cubicCount;
		this.bezierCount = bezierCount;
		this.otherCount = otherCount;
	}

	private load(i: number, t: number): void {
		const curve = this.curves[i];
		const { times, values } = curve;
		const last = curve.count - 1;
		this.slopes[i] = 0;
		const before = t < times[0];
		if (before || t >= times[last]) {
			const holds = last === 0 || (before ? curve.before : curve.after) === 'hold';
			this.since[i] = before ? LONG_AGO : times[last];
			this.until[i] = before ? times[0] : Infinity;
			this.kinds[i] = holds ? SPAN_HOLD : OUTSIDE;
			this.starts[i] = values[before ? 0 : last];
			return;
		}
		const span = seekSpan(curve, t);
		curve.cursor = span;
		const kind = curve.kinds[span];
		const from = times[span];
		const to = times[span + 1];
		const start = values[span];
		this.kinds[i] = kind;
		this.since[i] = from;
		this.until[i] = to;
		this.starts[i] = start;
		// Worked out here: the coefficients of many channels are more than near memory holds.
		if (kind === SPAN_LINEAR) this.slopes[i] = (values[span + 1] - start) / (to - from);
		else if (kind !== SPAN_HOLD) {
			const { coefficients } = curve;
			const { rows } = this;
			for (let k = 0; k < STRIDE; k++) rows[i * STRIDE + k] = coefficients[span * STRIDE + k];
		}
	}
}
