/** Cleaning samples of a recording before keys are fitted: single wrong values, and trembling. No delay is added. */
import { TICKS_PER_SECOND } from '../../player/time';

/** One channel of a recording. Times in ticks, strictly increasing, not necessarily even. */
export interface Samples {
	times: Float64Array;
	values: Float64Array;
}

function median(sorted: number[]): number {
	const middle = sorted.length >> 1;
	return sorted.length % 2 === 1 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2;
}

/** Turns the median of absolute deviations into a standard deviation of normal noise. */
const MAD_TO_DEVIATION = 1.4826;

/**
 * Replaces values that stand out from their `reach` neighbours on each side by more than `deviations` standard
 * deviations by the neighbours' median. Gives how many it replaced.
 * Source: Hampel identifier; F. Hampel, "The influence curve and its role in robust estimation" (1974).
 */
export function despike(
	{ times, values }: Samples,
	reach = 3,
	deviations = 3.5,
): { samples: Samples; replaced: number } {
	const out = values.slice();
	let replaced = 0;
	for (let i = 0; i < values.length; i++) {
		const from = Math.max(0, Math.min(i - reach, values.length - 2 * reach - 1));
		const near = Array.from(values.subarray(from, from + 2 * reach + 1)).sort((a, b) => a - b);
		const centre = median(near);
		const spread = median(near.map((v) => Math.abs(v - centre)).sort((a, b) => a - b));
		// Still neighbours have no spread: what is left of float noise must not count as a spike.
		const least = 1e-9 * Math.max(1, Math.abs(centre));
		if (Math.abs(values[i] - centre) > deviations * MAD_TO_DEVIATION * spread + least) {
			// The first and the last may be where a fast motion is cut off: only a spike inside is replaced.
			if (i === 0 || i === values.length - 1) continue;
			out[i] = centre;
			replaced++;
		}
	}
	return { samples: { times, values: out }, replaced };
}

/** Solves a small symmetric system by Gaussian elimination with pivoting; the first unknown. */
function firstUnknown(matrix: number[][], right: number[]): number {
	const n = right.length;
	for (let k = 0; k < n; k++) {
		let pivot = k;
		for (let r = k + 1; r < n; r++) if (Math.abs(matrix[r][k]) > Math.abs(matrix[pivot][k])) pivot = r;
		[matrix[k], matrix[pivot], right[k], right[pivot]] = [matrix[pivot], matrix[k], right[pivot], right[k]];
		for (let r = k + 1; r < n; r++) {
			const factor = matrix[r][k] / matrix[k][k];
			for (let c = k; c < n; c++) matrix[r][c] -= factor * matrix[k][c];
			right[r] -= factor * right[k];
		}
	}
	for (let k = n - 1; k >= 0; k--) {
		for (let c = k + 1; c < n; c++) right[k] -= matrix[k][c] * right[c];
		right[k] /= matrix[k][k];
	}
	return right[0];
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
	for (let i = 0; i < count; i++) {
		const from = Math.max(0, Math.min(i - reach, count - window));
		const scale = Math.max(1e-9, times[from + window - 1] - times[from]);
		const sums = new Array<number>(2 * order + 1).fill(0);
		const right = new Array<number>(order + 1).fill(0);
		for (let j = from; j < from + window; j++) {
			const x = (times[j] - times[i]) / scale;
			let power = 1;
			for (let k = 0; k <= 2 * order; k++) {
				sums[k] += power;
				if (k <= order) right[k] += power * values[j];
				power *= x;
			}
		}
		const matrix = right.map((_, r) => right.map((__, c) => sums[r + c]));
		out[i] = firstUnknown(matrix, right);
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
