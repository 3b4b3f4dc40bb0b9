/**
 * Fewest CUBICSPLINE keys within a bound, tangents free: each segment goes as far as some cubic keeps within the bound
 * at every sample, which the best uniform approximation answers exactly, and tells how far it may go by its error.
 * Inside a run keys of vectors stand a little beside the curve, since the best cubic errs at its ends too; its first and
 * its last key are exact. Rotations are fitted where it counts, across q; along q (their length, which readers
 * normalise) they are free.
 */
import { oneAxis, turned } from './axis-turn';
import { Keys } from './keys';
import type { Sampler } from './sampler';
import type { Run } from './samples';
import { rotates, type RowKind } from './source';
import { directionFinder } from './unit-vector-segments';
import { SLACK_SHARE, type Segment, type SegmentFinder } from './segment';
import { CubicFromPoint } from './best-cubic';

/**
 * How far beside the curve, as a share of the bound, a key inside a run may stand: the best cubic of a curve with an
 * even bend errs alike at both ends. Near noise, which bends either way, a key leaves the next segment more room.
 */
const SMOOTH_BESIDE = 0.8;
const ROUGH_BESIDE = 0.4;
/** Fits with more segments than this are tried both ways. */
const LONG_FIT = 8;
/** The last key of a run must have its value exactly: what rounding may still take there, as a share of the bound. */
const AT_THE_END = 1e-6;

/** Exact feasibility for vectors: the best cubic of every component that moves. */
function vectorFinder(run: Run, size: number, bound: number, beside: number): SegmentFinder {
	const { times, values, slack, count, still } = run;
	const components = still.map((stands) => (stands ? null : new CubicFromPoint()));
	let from = 0;
	/** Samples before this one are known to the components. */
	let known = 0;
	const know = (to: number): void => {
		for (; known <= to; known++) {
			const tau = times[known] - times[from];
			const room = Math.max(bound - SLACK_SHARE * slack[known], 0.3 * bound);
			for (let k = 0; k < size; k++) components[k]?.add(tau, values[known * size + k], room);
		}
	};
	return {
		size,
		start: values.slice(0, size),
		ratio: 0,
		begin(sample, startValues) {
			from = sample;
			known = sample + 1;
			components.forEach((component, k) => component?.begin(startValues[k]));
		},
		find(to) {
			know(to);
			this.ratio = 0;
			const isLast = to === count - 1;
			const room = (isLast ? AT_THE_END : beside) * bound;
			for (const component of components) {
				if (!component) continue;
				const found = component.search(to - from, room);
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
				const component = components[k];
				segment.end[k] = component && !isLast ? component.value(tau) : values[to * size + k];
				segment.outTangent[k] = component?.slope(0) ?? 0;
				segment.inTangent[k] = component?.slope(tau) ?? 0;
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
	const chain = (beside: number, limit: number) => {
		const finder = vectorFinder(run, size, bound, beside);
		return chainOf(finder, firstSegment(finder, count), count, limit);
	};
	const smooth = chain(SMOOTH_BESIDE, most);
	if (smooth && smooth.segments.length <= LONG_FIT) return smooth;
	return chain(ROUGH_BESIDE, smooth ? smooth.segments.length - 1 : most) ?? smooth;
}

/** The CUBICSPLINE sampler of some runs, within `bound` at their samples. */
export function fitCubic(runs: readonly Run[], kind: RowKind, bound: number): Sampler {
	return fitCubicWithin(runs, kind, bound, Infinity)!;
}

/** The same where at most so many keys do; null where it would take more. */
export function fitCubicWithin(
	runs: readonly Run[],
	kind: RowKind,
	bound: number,
	mostKeys: number,
): Sampler | null {
	const { size, plain } = kind;
	const turn = rotates(kind) ? oneAxis(runs) : null;
	const keys = new Keys(size, 'CUBICSPLINE');
	// About one axis, the plane of half angles: its two directions as quaternions.
	const plane: number[] = [];
	if (turn) {
		turned(turn, 0, plane);
		turned(turn, 180, plane);
	}
	/** Numbers of the plane, or of the quaternion or vector itself. */
	const inSpace = (v: Float64Array): Float64Array =>
		turn ? Float64Array.from({ length: 4 }, (_, k) => v[0] * plane[k] + v[1] * plane[4 + k]) : v;
	const zero = new Float64Array(size);
	let into: Float64Array = zero;
	for (const [r, run] of runs.entries()) {
		const most = mostKeys - keys.count;
		let chain: Chain | null;
		if (run.count < 2) chain = { start: run.values, segments: [] };
		else if (rotates(kind)) {
			const finder = directionFinder(run, turn?.angles[r], bound);
			chain = chainOf(finder, firstSegment(finder, run.count), run.count, most);
		} else chain = vectorChain(run, size, bound, most);
		if (!chain) return null;
		let at = 0;
		let value: Float64Array = chain.start;
		const put = (out: Float64Array) => {
			const isEnd = at === 0 || at === run.count - 1;
			// Of rotations every key stands on the curve: there are no numbers but its own.
			const onCurve = isEnd || rotates(kind);
			const own = onCurve ? run.values.subarray(at * size, (at + 1) * size) : value;
			keys.putCubic(run.times[at], into, own, out, onCurve ? null : run.still);
		};
		for (const segment of chain.segments) {
			put(inSpace(segment.outTangent));
			into = inSpace(segment.inTangent);
			value = segment.end;
			at = segment.to;
		}
		if (runs[r + 1]?.joins) continue;
		put(zero);
		into = zero;
	}
	return { ...keys.sampler(), plain };
}
