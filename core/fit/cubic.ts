/**
 * Fewest CUBICSPLINE keys within a bound, tangents free: each segment goes as far as some cubic keeps within the bound
 * at every sample, which the best uniform approximation answers exactly, and tells how far it may go by its error.
 * Keys of vectors stand on the curve or a little beside it, since the best cubic errs at its ends too. Rotations are
 * fitted where it counts, across q; along q (their length, which readers normalise) they are free.
 */
import { oneAxis, turned } from './axis-turn';
import type { Sampler } from './sampler';
import type { Run } from './samples';
import { rotates, type Form } from './source';
import { directionFinder } from './direction';
import { SLACK_SHARE, type Segment, type SegmentFinder } from './segment';
import { CubicFromPoint } from './uniform';

/** Where keys of vectors stand: how far beside the curve as a share of the bound, and the first one on which side. */
interface Stance {
	side: -1 | 0 | 1;
	beside: number;
}

/** The best cubic of a curve with an even bend errs alike at both ends, so that keys stand on one side of it. */
const SMOOTH_STANCES: readonly Stance[] = [
	{ side: 1, beside: 0.8 },
	{ side: -1, beside: 0.8 },
];
/** Noise bends either way: keys near it leave the next segment more room. */
const ROUGH_STANCE: Stance = { side: 0, beside: 0.4 };
/** Fits with more segments than this try every stance to the end; shorter ones the better of the smooth ones. */
const LONG_FIT = 8;

/** Exact feasibility for vectors: the best cubic of every component. */
function vectorFinder(run: Run, size: number, bound: number, stance: Stance): SegmentFinder {
	const { times, values, slack } = run;
	const components = Array.from({ length: size }, () => new CubicFromPoint());
	const beside = stance.beside * bound;
	let from = 0;
	/** Samples before this one are known to the components. */
	let known = 0;
	const know = (to: number): void => {
		for (; known <= to; known++) {
			const tau = times[known] - times[from];
			const room = Math.max(bound - SLACK_SHARE * slack[known], 0.3 * bound);
			for (let k = 0; k < size; k++) components[k].add(tau, values[known * size + k], room);
		}
	};
	const first = values.slice(0, size);
	return {
		size,
		start: first.map((v) => v + stance.side * beside),
		ratio: 0,
		begin(sample, startValues) {
			from = sample;
			known = sample + 1;
			components.forEach((component, k) => component.begin(startValues[k]));
		},
		find(to) {
			know(to);
			this.ratio = 0;
			for (const component of components) {
				const found = component.search(to - from, beside);
				this.ratio = Math.max(this.ratio, component.ratio);
				if (!found) return null;
			}
			const tau = times[to] - times[from];
			const segment: Segment = {
				to,
				end: new Float64Array(size),
				outTangent: new Float64Array(size),
				inTangent: new Float64Array(size),
			};
			for (let k = 0; k < size; k++) {
				segment.end[k] = components[k].value(tau);
				segment.outTangent[k] = components[k].slope(0);
				segment.inTangent[k] = components[k].slope(tau);
			}
			return segment;
		},
	};
}

/** A cubic's error grows with about the fourth power of its length. */
const ERROR_GROWTH = 4;

/**
 * The longest segment from a sample, at most `last`: each try tells by its error how far to go next, within what is
 * known of too short and too long.
 */
function longest(
	finder: SegmentFinder,
	from: number,
	values: Float64Array,
	last: number,
	guess: number,
): Segment {
	finder.begin(from, values);
	let best: Segment | null = null;
	let bad = last + 1;
	let at = Math.min(last, from + guess);
	for (let tries = 1; ; tries++) {
		const segment = finder.find(at);
		if (segment) best = segment;
		else bad = at;
		const good = best?.to ?? from;
		if (bad - good <= 1) break;
		const growth = Math.min(4, Math.max(0.25, finder.ratio ** (-1 / ERROR_GROWTH)));
		let next = from + Math.floor((at - from) * growth);
		// Where the guesses do not close in, halving does.
		if (tries % 4 === 0 && bad <= last) next = (good + bad) >> 1;
		at = Math.min(bad - 1, Math.max(good + 1, next));
	}
	return best ?? finder.find(from + 1)!;
}

const FIRST_GUESS = 16;

interface Chain {
	start: Float64Array;
	segments: Segment[];
}

function firstSegment(finder: SegmentFinder, count: number): Segment {
	return longest(finder, 0, finder.start, count - 1, FIRST_GUESS);
}

/** Segments to the end of a run, each as long as it can be; null where they would be more than `most`. */
function chainOf(finder: SegmentFinder, first: Segment, count: number, most: number): Chain | null {
	const segments = [first];
	let segment = first;
	let length = first.to;
	while (segment.to < count - 1) {
		if (segments.length >= most) return null;
		const next = longest(finder, segment.to, segment.end, count - 1, length);
		length = next.to - segment.to;
		segments.push(next);
		segment = next;
	}
	return { start: finder.start, segments };
}

/** The chain of a run of vectors with the fewest segments; null where all would have more than `most`. */
function vectorChain(run: Run, size: number, bound: number, most: number): Chain | null {
	const { count } = run;
	const finders = SMOOTH_STANCES.map((stance) => vectorFinder(run, size, bound, stance));
	const firsts = finders.map((finder) => firstSegment(finder, count));
	const longer = firsts[1].to > firsts[0].to ? 1 : 0;
	let best = chainOf(finders[longer], firsts[longer], count, most);
	const tryToo = (finder: SegmentFinder, first: Segment) => {
		best = chainOf(finder, first, count, best ? best.segments.length - 1 : most) ?? best;
	};
	if (best && best.segments.length <= LONG_FIT) return best;
	tryToo(finders[1 - longer], firsts[1 - longer]);
	const rough = vectorFinder(run, size, bound, ROUGH_STANCE);
	tryToo(rough, firstSegment(rough, count));
	return best;
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
		const most = mostKeys - times.length;
		let chain: Chain | null;
		if (run.count < 2) chain = { start: run.values.slice(0, size), segments: [] };
		else if (rotates(form)) {
			const finder = directionFinder(run, turn?.angles[r], bound);
			chain = chainOf(finder, firstSegment(finder, run.count), run.count, most);
		} else chain = vectorChain(run, size, bound, most);
		if (!chain) return null;
		const { start, segments } = chain;
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
