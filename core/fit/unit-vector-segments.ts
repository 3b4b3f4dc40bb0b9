/**
 * Segments of unit vectors: quaternions, or in two dimensions turns about one axis, at half their angle. Weighted least
 * squares across the vector, re-weighted towards the worst sample (Lawson's method for the best uniform
 * approximation); along the vector, which readers normalise, the curve is free.
 */
import type { Run } from './samples';
import { SLACK_SHARE, type Segment, type SegmentFinder } from './segment';

/** Weight of the length of a fitted direction against its angle: enough to make the system regular. */
const RADIAL = 1e-3;
/** Samples that a search looks at first; all of them are looked at before a segment is taken. */
const LOOKED_AT = 24;
const LAWSON_ROUNDS = 5;
/** Solves a symmetric positive definite system, given by its lower half, in place by Cholesky; false when it is not. */
function solve(matrix: Float64Array, right: Float64Array, n: number): boolean {
	for (let j = 0; j < n; j++) {
		let d = matrix[j * n + j];
		for (let k = 0; k < j; k++) d -= matrix[j * n + k] * matrix[j * n + k];
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

function halfAngleUnits(degrees: Float64Array): Float64Array {
	const units = new Float64Array(2 * degrees.length);
	for (let i = 0; i < degrees.length; i++) {
		units[2 * i] = Math.cos((degrees[i] * Math.PI) / 360);
		units[2 * i + 1] = Math.sin((degrees[i] * Math.PI) / 360);
	}
	return units;
}

/** `angles` in degrees are those of a run about one axis. */
export function directionFinder(run: Run, angles: Float64Array | undefined, bound: number): SegmentFinder {
	return new DirectionFinder(run, angles ? halfAngleUnits(angles) : run.values, angles ? 2 : 4, bound);
}

class DirectionFinder implements SegmentFinder {
	ratio = 0;
	readonly start: Float64Array;
	private from = 0;
	private to = 0;
	private duration = 0;
	private startValues: Float64Array;
	/** The errors that samples may have, as tangents of half angles. */
	private readonly room: Float64Array;
	private readonly matrix: Float64Array;
	/** The right side of the system, then its solution A, B: p(u) = chord(u) + u(1−u)(A + B·u). */
	private readonly solution: Float64Array;
	private readonly weights = new Float64Array(2 * LOOKED_AT + 2);
	private readonly errors = new Float64Array(2 * LOOKED_AT + 2);

	constructor(
		private readonly run: Run,
		private readonly units: Float64Array,
		readonly size: 2 | 4,
		bound: number,
	) {
		this.start = this.startValues = units.slice(0, size);
		this.room = run.slack.map((slack) => {
			const degrees = Math.max(bound - SLACK_SHARE * slack, 0.4 * bound);
			return Math.tan((degrees * Math.PI) / 360);
		});
		this.matrix = new Float64Array(4 * size * size);
		this.solution = new Float64Array(2 * size);
	}

	begin(from: number, startValues: Float64Array): void {
		this.from = from;
		this.startValues = startValues;
	}

	find(to: number): Segment | null {
		const { from, size, weights, errors, solution } = this;
		this.to = to;
		this.duration = this.run.times[to] - this.run.times[from];
		this.ratio = 0;
		const inside = to - from - 1;
		if (inside === 0) {
			solution.fill(0);
			return this.segment();
		}
		const stride = Math.max(1, Math.floor(inside / LOOKED_AT));
		const count = Math.floor((inside - 1) / stride) + 1;
		weights.fill(1, 0, count);
		for (let round = 0; round < LAWSON_ROUNDS; round++) {
			this.assemble(count, stride);
			if (!solve(this.matrix, solution, 2 * size)) {
				this.ratio = Infinity;
				return null;
			}
			let worst = 0;
			for (let s = 0; s < count; s++) {
				errors[s] = this.errorAt(from + 1 + s * stride);
				worst = Math.max(worst, errors[s]);
			}
			this.ratio = worst;
			// Least squares is seldom twice as far off as the best: no use in going on from much more.
			if (worst > 2.2 - 0.2 * round) return null;
			let all = worst <= 1;
			for (let i = from + 1; all && i < to; i++) all = this.errorAt(i) <= 1;
			if (all) return this.segment();
			let total = 0;
			for (let s = 0; s < count; s++) total += weights[s] *= errors[s];
			for (let s = 0; s < count; s++) weights[s] *= count / total;
		}
		return null;
	}

	/** The normal equations of the weighted samples: across q with weight 1, along it with RADIAL. */
	private assemble(count: number, stride: number): void {
		const { matrix, solution, units, weights, from, to, size, duration } = this;
		const { times } = this.run;
		const n = 2 * size;
		matrix.fill(0);
		solution.fill(0);
		for (let s = 0; s < count; s++) {
			const i = from + 1 + s * stride;
			const u = (times[i] - times[from]) / duration;
			const w = u * (1 - u);
			const weight = weights[s] * w * w;
			let alongTarget = 0;
			for (let c = 0; c < size; c++) {
				const q = units[size * i + c];
				alongTarget += q * (q - units[size * from + c] * (1 - u) - units[size * to + c] * u);
			}
			for (let r = 0; r < size; r++) {
				const q = units[size * i + r];
				const chord = units[size * from + r] * (1 - u) + units[size * to + r] * u;
				const target = (weight / w) * (q - chord - (1 - RADIAL) * q * alongTarget);
				solution[r] += target;
				solution[r + size] += u * target;
				for (let c = 0; c <= r; c++) {
					const p = weight * ((r === c ? 1 : 0) - (1 - RADIAL) * q * units[size * i + c]);
					matrix[r * n + c] += p;
					matrix[(r + size) * n + c] += u * p;
					matrix[(r + size) * n + c + size] += u * u * p;
				}
			}
		}
		// The block of A against B is symmetric itself, and lies wholly in the lower half.
		for (let r = 0; r < size; r++)
			for (let c = 0; c < r; c++) matrix[(c + size) * n + r] = matrix[(r + size) * n + c];
		for (let d = 0; d < n; d++) matrix[d * (n + 1)] += 1e-12;
	}

	/** Error at a sample over what it may be. */
	private errorAt(i: number): number {
		const { units, from, to, size, solution, duration } = this;
		const { times } = this.run;
		const u = (times[i] - times[from]) / duration;
		const w = u * (1 - u);
		let along = 0;
		let square = 0;
		for (let k = 0; k < size; k++) {
			const chord = units[size * from + k] * (1 - u) + units[size * to + k] * u;
			const p = chord + w * (solution[k] + u * solution[k + size]);
			along += p * units[size * i + k];
			square += p * p;
		}
		if (along <= 0) return Infinity;
		return Math.sqrt(Math.max(0, square - along * along)) / along / this.room[i];
	}

	private segment(): Segment {
		const { to, size, units, duration, solution, startValues } = this;
		const end = units.slice(size * to, size * to + size);
		const outTangent = new Float64Array(size);
		const inTangent = new Float64Array(size);
		for (let k = 0; k < size; k++) {
			const chord = end[k] - startValues[k];
			// p′(0) = chord + A, p′(1) = chord − (A + B), in u.
			outTangent[k] = (chord + solution[k]) / duration;
			inTangent[k] = (chord - solution[k] - solution[k + size]) / duration;
		}
		return { to, end, outTangent, inTangent };
	}
}
