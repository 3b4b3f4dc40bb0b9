/**
 * Fewest LINEAR keys within a bound: vertices need not lie on the curve. The corridor of ±bound is stabbed while the
 * interval of values that a vertex can have is carried along; going back, each vertex gets a value that fits both of
 * its segments. O(samples).
 */
import type { Run } from './samples';
import { Keys } from './keys';
import type { Sampler } from './sampler';
import { Stabber } from './stabber';
import { rotates, type RowKind } from './source';
import { oneAxis, turned } from './axis-turn';
import { angleBetween, DEGREES } from '../../player/maths/quaternion';

/** Segments of rotations turn less than this, so that every float32 reader takes the same way. */
const LARGEST_TURN = 160;

interface Vertices {
	/** Indices of samples. */
	at: number[];
	/** `size` numbers a vertex. */
	values: Float64Array;
}

/**
 * Vertices over one run, the first and the last with exactly the values of their samples. `mayReach(i, j)` can forbid a
 * segment; a neighbouring sample is always allowed.
 */
export function stabCorridor(
	times: Float64Array,
	values: Float64Array,
	slack: Float64Array,
	size: number,
	bound: number,
	mayReach?: (from: number, to: number) => boolean,
): Vertices {
	const count = times.length;
	if (count === 1) return { at: [0], values: values.slice(0, size) };
	const stabbers = Array.from({ length: size }, () => new Stabber());
	const low = new Float64Array(size);
	const high = new Float64Array(size);
	for (let k = 0; k < size; k++) {
		low[k] = values[k];
		high[k] = values[k];
	}
	const at = [0];
	// Of each segment and component, the lowest and the highest line by their values at start and end.
	const lines: number[] = [];
	let from = 0;
	while (from < count - 1) {
		for (let k = 0; k < size; k++) {
			stabbers[k].reset();
			stabbers[k].add(times[from], low[k], high[k]);
		}
		let to = from;
		for (let j = from + 1; j < count; j++) {
			const room = j === count - 1 ? 0 : Math.max(bound - slack[j], 0.25 * bound);
			let fits = j === from + 1 || !mayReach || mayReach(from, j);
			for (let k = 0; fits && k < size; k++) {
				const v = values[j * size + k];
				fits = stabbers[k].accepts(times[j], v - room, v + room);
			}
			if (!fits && j > from + 1) break;
			for (let k = 0; k < size; k++) {
				const v = values[j * size + k];
				stabbers[k].add(times[j], v - room, v + room);
			}
			to = j;
		}
		for (let k = 0; k < size; k++) {
			const stabber = stabbers[k];
			low[k] = stabber.flattest(times[to]);
			high[k] = stabber.steepest(times[to]);
			lines.push(stabber.flattest(times[from]), stabber.steepest(times[from]), low[k], high[k]);
		}
		at.push(to);
		from = to;
	}
	const middle = low.map((v, k) => (v + high[k]) / 2);
	return { at, values: goBack(at.length, lines, middle, values, count) };
}

/**
 * Goes back over the segments: each vertex gets a value that fits both of its own. `lines` has four numbers a segment
 * and component, the lowest and the highest line by their values at start and end; `last` is where the last vertex may
 * stand. The first and the last vertex are the first and the last of `count` samples.
 */
function goBack(
	vertices: number,
	lines: readonly number[],
	last: Float64Array,
	values: Float64Array,
	count: number,
): Float64Array {
	const size = last.length;
	const result = new Float64Array(vertices * size);
	for (let k = 0; k < size; k++) {
		let v = last[k];
		for (let i = vertices - 2; i >= 0; i--) {
			// Between the two extreme lines of the segment, the one that ends at the chosen value.
			const line = 4 * (i * size + k);
			const [startFlat, startSteep, endFlat] = [lines[line], lines[line + 1], lines[line + 2]];
			const span = lines[line + 3] - endFlat;
			const share = span > 1e-300 ? Math.min(1, Math.max(0, (v - endFlat) / span)) : 0.5;
			v = startFlat + share * (startSteep - startFlat);
			result[i * size + k] = v;
		}
		// What lies between two lines through a point is that point but for rounding.
		result[k] = values[k];
		result[(vertices - 1) * size + k] = values[(count - 1) * size + k];
	}
	return result;
}

/** Longest segments between samples of a turn about changing axes. */
function onCurve(run: Run, bound: number): number[] {
	const { times, values, slack, count } = run;
	const shown = new Float64Array(4);
	const truth = new Float64Array(4);
	const fits = (from: number, to: number): boolean => {
		const [a, b] = [4 * from, 4 * to];
		let dot = 0;
		for (let k = 0; k < 4; k++) dot += values[a + k] * values[b + k];
		const half = Math.acos(Math.min(1, Math.abs(dot)));
		if (2 * half * DEGREES > LARGEST_TURN) return false;
		const sign = dot < 0 ? -1 : 1;
		const sine = Math.sin(half);
		const duration = times[to] - times[from];
		for (let i = from + 1; i < to; i++) {
			const u = (times[i] - times[from]) / duration;
			// As readers do: a turn too small for its sine goes straight.
			const wa = sine > 1e-6 ? Math.sin(half * (1 - u)) / sine : 1 - u;
			const wb = sign * (sine > 1e-6 ? Math.sin(half * u) / sine : u);
			for (let k = 0; k < 4; k++) {
				shown[k] = wa * values[a + k] + wb * values[b + k];
				truth[k] = values[4 * i + k];
			}
			if (!(angleBetween(shown, truth) <= bound - slack[i])) return false;
		}
		return true;
	};
	const vertices = [0];
	for (let from = 0; from < count - 1;) {
		let good = from + 1;
		let step = 2;
		while (from + step < count && fits(from, from + step)) {
			good = from + step;
			step *= 2;
		}
		let bad = Math.min(count, from + step);
		while (bad - good > 1) {
			const middle = (good + bad) >> 1;
			if (fits(from, middle)) good = middle;
			else bad = middle;
		}
		vertices.push(good);
		from = good;
	}
	return vertices;
}

/** The vertices of a run of vectors; components that stand still have their value at all of them. */
function vectorVertices(run: Run, size: number, bound: number): Vertices {
	const { times, values, slack, count, still } = run;
	const moving = Array.from({ length: size }, (_, k) => k).filter((k) => !still[k]);
	if (moving.length === size) return stabCorridor(times, values, slack, size, bound);
	const own = new Float64Array(count * moving.length);
	for (let i = 0; i < count; i++)
		moving.forEach((k, m) => (own[i * moving.length + m] = values[i * size + k]));
	const fitted = stabCorridor(times, own, slack, moving.length, bound);
	const result = new Float64Array(fitted.at.length * size);
	for (let i = 0; i < fitted.at.length; i++) {
		result.set(values.subarray(0, size), i * size);
		moving.forEach((k, m) => (result[i * size + k] = fitted.values[i * moving.length + m]));
	}
	return { at: fitted.at, values: result };
}

/** The LINEAR sampler of some runs, within `bound` at their samples, exact at the ends of each. */
export function fitLinear(runs: readonly Run[], kind: RowKind, bound: number): Sampler {
	const { size, plain } = kind;
	const keys = new Keys(size, 'LINEAR');
	const turn = rotates(kind) ? oneAxis(runs) : null;
	const turnedTo: number[] = [];
	runs.forEach((run, r) => {
		/** Puts the keys at some samples; the first and the last have the values of these. */
		const put = (at: readonly number[], value: (i: number) => ArrayLike<number>) =>
			at.forEach((sample, i) => {
				if (i === 0 && run.joins) return;
				const isEnd = i === 0 || i === at.length - 1;
				const own = isEnd ? run.values.subarray(sample * size, (sample + 1) * size) : value(i);
				keys.put(run.times[sample], own, isEnd ? null : run.still);
			});
		if (turn) {
			// About one axis a slerp is linear in the angle: one number to fit.
			const angles = turn.angles[r];
			const mayReach = (from: number, to: number) =>
				Math.abs(angles[to] - angles[from]) + 2 * bound < LARGEST_TURN;
			const fitted = stabCorridor(run.times, angles, run.slack, 1, bound, mayReach);
			put(fitted.at, (i) => {
				turnedTo.length = 0;
				turned(turn, fitted.values[i], turnedTo);
				return turnedTo;
			});
		} else if (rotates(kind)) {
			const at = onCurve(run, bound);
			put(at, (i) => run.values.subarray(4 * at[i], 4 * at[i] + 4));
		} else {
			const fitted = vectorVertices(run, size, bound);
			put(fitted.at, (i) => fitted.values.subarray(i * size, (i + 1) * size));
		}
	});
	return { ...keys.sampler(), plain };
}
