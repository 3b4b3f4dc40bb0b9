/** Cleaning samples of a recording before keys are fitted: single wrong values, and trembling. No delay is added. */
import { TICKS_PER_SECOND } from '../../player/time';

/** One channel of a recording. Times in ticks, strictly increasing, not necessarily even. */
export interface Samples {
	times: Float64Array;
	values: Float64Array;
}

/** The median; puts the numbers, which are few, in order. */
function medianOf(numbers: Float64Array): number {
	for (let i = 1; i < numbers.length; i++) {
		const own = numbers[i];
		let k = i;
		for (; k > 0 && numbers[k - 1] > own; k--) numbers[k] = numbers[k - 1];
		numbers[k] = own;
	}
	const middle = numbers.length >> 1;
	return numbers.length % 2 === 1 ? numbers[middle] : (numbers[middle - 1] + numbers[middle]) / 2;
}

/** A parabola goes through three values: more have to agree. */
const LEAST_WINDOW = 6;

/** Turns the median of absolute deviations into a standard deviation of normal noise. */
const MAD_TO_DEVIATION = 1.4826;

/**
 * The height at 0 of the parabola that most of some points are nearest to: of all through three of them the one from which
 * the median distance of the points is least.
 * Source: P. J. Rousseeuw, "Least median of squares regression" (1984).
 */
function medianParabola(x: Float64Array, y: Float64Array): number {
	const count = x.length;
	const off = new Float64Array(count);
	let [height, least] = [0, Infinity];
	for (let a = 0; a < count - 2; a++)
		for (let b = a + 1; b < count - 1; b++) {
			const ab = (y[b] - y[a]) / (x[b] - x[a]);
			for (let c = b + 1; c < count; c++) {
				const bend = ((y[c] - y[b]) / (x[c] - x[b]) - ab) / (x[c] - x[a]);
				// The median is less only where half of them are: most parabolas are told by counting.
				let less = 0;
				for (let i = 0; i < count; i++) {
					off[i] = Math.abs(y[a] + (x[i] - x[a]) * (ab + (x[i] - x[b]) * bend) - y[i]);
					if (off[i] < least) less++;
				}
				if (2 * less < count) continue;
				const median = medianOf(off);
				if (median >= least) continue;
				least = median;
				height = y[a] - x[a] * (ab - x[b] * bend);
			}
		}
	return height;
}

/** The height at 0 of the parabola with the least squares through some points; one that is far off pulls it along. */
function leastSquares(x: Float64Array, y: Float64Array): number {
	let [x1, x2, x3, x4, y0, xy, xxy] = [0, 0, 0, 0, 0, 0, 0];
	for (let k = 0; k < x.length; k++) {
		const [a, v] = [x[k], y[k]];
		const square = a * a;
		x1 += a;
		x2 += square;
		x3 += square * a;
		x4 += square * square;
		y0 += v;
		xy += a * v;
		xxy += square * v;
	}
	const n = x.length;
	const [m0, m1, m2] = [x2 * x4 - x3 * x3, x1 * x4 - x2 * x3, x1 * x3 - x2 * x2];
	return (y0 * m0 - xy * m1 + xxy * m2) / (n * m0 - x1 * m1 + x2 * m2);
}

/** What is off by less than this share of all that its neighbours go over is no spike. */
const LEAST_SHARE = 0.01;
/** Of what its neighbours say each value should be, how far neighbours on each side are asked for how well that fits. */
const ASKED = 10;
/** Samples nearer to each other than this share of the mean distance say the same: nothing follows from their slope. */
const LEAST_APART = 0.25;
/** Neighbours that are spread over more than this say nothing: in so long a time a hand goes there and back. */
const MOST_SECONDS = 0.5;
/** What neighbours say is beyond them by this share of what they go over at most. */
const MOST_BEYOND = 0.5;
/** What is off by more of what those near it are than this is looked at closely. */
const SUSPECT_DEVIATIONS = 1.5;

/** The distance below which two samples are at one place: devices tell several moments at once, by nearly one clock. */
function leastApart(times: Float64Array): number {
	return (LEAST_APART * (times[times.length - 1] - times[0])) / (times.length - 1);
}

/**
 * The `window` samples nearest about sample `i` and not at one place with it or with each other, `reach` on each side
 * where there are so many; how many were found.
 */
function neighboursOf(times: Float64Array, i: number, apart: number, out: Int32Array): number {
	const reach = out.length >> 1;
	let count = 0;
	let [left, right] = [i, i];
	let [lastLeft, lastRight] = [times[i], times[i]];
	const step = (way: -1 | 1): boolean => {
		let at = way < 0 ? left : right;
		const last = way < 0 ? lastLeft : lastRight;
		do at += way;
		while (at >= 0 && at < times.length && Math.abs(times[at] - last) < apart);
		if (way < 0) [left, lastLeft] = [at, times[at]];
		else [right, lastRight] = [at, times[at]];
		if (at < 0 || at >= times.length) return false;
		out[count++] = at;
		return true;
	};
	let [onLeft, onRight] = [0, 0];
	while (onLeft < reach && step(-1)) onLeft++;
	while (onRight < out.length - onLeft && step(1)) onRight++;
	while (count < out.length && onLeft >= reach && step(-1)) onLeft++;
	return count;
}

/** What the neighbours of each sample say of it, by parabolas through them. */
class Neighbourhood {
	/** What they say; the sample's own value where they are too few. */
	readonly heights: Float64Array;
	/** How far each sample is off that, and what it may be off in any case. */
	readonly off: Float64Array;
	private readonly least: Float64Array;
	private readonly apart: number;
	private readonly near: Int32Array;
	private readonly x: Float64Array;
	private readonly y: Float64Array;
	private readonly asked = new Float64Array(2 * ASKED + 1);

	constructor(
		private readonly samples: Samples,
		window: number,
	) {
		this.heights = samples.values.slice();
		this.off = new Float64Array(samples.values.length);
		this.least = new Float64Array(samples.values.length);
		this.apart = leastApart(samples.times);
		this.near = new Int32Array(window);
		[this.x, this.y] = [new Float64Array(window), new Float64Array(window)];
	}

	look(i: number, parabola: (x: Float64Array, y: Float64Array) => number): void {
		const { near, heights, least, off } = this;
		const { times, values } = this.samples;
		const found = neighboursOf(times, i, this.apart, near);
		if (found < LEAST_WINDOW) return;
		const [x, y] =
			found === near.length ? [this.x, this.y] : [this.x.subarray(0, found), this.y.subarray(0, found)];
		let [low, high, first, last] = [Infinity, -Infinity, 0, 0];
		for (let k = 0; k < found; k++) {
			x[k] = (times[near[k]] - times[i]) / TICKS_PER_SECOND;
			if (x[k] < first) first = x[k];
			if (x[k] > last) last = x[k];
			y[k] = values[near[k]];
			if (y[k] < low) low = y[k];
			if (y[k] > high) high = y[k];
		}
		if (last - first > MOST_SECONDS) return;
		const beyond = MOST_BEYOND * (high - low);
		const height = Math.min(high + beyond, Math.max(low - beyond, parabola(x, y)));
		heights[i] = Number.isFinite(height) ? height : values[i];
		// Still neighbours have no spread: what is left of float noise must not count as a spike.
		least[i] = LEAST_SHARE * (high - low) + 1e-9 * Math.max(1, Math.abs(heights[i]));
		off[i] = Math.abs(values[i] - heights[i]);
	}

	/** Whether a sample is off by more than so many standard deviations of what those near it are off by. */
	standsOut(i: number, deviations: number): boolean {
		const { off, least, asked } = this;
		// Not where it is off by less than that alone: most are.
		if (off[i] <= least[i]) return false;
		const [from, to] = [Math.max(1, i - ASKED), Math.min(off.length - 1, i + ASKED + 1)];
		for (let k = from; k < to; k++) asked[k - from] = off[k];
		const near = to - from === asked.length ? asked : asked.subarray(0, to - from);
		return off[i] > deviations * MAD_TO_DEVIATION * medianOf(near) + least[i];
	}
}

/**
 * Replaces values that are off the parabola through most of their `reach` neighbours on each side by more than
 * `deviations` standard deviations of what the values near them are off by: a steep or a curved move is no spike. The first
 * and the last value stay. Gives how many it replaced.
 * Source: Hampel identifier; F. Hampel, "The influence curve and its role in robust estimation" (1974).
 */
export function despike(
	{ times, values }: Samples,
	reach = 4,
	deviations = 5,
): { samples: Samples; replaced: number } {
	const count = values.length;
	const out = values.slice();
	const window = Math.min(2 * reach, count - 1);
	if (window < LEAST_WINDOW) return { samples: { times, values: out }, replaced: 0 };
	const hood = new Neighbourhood({ times, values }, window);
	// First in a rough way: only what stands out then is looked at closely.
	for (let i = 1; i < count - 1; i++) hood.look(i, leastSquares);
	const suspects: number[] = [];
	for (let i = 1; i < count - 1; i++) if (hood.standsOut(i, SUSPECT_DEVIATIONS)) suspects.push(i);
	for (const i of suspects) hood.look(i, medianParabola);
	let replaced = 0;
	for (const i of suspects) {
		if (!hood.standsOut(i, deviations)) continue;
		out[i] = hood.heights[i];
		replaced++;
	}
	return { samples: { times, values: out }, replaced };
}

/** Solves a small system, row after row with its right side last, by Gaussian elimination with pivoting; the first unknown. */
function firstUnknown(rows: Float64Array, n: number): number {
	const width = n + 1;
	for (let k = 0; k < n; k++) {
		let pivot = k;
		for (let r = k + 1; r < n; r++)
			if (Math.abs(rows[r * width + k]) > Math.abs(rows[pivot * width + k])) pivot = r;
		for (let c = k; c < width && pivot !== k; c++) {
			const kept = rows[k * width + c];
			rows[k * width + c] = rows[pivot * width + c];
			rows[pivot * width + c] = kept;
		}
		for (let r = k + 1; r < n; r++) {
			const factor = rows[r * width + k] / rows[k * width + k];
			for (let c = k; c < width; c++) rows[r * width + c] -= factor * rows[k * width + c];
		}
	}
	for (let k = n - 1; k >= 0; k--) {
		for (let c = k + 1; c < n; c++) rows[k * width + n] -= rows[k * width + c] * rows[c * width + n];
		rows[k * width + n] /= rows[k * width + k];
	}
	return rows[n];
}

/**
 * Smooths by fitting a polynomial of `degree` to the `reach` neighbours on each side of every sample. Symmetric, so
 * nothing is delayed; polynomials up to that degree come out unchanged, also at the ends and at uneven times.
 * Source: A. Savitzky, M. Golay, Analytical Chemistry 36 (1964); local least squares for uneven times.
 */
export function smooth({ times, values }: Samples, reach: number, degree = 3): Samples {
	const count = values.length;
	const window = Math.min(2 * reach + 1, count);
	const order = Math.min(degree, window - 1);
	if (reach < 1 || order < 1) return { times, values: values.slice() };
	const out = new Float64Array(count);
	const [unknowns, width] = [order + 1, order + 2];
	const [sums, right] = [new Float64Array(2 * order + 1), new Float64Array(unknowns)];
	const rows = new Float64Array(unknowns * width);
	for (let i = 0; i < count; i++) {
		const from = Math.max(0, Math.min(i - reach, count - window));
		const scale = Math.max(1e-9, times[from + window - 1] - times[from]);
		sums.fill(0);
		right.fill(0);
		for (let j = from; j < from + window; j++) {
			const x = (times[j] - times[i]) / scale;
			let power = 1;
			for (let k = 0; k <= 2 * order; k++) {
				sums[k] += power;
				if (k <= order) right[k] += power * values[j];
				power *= x;
			}
		}
		for (let r = 0; r < unknowns; r++) {
			for (let c = 0; c < unknowns; c++) rows[r * width + c] = sums[r + c];
			rows[r * width + unknowns] = right[r];
		}
		out[i] = firstUnknown(rows, unknowns);
	}
	return { times, values: out };
}

/** Cut-off of the rate that steers the one-Euro filter, in Hz. */
const RATE_CUTOFF = 1;

function oneEuroPass(times: Float64Array, values: Float64Array, still: number, fast: number): Float64Array {
	const count = values.length;
	const out = values.slice();
	const share = (cutoff: number, seconds: number) => 1 / (1 + 1 / (2 * Math.PI * cutoff * seconds));
	let rate = 0;
	for (let i = 1; i < count; i++) {
		const seconds = Math.abs(times[i] - times[i - 1]) / TICKS_PER_SECOND;
		rate += share(RATE_CUTOFF, seconds) * ((values[i] - values[i - 1]) / seconds - rate);
		out[i] = out[i - 1] + share(still + fast * Math.abs(rate), seconds) * (values[i] - out[i - 1]);
	}
	return out;
}

/**
 * Smooths what stands still strongly and what moves fast little: a low-pass filter whose cut-off grows with the speed.
 * Run forwards then backwards and the other way about, and the mean taken, so that nothing is delayed and no side is
 * favoured. `still` is the cut-off at rest in Hz, `fast` what a value unit a second adds to it.
 * Source: G. Casiez, N. Roussel, D. Vogel, "1 € filter", CHI 2012.
 */
export function oneEuro({ times, values }: Samples, still = 1.5, fast = 0.5): Samples {
	const backTimes = times.slice().reverse();
	const forward = (list: Float64Array) => oneEuroPass(times, list, still, fast);
	const backward = (list: Float64Array) =>
		oneEuroPass(backTimes, list.slice().reverse(), still, fast).reverse();
	const there = backward(forward(values));
	const back = forward(backward(values));
	return { times, values: there.map((v, i) => (v + back[i]) / 2) };
}
