/**
 * Fewest CUBICSPLINE keys within a bound, tangents free: over a segment p(u) = chord(u) + u(1−u)(A + B·u), so that
 * "within ±bound at every sample" asks for a line A + B·u through vertical segments, which the stabber answers
 * exactly. Keys of vectors stand on the curve or a little beside it, since the best cubic errs at its ends too.
 * Rotations are fitted where it counts, across q; along q (their length, which readers normalise) they are free.
 */
import { oneAxis, turned } from './axis-turn';
import type { Sampler } from './sampler';
import type { Run } from './samples';
import { rotates, type Form } from './source';
import { Stabber } from './stabber';

interface Segment {
	to: number;
	/** Values at the end, and tangents a second at both ends. */
	end: Float64Array;
	outTangent: Float64Array;
	inTangent: Float64Array;
}

interface SegmentFinder {
	size: number;
	/** Values at a run's first sample. */
	start: Float64Array;
	/** The segment from a sample, with the values chosen there, to another; null where there is none. */
	find(from: number, startValues: Float64Array, to: number): Segment | null;
}

function segmentOf(
	duration: number,
	start: Float64Array,
	end: Float64Array,
	lines: Float64Array,
	to: number,
): Segment {
	const size = start.length;
	const outTangent = new Float64Array(size);
	const inTangent = new Float64Array(size);
	for (let k = 0; k < size; k++) {
		const chord = end[k] - start[k];
		const [a, b] = [lines[2 * k], lines[2 * k + 1]];
		// p′(0) = chord + A, p′(1) = chord − (A + B), in u.
		outTangent[k] = (chord + a) / duration;
		inTangent[k] = (chord - a - b) / duration;
	}
	return { to, end, outTangent, inTangent };
}

/** Samples that a search looks at first; all of them are looked at before a segment is taken. */
const LOOKED_AT = 24;
/** How far beside the curve a key may stand, as a share of the bound. */
const BESIDE = 0.8;

/** Exact feasibility for vectors: every component has a line. `first` is the side that the first key stands on. */
function vectorFinder(run: Run, size: number, bound: number, first: -1 | 0 | 1): SegmentFinder {
	const stabber = new Stabber();
	const line = new Float64Array(2);
	const lines = new Float64Array(2 * size);
	const { times, values, slack } = run;
	const beside = BESIDE * bound;
	const corridor = new Float64Array(2);
	/** What A + B·u may be at a sample, so that the segment from a to b keeps within the bound there. */
	const corridorAt = (k: number, i: number, u: number, a: number, b: number): void => {
		const w = u * (1 - u);
		const residual = values[i * size + k] - a - (b - a) * u;
		const room = Math.max(bound - slack[i], 0.3 * bound);
		corridor[0] = (residual - room) / w;
		corridor[1] = (residual + room) / w;
	};
	/** A line for one component between two end values, through every `stride`-th sample. */
	const stabs = (k: number, from: number, to: number, a: number, b: number, stride: number): boolean => {
		const [start, duration] = [times[from], times[to] - times[from]];
		stabber.reset();
		for (let i = from + 1; i < to; i += stride) {
			const u = (times[i] - start) / duration;
			corridorAt(k, i, u, a, b);
			if (!stabber.accepts(u, corridor[0], corridor[1])) return false;
			stabber.add(u, corridor[0], corridor[1]);
		}
		stabber.middle(line);
		return true;
	};
	/** As `stabs`, for all samples: a few are tried first, since most candidates fail on them already. */
	const passes = (k: number, from: number, to: number, a: number, b: number): boolean => {
		const stride = Math.floor((to - from) / LOOKED_AT);
		if (stride < 2) return stabs(k, from, to, a, b, 1);
		if (!stabs(k, from, to, a, b, stride)) return false;
		const [start, duration] = [times[from], times[to] - times[from]];
		for (let i = from + 1; i < to; i++) {
			const u = (times[i] - start) / duration;
			corridorAt(k, i, u, a, b);
			const v = line[0] + line[1] * u;
			if (v < corridor[0] || v > corridor[1]) return stabs(k, from, to, a, b, 1);
		}
		return true;
	};
	return {
		size,
		start: Float64Array.from({ length: size }, (_, k) => values[k] + first * beside),
		find(from, startValues, to) {
			const end = new Float64Array(size);
			for (let k = 0; k < size; k++) {
				const exact = values[to * size + k];
				const side =
					Math.sign(startValues[k] - values[from * size + k]) *
					(Math.abs(startValues[k] - values[from * size + k]) > 0.1 * beside ? 1 : 0);
				// The best cubic of a curve with an even bend errs alike at both ends: that side first.
				const candidates = side === 0 ? [0, 1, -1] : [side, 0, -side];
				const chosen = candidates.find((s) => passes(k, from, to, startValues[k], exact + s * beside));
				if (chosen === undefined) return null;
				end[k] = exact + chosen * beside;
				lines[2 * k] = line[0];
				lines[2 * k + 1] = line[1];
			}
			return segmentOf(times[to] - times[from], startValues, end, lines, to);
		},
	};
}

/** Solves a symmetric positive definite system in place by Cholesky; false when it is not. */
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

/** Weight of the length of a fitted direction against its angle: enough to make the system regular. */
const RADIAL = 1e-3;
const LAWSON_ROUNDS = 5;

/**
 * Unit vectors in 2 (turns about one axis, at half their angle) or 4 dimensions (quaternions): weighted least squares
 * across the vector, re-weighted towards the worst sample (Lawson's method for the best uniform approximation).
 */
function directionFinder(
	times: Float64Array,
	units: Float64Array,
	slack: Float64Array,
	dims: 2 | 4,
	bound: number,
): SegmentFinder {
	const n2 = 2 * dims;
	const matrix = new Float64Array(n2 * n2);
	const right = new Float64Array(n2);
	const point = new Float64Array(dims);
	const weights = new Float64Array(2 * LOOKED_AT + 2);
	const errors = new Float64Array(2 * LOOKED_AT + 2);
	/** Error at a sample over what it may be: tangents of half angles. */
	const errorAt = (i: number, from: number, to: number): number => {
		const u = (times[i] - times[from]) / (times[to] - times[from]);
		const w = u * (1 - u);
		let along = 0;
		let square = 0;
		for (let k = 0; k < dims; k++) {
			const p =
				units[dims * from + k] * (1 - u) + units[dims * to + k] * u + w * (right[k] + u * right[k + dims]);
			point[k] = p;
			along += p * units[dims * i + k];
			square += p * p;
		}
		if (along <= 0) return Infinity;
		const across = Math.sqrt(Math.max(0, square - along * along)) / along;
		const room = Math.max(bound - slack[i], 0.4 * bound);
		return across / Math.tan((room * Math.PI) / 360);
	};
	return {
		size: dims,
		start: units.slice(0, dims),
		find(from, startValues, to) {
			const n = to - from - 1;
			const end = units.slice(dims * to, dims * to + dims);
			const lines = new Float64Array(n2);
			const duration = times[to] - times[from];
			if (n === 0) return segmentOf(duration, startValues, end, lines, to);
			const stride = Math.max(1, Math.floor(n / LOOKED_AT));
			const count = Math.floor((n - 1) / stride) + 1;
			weights.fill(1, 0, count);
			for (let round = 0; round < LAWSON_ROUNDS; round++) {
				matrix.fill(0);
				right.fill(0);
				for (let s = 0; s < count; s++) {
					const i = from + 1 + s * stride;
					const u = (times[i] - times[from]) / duration;
					const w = u * (1 - u);
					const weight = weights[s] * w * w;
					for (let r = 0; r < dims; r++) {
						const qr = units[dims * i + r];
						let target = 0;
						for (let c = 0; c < dims; c++) {
							const qc = units[dims * i + c];
							// Across q with weight 1, along it with RADIAL.
							const p = (r === c ? 1 : 0) - (1 - RADIAL) * qr * qc;
							const chord = units[dims * from + c] * (1 - u) + units[dims * to + c] * u;
							target += p * (qc - chord);
							matrix[r * n2 + c] += weight * p;
							matrix[(r + dims) * n2 + c] += weight * u * p;
							matrix[(r + dims) * n2 + c + dims] += weight * u * u * p;
						}
						right[r] += (weight / w) * target;
						right[r + dims] += ((weight * u) / w) * target;
					}
				}
				for (let d = 0; d < n2; d++) matrix[d * (n2 + 1)] += 1e-12;
				if (!solve(matrix, right, n2)) return null;
				let worst = 0;
				for (let s = 0; s < count; s++)
					worst = Math.max(worst, (errors[s] = errorAt(from + 1 + s * stride, from, to)));
				// Least squares is seldom twice as far off as the best: no use in going on from much more.
				if (worst > 2.2 - 0.2 * round) return null;
				let all = worst <= 1;
				for (let i = from + 1; all && i < to; i++) all = errorAt(i, from, to) <= 1;
				if (all) {
					for (let k = 0; k < dims; k++) {
						lines[2 * k] = right[k];
						lines[2 * k + 1] = right[k + dims];
					}
					return segmentOf(duration, startValues, end, lines, to);
				}
				let total = 0;
				for (let s = 0; s < count; s++) total += weights[s] *= errors[s];
				for (let s = 0; s < count; s++) weights[s] *= count / total;
			}
			return null;
		},
	};
}

/**
 * The longest segment from a sample: galloping from a guess of its length (that of the one before), then binary search.
 */
function longest(
	finder: SegmentFinder,
	from: number,
	values: Float64Array,
	last: number,
	guess: number,
): Segment {
	let best: Segment | null = null;
	let bad = last + 1;
	let at = Math.min(last, from + guess);
	for (let step = Math.max(1, guess >> 2); bad - (best?.to ?? from + 1) > 1; step *= 2) {
		const segment = finder.find(from, values, at);
		if (segment) best = segment;
		else bad = at;
		// Once there is one of each kind, the rest is halving.
		if (best && bad <= last) break;
		const next = best ? Math.min(last, at + step) : Math.max(from + 1, at - step);
		if (next === at) break;
		at = next;
	}
	best ??= finder.find(from, values, from + 1)!;
	while (bad - best.to > 1) {
		const middle = (best.to + bad) >> 1;
		const segment = finder.find(from, values, middle);
		if (segment) best = segment;
		else bad = middle;
	}
	return best;
}

const FIRST_GUESS = 16;

/** The segments of a run, or null where they would be more than `most`. */
function segmentsOf(finder: SegmentFinder, count: number, most: number): Segment[] | null {
	const segments: Segment[] = [];
	let values = finder.start;
	let guess = FIRST_GUESS;
	for (let at = 0; at < count - 1; at = segments.at(-1)!.to) {
		if (segments.length >= most) return null;
		const segment = longest(finder, at, values, count - 1, guess);
		segments.push(segment);
		values = segment.end;
		guess = segment.to - at;
	}
	return segments;
}

interface Chosen {
	start: Float64Array;
	segments: Segment[];
}

/** The segments of the finder that needs the fewest; null where all need more than `most`. */
function best(finders: readonly SegmentFinder[], count: number, most: number): Chosen | null {
	let chosen: Chosen | null = null;
	for (const finder of finders) {
		if (chosen && chosen.segments.length <= 1) break;
		const segments = segmentsOf(finder, count, chosen ? chosen.segments.length - 1 : most);
		if (segments) chosen = { start: finder.start, segments };
	}
	return chosen;
}

/** The CUBICSPLINE sampler of some runs, within `bound` at their samples. */
export function fitCubic(runs: readonly Run[], form: Form, bound: number): Sampler {
	return fitCubicWithin(runs, form, bound, Infinity)!;
}

/** The same where at most so many keys do; null where it would take more. */
export function fitCubicWithin(
	runs: readonly Run[],
	form: Form,
	bound: number,
	mostKeys: number,
): Sampler | null {
	const { size, plain } = form;
	const turn = rotates(form) ? oneAxis(runs) : null;
	const times: number[] = [];
	const values: number[] = [];
	// About one axis, the plane of half angles: its two directions as quaternions.
	const plane: number[] = [];
	if (turn) {
		turned(turn, 0, plane);
		turned(turn, 180, plane);
	}
	const put = (v: Float64Array) => {
		if (turn) for (let k = 0; k < 4; k++) values.push(v[0] * plane[k] + v[1] * plane[4 + k]);
		else values.push(...v);
	};
	for (const [r, run] of runs.entries()) {
		let finders: SegmentFinder[];
		if (turn) {
			const halves = turn.angles[r];
			const units = new Float64Array(2 * run.count);
			for (let i = 0; i < run.count; i++) {
				units[2 * i] = Math.cos((halves[i] * Math.PI) / 360);
				units[2 * i + 1] = Math.sin((halves[i] * Math.PI) / 360);
			}
			finders = [directionFinder(run.times, units, run.slack, 2, bound)];
		} else if (rotates(form)) finders = [directionFinder(run.times, run.values, run.slack, 4, bound)];
		else finders = ([1, -1] as const).map((side) => vectorFinder(run, size, bound, side));
		const chosen = best(finders, run.count, mostKeys - times.length);
		if (!chosen) return null;
		const { start, segments } = chosen;
		const zero = new Float64Array(start.length);
		let at = 0;
		let value = start;
		let into: Float64Array = zero;
		for (const segment of segments) {
			times.push(run.times[at]);
			put(into);
			put(value);
			put(segment.outTangent);
			into = segment.inTangent;
			value = segment.end;
			at = segment.to;
		}
		times.push(run.times[at]);
		put(into);
		put(value);
		put(zero);
	}
	return {
		interpolation: 'CUBICSPLINE',
		size,
		plain,
		times: Float32Array.from(times),
		values: Float32Array.from(values),
	};
}
