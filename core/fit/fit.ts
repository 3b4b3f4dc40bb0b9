/**
 * Reduces a source to few keys of a glTF sampler within a bound. Each candidate is measured as a float32 reader
 * evaluates it, at the extrema of the residual on every piece, and refined where it exceeds: the bound is kept by
 * measurement, never by hope.
 */
import { secondsToTicks, ticksToSeconds, TICKS_PER_SECOND } from '../time';
import { float32Before, sampleAt, samplerBytes, type Sampler } from './sampler';
import { distance, JUST_BEFORE, type Source } from './source';

export interface Fitted {
	sampler: Sampler;
	/** Largest error as measured, in the path's units (degrees for rotations), and where, in seconds. */
	error: number;
	errorAt: number;
}

/** Cells a smooth piece is sampled with, at least, and how long a cell is at most (ticks). */
const CELLS = 24;
const LONGEST_CELL = TICKS_PER_SECOND / 120;
const MAX_CELLS = 4000;
/** Fit within slightly less than the bound: float32 rounding and what lies between samples take the rest. */
const MARGIN = 0.98;
const ROUNDS = 10;

/** A stretch without jumps: its sample times (float32 seconds) and values, `size` numbers a sample. */
interface Run {
	times: number[];
	values: Float64Array;
}

/** Times at which the value jumps, inside (start, end]. */
function jumpTicks(source: Source): number[] {
	return source.pieces.filter((p) => p.jump && p.t > source.start && p.t <= source.end).map((p) => p.t);
}

function cellTimes(a: number, b: number, cells: number): number[] {
	return Array.from({ length: cells }, (_, i) => a + ((b - a) * i) / cells);
}

/** Sample ticks of a stretch, denser near its corners, where slopes can be steep. */
function stretchTicks(source: Source, from: number, to: number, extra: ReadonlySet<number>): number[] {
	const corners = source.pieces.map((p) => p.t).filter((t) => t > from && t < to);
	const bounds = [from, ...corners, to];
	const ticks: number[] = [];
	for (let i = 0; i + 1 < bounds.length; i++) {
		const [a, b] = [bounds[i], bounds[i + 1]];
		const cells = Math.min(MAX_CELLS, Math.max(CELLS, Math.ceil((b - a) / LONGEST_CELL)));
		ticks.push(...cellTimes(a, b, cells));
		const edge = (b - a) / cells;
		for (const x of [0.05, 0.2, 0.5]) ticks.push(a + edge * x, b - edge * x);
	}
	ticks.push(to);
	for (const t of extra) if (t > from && t < to) ticks.push(t);
	return ticks.sort((x, y) => x - y);
}

/** Samples the source between jumps, on times that a float32 reader can tell apart. */
function sampleRuns(source: Source, extra: ReadonlySet<number>): Run[] {
	const { size } = source;
	const bounds = [source.start, ...jumpTicks(source), source.end];
	const runs: Run[] = [];
	let previousEnd = -1;
	for (let r = 0; r + 1 < bounds.length; r++) {
		const [from, to] = [bounds[r], bounds[r + 1]];
		const isLast = r + 2 === bounds.length;
		if (to <= from && !isLast) continue;
		// A run that ends in a jump ends one float32 before it.
		const endTime = isLast ? Math.fround(ticksToSeconds(to)) : float32Before(Math.fround(ticksToSeconds(to)));
		const times: number[] = [];
		const values: number[] = [];
		const value = new Float64Array(size);
		for (const tick of stretchTicks(source, from, to, extra)) {
			const time = Math.min(endTime, Math.fround(ticksToSeconds(tick)));
			if (time <= (times.at(-1) ?? previousEnd)) continue;
			const at = time * TICKS_PER_SECOND;
			source.evaluate(
				isLast ? Math.min(Math.max(at, from), to) : Math.min(Math.max(at, from), to - JUST_BEFORE),
				value,
			);
			times.push(time);
			values.push(...value);
		}
		if (times.length === 0) continue;
		previousEnd = times.at(-1)!;
		runs.push({ times, values: Float64Array.from(values) });
	}
	if (size === 4) alignSigns(runs);
	return runs;
}

/** q and −q turn alike: keep neighbours on the same side so that components are continuous. */
function alignSigns(runs: Run[]): void {
	let previous: Float64Array<ArrayBufferLike> | null = null;
	for (const { times, values } of runs)
		for (let i = 0; i < times.length; i++) {
			const q = values.subarray(4 * i, 4 * i + 4);
			if (previous && q[0] * previous[0] + q[1] * previous[1] + q[2] * previous[2] + q[3] * previous[3] < 0) {
				for (let k = 0; k < 4; k++) q[k] = -q[k];
			}
			previous = q;
		}
}

/** The largest j ≥ from + 1 for which `fits(j)`, by galloping and binary search. */
function longest(from: number, last: number, fits: (to: number) => boolean): number {
	let good = from + 1;
	let step = 2;
	while (good < last && fits(Math.min(last, from + step))) {
		good = Math.min(last, from + step);
		if (good === last) return last;
		step *= 2;
	}
	let bad = Math.min(last + 1, from + step);
	while (bad - good > 1) {
		const middle = (good + bad) >> 1;
		if (fits(middle)) good = middle;
		else bad = middle;
	}
	return good;
}

/** Segments of rotations turn less than this, so that every reader takes the same way. */
const LARGEST_TURN = 150;

function linearVertices(run: Run, size: number, bound: number): number[] {
	const { times, values } = run;
	const at = (i: number) => values.subarray(i * size, (i + 1) * size);
	const pair: Sampler = {
		interpolation: 'LINEAR',
		size,
		times: new Float32Array(2),
		values: new Float32Array(2 * size),
	};
	const out = new Float32Array(size);
	const fits = (from: number) => (to: number) => {
		if (size === 4 && distance(4, at(from), at(to)) > LARGEST_TURN) return false;
		pair.times[0] = times[from];
		pair.times[1] = times[to];
		pair.values.set(at(from), 0);
		pair.values.set(at(to), size);
		for (let i = from + 1; i < to; i++) {
			sampleAt(pair, times[i], out);
			if (!(distance(size, out, at(i)) <= bound)) return false;
		}
		return true;
	};
	const vertices = [0];
	while (vertices.at(-1)! < times.length - 1) {
		const from = vertices.at(-1)!;
		vertices.push(longest(from, times.length - 1, fits(from)));
	}
	return vertices;
}

interface CubicSegment {
	to: number;
	/** Tangents a second at both ends, `size` numbers each. */
	outTangent: Float64Array;
	inTangent: Float64Array;
}

/** Least squares for the two tangents of a Hermite segment whose ends are on the curve; null when over the bound. */
function cubicSegment(run: Run, size: number, from: number, to: number, bound: number): CubicSegment | null {
	const { times, values } = run;
	const duration = times[to] - times[from];
	const outTangent = new Float64Array(size);
	const inTangent = new Float64Array(size);
	// p(u) = chord + A·f(u) + B·g(u) with f = u(1−u)², g = −u²(1−u): A and B are the tangents times the duration,
	// less the chord's.
	let ff = 0;
	let fg = 0;
	let gg = 0;
	const fr = new Float64Array(size);
	const gr = new Float64Array(size);
	for (let i = from + 1; i < to; i++) {
		const u = (times[i] - times[from]) / duration;
		const f = u * (1 - u) * (1 - u);
		const g = -u * u * (1 - u);
		ff += f * f;
		fg += f * g;
		gg += g * g;
		for (let k = 0; k < size; k++) {
			const a = values[from * size + k];
			const residual = values[i * size + k] - (a + (values[to * size + k] - a) * u);
			fr[k] += f * residual;
			gr[k] += g * residual;
		}
	}
	const determinant = ff * gg - fg * fg;
	for (let k = 0; k < size; k++) {
		const chord = (values[to * size + k] - values[from * size + k]) / duration;
		const solvable = determinant > 1e-18;
		outTangent[k] = chord + (solvable ? (fr[k] * gg - gr[k] * fg) / determinant / duration : 0);
		inTangent[k] = chord + (solvable ? (gr[k] * ff - fr[k] * fg) / determinant / duration : 0);
	}
	const point = new Float64Array(size);
	for (let i = from + 1; i < to; i++) {
		const u = (times[i] - times[from]) / duration;
		const v = 1 - u;
		for (let k = 0; k < size; k++) {
			const a = values[from * size + k];
			const b = values[to * size + k];
			point[k] =
				v * v * ((1 + 2 * u) * a + u * duration * outTangent[k]) +
				u * u * ((3 - 2 * u) * b - v * duration * inTangent[k]);
		}
		if (!(distance(size, point, values.subarray(i * size, (i + 1) * size)) <= bound)) return null;
	}
	return { to, outTangent, inTangent };
}

function cubicSegments(run: Run, size: number, bound: number): CubicSegment[] {
	const segments: CubicSegment[] = [];
	let from = 0;
	while (from < run.times.length - 1) {
		let best: CubicSegment | null = null;
		const start = from;
		longest(start, run.times.length - 1, (to) => {
			const segment = cubicSegment(run, size, start, to, bound);
			if (segment && (!best || to > best.to)) best = segment;
			return segment !== null;
		});
		const segment: CubicSegment = best ?? cubicSegment(run, size, start, start + 1, Infinity)!;
		segments.push(segment);
		from = segment.to;
	}
	return segments;
}

function buildLinear(runs: readonly Run[], size: number, bound: number): Sampler {
	const times: number[] = [];
	const values: number[] = [];
	for (const run of runs)
		for (const i of linearVertices(run, size, bound)) {
			times.push(run.times[i]);
			values.push(...run.values.subarray(i * size, (i + 1) * size));
		}
	return {
		interpolation: 'LINEAR',
		size,
		times: Float32Array.from(times),
		values: Float32Array.from(values),
	};
}

function buildCubic(runs: readonly Run[], size: number, bound: number): Sampler {
	const times: number[] = [];
	const values: number[] = [];
	const zero = new Float64Array(size);
	for (const run of runs) {
		const push = (i: number, into: Float64Array, out: Float64Array) => {
			times.push(run.times[i]);
			values.push(...into, ...run.values.subarray(i * size, (i + 1) * size), ...out);
		};
		let into: Float64Array = zero;
		let at = 0;
		for (const segment of cubicSegments(run, size, bound)) {
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

/** The nearest jump is closer than this many seconds: readers may show either side there. */
function nearJump(source: Source, seconds: number): boolean {
	const tolerance = 4 * 2 ** -24 * Math.max(1, seconds);
	return source.pieces.some((p) => p.jump && Math.abs(ticksToSeconds(p.t) - seconds) <= tolerance);
}

/**
 * Measures a sampler against its source as a float32 reader plays it: on every stretch between corners of the
 * source and keys of the file, densely, then at the extrema of the residual. `over` gets the ticks of every place
 * that is worse than `bound`.
 */
export function measure(
	source: Source,
	sampler: Sampler,
	bound = Infinity,
	over?: (ticks: number) => void,
): { error: number; errorAt: number } {
	const { size } = source;
	const out = new Float32Array(size);
	const truth = new Float64Array(size);
	let error = 0;
	let errorAt = 0;
	const residual = (seconds: number): number => {
		const ticks = Math.min(source.end, Math.max(source.start, seconds * TICKS_PER_SECOND));
		sampleAt(sampler, seconds, out);
		source.evaluate(ticks, truth);
		return distance(size, out, truth);
	};
	const note = (seconds: number, value: number) => {
		if (!(value > error) && value <= bound) return;
		if (nearJump(source, seconds)) return;
		if (value > error || Number.isNaN(value)) {
			error = value;
			errorAt = seconds;
		}
		if (!(value <= bound)) over?.(seconds * TICKS_PER_SECOND);
	};
	const start = ticksToSeconds(source.start);
	const end = ticksToSeconds(source.end);
	const marks = [start, end];
	for (const p of source.pieces) marks.push(ticksToSeconds(p.t));
	for (const t of sampler.times) marks.push(t);
	const inside = marks.filter((t) => t >= start && t <= end).sort((a, b) => a - b);
	for (let m = 0; m + 1 < inside.length; m++) {
		const [a, b] = [inside[m], inside[m + 1]];
		note(a, residual(a));
		if (b - a < 1e-9) continue;
		const steps = Math.min(400, Math.max(12, Math.ceil((b - a) * 240)));
		const h = (b - a) / steps;
		let left = residual(a);
		let here = residual(a + h);
		for (let i = 1; i < steps; i++) {
			const right = residual(a + (i + 1) * h);
			if (here >= left && here >= right) {
				// The residual peaks in this cell: a parabola through three points finds where.
				const curve = left - 2 * here + right;
				const shift = curve < 0 ? (0.5 * (left - right)) / curve : 0;
				const peak = a + (i + Math.max(-1, Math.min(1, shift))) * h;
				note(peak, residual(peak));
			}
			note(a + i * h, here);
			left = here;
			here = right;
		}
	}
	note(end, residual(end));
	return { error, errorAt };
}

/** Fits one interpolation, measures, adds samples where it exceeds the bound, and fits again. */
function refine(
	source: Source,
	bound: number,
	build: (runs: readonly Run[], size: number, bound: number) => Sampler,
): Fitted | null {
	const extra = new Set<number>();
	let within = bound * MARGIN;
	for (let round = 0; round < ROUNDS; round++) {
		const runs = sampleRuns(source, extra);
		const sampler = build(runs, source.size, within);
		const before = extra.size;
		const { error, errorAt } = measure(source, sampler, bound, (ticks) => {
			const step = LONGEST_CELL / 2 ** (round + 2);
			extra
				.add(ticks)
				.add(ticks - step)
				.add(ticks + step);
		});
		if (error <= bound) return { sampler, error, errorAt };
		if (extra.size === before || round > 4) within *= 0.8;
	}
	return null;
}

/** The value that a source has throughout, if it never leaves it by more than the bound. */
function constantValue(source: Source, bound: number): Float64Array<ArrayBuffer> | null {
	const first = new Float64Array(source.size);
	source.evaluate(source.start, first);
	const sampler: Sampler = {
		interpolation: 'STEP',
		size: source.size,
		times: Float32Array.of(0),
		values: Float32Array.from(first),
	};
	return measure(source, sampler, Infinity).error <= bound ? first : null;
}

/**
 * The smallest of the encodings that stay within `bound` (absolute, in the path's units; degrees for rotations).
 * Throws a RangeError when not even dense keys do, which means that the source is finer than float32 times.
 */
export function fit(source: Source, bound: number): Fitted {
	const constant = constantValue(source, bound);
	if (constant) {
		const sampler: Sampler = {
			interpolation: 'STEP',
			size: source.size,
			times: Float32Array.of(Math.fround(ticksToSeconds(source.start))),
			values: Float32Array.from(constant),
		};
		return { sampler, ...measure(source, sampler) };
	}
	const candidates = [refine(source, bound, buildLinear), refine(source, bound, buildCubic)].filter(
		(fitted): fitted is Fitted => fitted !== null,
	);
	if (candidates.length === 0) {
		throw new RangeError(`the bound ${bound} cannot be kept with float32 key times`);
	}
	return candidates.reduce((a, b) => (samplerBytes(b.sampler) < samplerBytes(a.sampler) ? b : a));
}

/** Dense LINEAR keys at a fixed rate: what a file costs without any fit. */
export function bake(source: Source, rate: number): Sampler {
	const { size } = source;
	const frames = Math.ceil(ticksToSeconds(source.end - source.start) * rate - 1e-9);
	const times = new Float32Array(frames + 1);
	const values = new Float32Array((frames + 1) * size);
	const value = new Float64Array(size);
	for (let i = 0; i <= frames; i++) {
		const t = Math.min(source.end, source.start + secondsToTicks(i / rate));
		source.evaluate(t, value);
		times[i] = ticksToSeconds(t);
		values.set(value, i * size);
	}
	return { interpolation: 'LINEAR', size, times, values };
}
