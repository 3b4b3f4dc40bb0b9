/**
 * Fewest LINEAR keys within a bound: vertices need not lie on the curve. The corridor of ±bound is stabbed while the
 * interval of values that a vertex can have is carried along; going back, each vertex gets a value that fits both of
 * its segments. O(samples).
 */
import type { Run } from './samples';
import type { Sampler } from './sampler';
import { Stabber } from './stabber';
import { rotates, type Form } from './source';
import { oneAxis, turned } from './axis-turn';
import { angleBetween, DEGREES } from '../pose/quaternion';

/** Segments of rotations turn less than this, so that every float32 reader takes the same way. */
const LARGEST_TURN = 160;

interface Vertices {
	/** Indices of samples. */
	at: number[];
	/** `size` numbers a vertex. */
	values: Float64Array;
}

/**
 * Vertices over one run. `mayReach(i, j)` can forbid a segment; a neighbouring sample is always allowed. With
 * `pinned`, first and last vertex have exactly the values of their samples.
 */
export function stabCorridor(
	times: Float64Array,
	values: Float64Array,
	slack: Float64Array,
	size: number,
	bound: number,
	mayReach?: (from: number, to: number) => boolean,
	pinned = false,
): Vertices {
	const count = times.length;
	if (count === 1) return { at: [0], values: values.slice(0, size) };
	const stabbers = Array.from({ length: size }, () => new Stabber());
	const low = new Float64Array(size);
	const high = new Float64Array(size);
	for (let k = 0; k < size; k++) {
		const room = pinned ? 0 : bound - slack[0];
		low[k] = values[k] - room;
		high[k] = values[k] + room;
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
			const room = pinned && j === count - 1 ? 0 : Math.max(bound - slack[j], 0.25 * bound);
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
	const result = new Float64Array(at.length * size);
	for (let k = 0; k < size; k++) {
		let v = (low[k] + high[k]) / 2;
		result[(at.length - 1) * size + k] = v;
		for (let i = at.length - 2; i >= 0; i--) {
			// Between the two extreme lines of the segment, the one that ends at the chosen value.
			const line = 4 * (i * size + k);
			const [startFlat, startSteep, endFlat] = [lines[line], lines[line + 1], lines[line + 2]];
			const span = lines[line + 3] - endFlat;
			const share = span > 1e-300 ? Math.min(1, Math.max(0, (v - endFlat) / span)) : 0.5;
			v = startFlat + share * (startSteep - startFlat);
			result[i * size + k] = v;
		}
	}
	return { at, values: result };
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

/** The LINEAR sampler of some runs, within `bound` at their samples. */
export function fitLinear(runs: readonly Run[], form: Form, bound: number): Sampler {
	const { size, plain } = form;
	const times: number[] = [];
	const values: number[] = [];
	const turn = rotates(form) ? oneAxis(runs) : null;
	runs.forEach((run, r) => {
		if (turn) {
			// About one axis a slerp is linear in the angle: one number to fit.
			const angles = turn.angles[r];
			const mayReach = (from: number, to: number) =>
				Math.abs(angles[to] - angles[from]) + 2 * bound < LARGEST_TURN;
			const fitted = stabCorridor(run.times, angles, run.slack, 1, bound, mayReach);
			fitted.at.forEach((sample, i) => {
				times.push(run.times[sample]);
				turned(turn, fitted.values[i], values);
			});
		} else if (rotates(form)) {
			for (const sample of onCurve(run, bound)) {
				times.push(run.times[sample]);
				values.push(...run.values.subarray(4 * sample, 4 * sample + 4));
			}
		} else {
			const fitted = stabCorridor(run.times, run.values, run.slack, size, bound);
			for (const sample of fitted.at) times.push(run.times[sample]);
			values.push(...fitted.values);
		}
	});
	return {
		interpolation: 'LINEAR',
		size,
		plain,
		times: Float32Array.from(times),
		values: Float32Array.from(values),
	};
}
