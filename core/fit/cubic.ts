/**
 * Fewest CUBICSPLINE keys within a bound, values on the curve and tangents free: over a segment
 * p(u) = chord(u) + u(1−u)(A + B·u), so that "within ±bound at every sample" asks for a line A + B·u through vertical
 * segments, which the stabber answers exactly. Rotations are fitted where it counts, across q; along q (their length,
 * which readers normalise) they are free.
 */
import type { Run } from './samples';
import type { Sampler } from './sampler';
import { distance } from './source';
import { Stabber } from './stabber';

interface Segment {
	to: number;
	/** Tangents a second at both ends, `size` numbers each. */
	outTangent: Float64Array;
	inTangent: Float64Array;
}

type Feasible = (from: number, to: number) => Segment | null;

function tangents(run: Run, size: number, from: number, to: number, lines: Float64Array): Segment {
	const duration = run.times[to] - run.times[from];
	const outTangent = new Float64Array(size);
	const inTangent = new Float64Array(size);
	for (let k = 0; k < size; k++) {
		const chord = run.values[to * size + k] - run.values[from * size + k];
		const [a, b] = [lines[2 * k], lines[2 * k + 1]];
		// p′(0) = chord + A, p′(1) = chord − (A + B), in u.
		outTangent[k] = (chord + a) / duration;
		inTangent[k] = (chord - a - b) / duration;
	}
	return { to, outTangent, inTangent };
}

/** Exact feasibility for vectors: every component has a line. */
function vectorFeasible(run: Run, size: number, bound: number): Feasible {
	const stabber = new Stabber();
	const line = new Float64Array(2);
	const lines = new Float64Array(2 * size);
	const { times, values, slack } = run;
	return (from, to) => {
		const [start, end] = [times[from], times[to]];
		for (let k = 0; k < size; k++) {
			stabber.reset();
			const a = values[from * size + k];
			const change = values[to * size + k] - a;
			for (let i = from + 1; i < to; i++) {
				const u = (times[i] - start) / (end - start);
				const w = u * (1 - u);
				const residual = values[i * size + k] - a - change * u;
				const room = bound - 0.5 * slack[i];
				const [low, high] = [(residual - room) / w, (residual + room) / w];
				if (!stabber.accepts(u, low, high)) return null;
				stabber.add(u, low, high);
			}
			stabber.middle(line);
			lines[2 * k] = line[0];
			lines[2 * k + 1] = line[1];
		}
		return tangents(run, size, from, to, lines);
	};
}

/** Solves a symmetric positive definite system in place by Cholesky; false when it is not. */
function solve(matrix: Float64Array, right: Float64Array, n: number): boolean {
	for (let j = 0; j < n; j++) {
		let d = matrix[j * n + j];
		for (let k = 0; k < j; k++) d -= matrix[j * n + k] ** 2;
		if (!(d > 1e-20)) return false;
		const root = Math.sqrt(d);
		matrix[j * n + j] = root;
		for (let i = j + 1; i < n; i++) {
			let s = matrix[i * n + j];
			for (let k = 0; k < j; k++) s -= matrix[i * n + k] * matrix[j * n + k];
			matrix[i * n + j] = s / root;
		}
	}
	for (let i = 0; i < n; i++) {
		let s = right[i];
		for (let k = 0; k < i; k++) s -= matrix[i * n + k] * right[k];
		right[i] = s / matrix[i * n + i];
	}
	for (let i = n - 1; i >= 0; i--) {
		let s = right[i];
		for (let k = i + 1; k < n; k++) s -= matrix[k * n + i] * right[k];
		right[i] = s / matrix[i * n + i];
	}
	return true;
}

/** Weight of the length of a fitted quaternion against its direction: enough to make the system regular. */
const RADIAL = 1e-3;
const LAWSON_ROUNDS = 6;

/**
 * Rotations: weighted least squares across q, re-weighted towards the worst sample (Lawson's method for the best
 * uniform approximation). Feasible when the largest angle comes within the bound.
 */
function rotationFeasible(run: Run, bound: number): Feasible {
	const { times, values, slack } = run;
	const matrix = new Float64Array(64);
	const right = new Float64Array(8);
	const point = new Float64Array(4);
	let weights = new Float64Array(256);
	let angles = new Float64Array(256);
	return (from, to) => {
		const n = to - from - 1;
		const lines = new Float64Array(8);
		if (n === 0) return tangents(run, 4, from, to, lines);
		if (n > weights.length) {
			weights = new Float64Array(2 * n);
			angles = new Float64Array(2 * n);
		}
		weights.fill(1, 0, n);
		const [start, duration] = [times[from], times[to] - times[from]];
		for (let round = 0; round < LAWSON_ROUNDS; round++) {
			matrix.fill(0);
			right.fill(0);
			for (let s = 0; s < n; s++) {
				const i = from + 1 + s;
				const u = (times[i] - start) / duration;
				const w = u * (1 - u);
				const weight = weights[s] * w * w;
				for (let r = 0; r < 4; r++) {
					const qr = values[4 * i + r];
					let target = 0;
					for (let c = 0; c < 4; c++) {
						const qc = values[4 * i + c];
						// Across q with weight 1, along it with RADIAL.
						const p = (r === c ? 1 : 0) - (1 - RADIAL) * qr * qc;
						const chord = values[4 * from + c] * (1 - u) + values[4 * to + c] * u;
						target += p * (qc - chord);
						matrix[r * 8 + c] += weight * p;
						matrix[(r + 4) * 8 + c] += weight * u * p;
						matrix[(r + 4) * 8 + c + 4] += weight * u * u * p;
					}
					right[r] += (weight / w) * target;
					right[r + 4] += ((weight * u) / w) * target;
				}
			}
			for (let d = 0; d < 8; d++) matrix[d * 9] += 1e-12;
			if (!solve(matrix, right, 8)) return null;
			let worst = 0;
			for (let s = 0; s < n; s++) {
				const i = from + 1 + s;
				const u = (times[i] - start) / duration;
				const w = u * (1 - u);
				for (let k = 0; k < 4; k++) {
					point[k] =
						values[4 * from + k] * (1 - u) + values[4 * to + k] * u + w * (right[k] + u * right[k + 4]);
				}
				angles[s] =
					distance(4, point, values.subarray(4 * i, 4 * i + 4)) /
					Math.max(bound - 0.5 * slack[i], 0.5 * bound);
				if (angles[s] > worst) worst = angles[s];
			}
			if (worst <= 1) {
				for (let k = 0; k < 4; k++) {
					lines[2 * k] = right[k];
					lines[2 * k + 1] = right[k + 4];
				}
				return tangents(run, 4, from, to, lines);
			}
			// Least squares is never twice as far off as the best: no use in going on from much more.
			if (worst > 2.5) return null;
			let total = 0;
			for (let s = 0; s < n; s++) total += weights[s] *= angles[s];
			for (let s = 0; s < n; s++) weights[s] *= n / total;
		}
		return null;
	};
}

/** The longest feasible segment from a sample, by galloping and binary search, with a look a little beyond. */
function longest(from: number, last: number, feasible: Feasible): Segment {
	let best = feasible(from, from + 1)!;
	let step = 2;
	let bad = last + 1;
	while (best.to < last) {
		const to = Math.min(last, from + step);
		const segment = feasible(from, to);
		if (!segment) {
			bad = to;
			break;
		}
		best = segment;
		step *= 2;
	}
	while (bad - best.to > 1) {
		const middle = (best.to + bad) >> 1;
		const segment = feasible(from, middle);
		if (segment) best = segment;
		else bad = middle;
	}
	return best;
}

/** The CUBICSPLINE sampler of some runs, within `bound` at their samples. */
export function fitCubic(runs: readonly Run[], size: number, bound: number): Sampler {
	const times: number[] = [];
	const values: number[] = [];
	const zero = new Float64Array(size);
	for (const run of runs) {
		const feasible = size === 4 ? rotationFeasible(run, bound) : vectorFeasible(run, size, bound);
		const push = (i: number, into: Float64Array, out: Float64Array) => {
			times.push(run.times[i]);
			values.push(...into, ...run.values.subarray(i * size, (i + 1) * size), ...out);
		};
		let into: Float64Array = zero;
		let at = 0;
		while (at < run.count - 1) {
			const segment = longest(at, run.count - 1, feasible);
			push(at, into, segment.outTangent);
			into = segment.inTangent;
			at = segment.to;
		}
		push(at, into, zero);
	}
	return {
		interpolation: 'CUBICSPLINE',
		size,
		times: Float32Array.from(times),
		values: Float32Array.from(values),
	};
}
