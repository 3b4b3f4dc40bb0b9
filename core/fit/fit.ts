/**
 * Reduces a source to few keys of a glTF sampler within a bound. Each candidate is measured as a float32 reader plays
 * it and refined where it exceeds: the bound is kept by measurement, never by hope.
 */
import { secondsToTicks, ticksToSeconds, TICKS_PER_SECOND } from '../../player/time';
import { chunksOf, joined } from './chunks';
import { fitCubic, fitCubicWithin } from './cubic';
import { fitLinear } from './linear';
import { measure, type Measured } from './measure';
import { samplerBytes, type Sampler } from './sampler';
import { pinnedTicks } from './pins';
import { sampleRuns, type Run } from './samples';
import { rotates, type RowKind, type Source } from './source';

export interface Fitted extends Measured {
	sampler: Sampler;
}

/** Share of the bound that the keys may use; rounding to float32 and to short mantissas takes the rest. */
const SHARE = 0.985;
/** What a second try of LINEAR may use, where the first is close to being the smallest. */
const WHOLE_SHARE = 0.997;
/** Peaks between the places that are looked at can be a little higher than what was measured. */
const GUARD = 0.002;
/** What float32 arithmetic turns a rotation by, in degrees; a few float32 steps of the largest value for vectors. */
const ROTATION_NOISE = 4e-5;
const VALUE_NOISE = 2 ** -21;
const ROUNDS = 8;
/** A draft this much larger than the LINEAR one may still win, since refining adds keys to that one too. */
const WORTH_A_TRY = 1.3;

/** What a measured error may come to, so that the bound holds between the places that were measured too. */
function accepted(source: Source, runs: readonly Run[], bound: number): number {
	let noise = ROTATION_NOISE;
	if (!rotates(source)) {
		let largest = 0;
		for (const { values } of runs) for (const v of values) largest = Math.max(largest, Math.abs(v));
		noise = VALUE_NOISE * largest;
	}
	// A bound that is itself as fine as float32 leaves no room to be careful in.
	return Math.max(0.75 * bound, bound - Math.max(GUARD * bound, noise));
}

type Build = (runs: readonly Run[], kind: RowKind, bound: number) => Sampler;

/** A way to encode, and what it comes to before it is measured. */
interface Draft {
	build: Build;
	/** Share of the bound that its keys may use. */
	share: number;
	sampler: Sampler;
}

function draft(runs: readonly Run[], kind: RowKind, bound: number, share: number, build: Build): Draft {
	return { build, share, sampler: build(runs, kind, bound * share) };
}

/** One key for each run where the source keeps its value between jumps; null where it does not. */
function asSteps(source: Source, runs: readonly Run[], bound: number): Fitted | null {
	const { size, plain } = source;
	if (!runs.every(({ still }) => still.every(Boolean))) return null;
	const last = runs.at(-1)!;
	const end = last.times[last.count - 1];
	// A source with jumps has a key at its end, so that the file says how long it is.
	const times = runs.map((run, i) => (i === 0 ? Math.fround(ticksToSeconds(source.start)) : run.times[0]));
	const values = runs.flatMap((run) => [...run.values.subarray(0, size)]);
	if (runs.length > 1 && times.at(-1)! < end) {
		times.push(end);
		values.push(...values.slice(-size));
	}
	const sampler: Sampler = {
		interpolation: 'STEP',
		size,
		plain,
		times: Float32Array.from(times),
		values: Float32Array.from(values),
	};
	const measured = measure(source, sampler, bound);
	return measured.error <= bound ? { sampler, ...measured } : null;
}

/** The power of two at or below a number. */
function powerOfTwo(value: number): number {
	return 2 ** Math.floor(Math.log2(value));
}

/**
 * Rounds values to multiples of a step (and tangents to what moves the curve as little), for files that compress. What
 * is exact stays so, and quaternions of unit length.
 */
function rounded(sampler: Sampler, room: number): Sampler {
	const { interpolation, size, times, values, exact } = sampler;
	// Half a step off in a quaternion's component turns it by as much in radians, twice over.
	const unit = rotates(sampler) ? (room * Math.PI) / 360 : room;
	const step = powerOfTwo(unit);
	const next = values.slice();
	const cubic = interpolation === 'CUBICSPLINE';
	const stride = (cubic ? 3 : 1) * size;
	for (let i = 0; i < times.length; i++)
		for (let k = 0; k < stride; k++) {
			const at = i * stride + k;
			const isTangent = cubic && (k < size || k >= 2 * size);
			if (!isTangent && exact?.[i * size + (k % size)]) continue;
			let own = step;
			if (isTangent) {
				const other = k < size ? i - 1 : i + 1;
				const duration = Math.abs((times[other] ?? times[i]) - times[i]) || 1;
				// A tangent moves the curve by 4/27 of it times the duration, at most.
				own = powerOfTwo((unit * 27) / 4 / duration);
			}
			next[at] = Math.round(next[at] / own) * own;
		}
	return { ...sampler, values: next };
}

/** Of rotations only tangents can be rounded. */
function roundable(sampler: Sampler): boolean {
	return !rotates(sampler) || sampler.interpolation === 'CUBICSPLINE';
}

/** Shares of the bound that values may be rounded by, the coarsest first. */
const ROUNDINGS = [0.12, 0.05, 0.02];
/** A rounding makes the error larger by at least this share of itself: where that is too much, it is not tried. */
const ROUNDING_ADDS = 0.15;

/** Measures a draft, rounded as far as the bound allows; while it exceeds that, adds samples there and fits again. */
function refine(
	source: Source,
	bound: number,
	limit: number,
	{ build, share, sampler: first }: Draft,
	pins: readonly number[],
): Fitted | null {
	const extra = new Set<number>();
	let within = bound * share;
	let sampler = first;
	/** The sampler rounded, where that keeps the bound. */
	const coarser = (rounding: number): Fitted | null => {
		const candidate = rounded(sampler, rounding * bound);
		const measured = measure(source, candidate, limit, undefined, true);
		return measured.error <= limit ? { sampler: candidate, ...measured } : null;
	};
	for (let round = 0; ; round++) {
		const roundings = roundable(sampler) ? ROUNDINGS : [];
		// Most drafts keep the bound at once, rounded too: then one measurement is all.
		const tried = round === 0 ? roundings.slice(0, 1) : [];
		const coarsest = tried.length > 0 ? coarser(tried[0]) : null;
		if (coarsest) return coarsest;
		const before = extra.size;
		const measured = measure(source, sampler, limit, (ticks) => {
			const step = TICKS_PER_SECOND / 240 / 2 ** round;
			extra
				.add(ticks)
				.add(ticks - step)
				.add(ticks + step);
		});
		if (measured.error <= limit) {
			for (const rounding of roundings.slice(tried.length)) {
				if (measured.error + ROUNDING_ADDS * rounding * bound > limit) continue;
				const found = coarser(rounding);
				if (found) return found;
			}
			return { sampler, ...measured };
		}
		if (round === ROUNDS) return null;
		if (extra.size === before || round > 3) within *= 0.85;
		sampler = build(sampleRuns(source, bound, pins, extra), source, within);
	}
}

/** The same of a long draft stretch by stretch. */
function refineAll(
	source: Source,
	bound: number,
	limit: number,
	draft: Draft,
	pins: readonly number[],
): Fitted | null {
	const chunks = chunksOf(source, draft.sampler);
	if (chunks.length === 0) return refine(source, bound, limit, draft, pins);
	const { build, share } = draft;
	const fitted: Fitted[] = [];
	for (const chunk of chunks) {
		const inside = pins.filter((t) => t > chunk.start && t < chunk.end);
		const sampler = build(sampleRuns(chunk, bound, inside), chunk, bound * share);
		const own = refine(chunk, bound, limit, { build, share, sampler }, inside);
		if (!own) return null;
		fitted.push(own);
	}
	const worst = fitted.reduce((a, b) => (b.error > a.error ? b : a));
	return {
		sampler: joined(fitted.map(({ sampler }) => sampler)),
		error: worst.error,
		errorAt: worst.errorAt,
	};
}

function smaller(a: Fitted | null, b: Fitted | null): Fitted | null {
	if (!a || !b) return a ?? b;
	return samplerBytes(b.sampler) < samplerBytes(a.sampler) ? b : a;
}

/**
 * The smallest of the encodings that stay within `bound` (absolute, in the path's units; degrees for rotations), and
 * are exact to float32 at the ends, beside jumps, at holds and at contacts.
 * Throws a RangeError when not even dense keys do, which means that the source is finer than float32 times.
 */
export function fit(source: Source, bound: number): Fitted {
	const pins = pinnedTicks(source, bound);
	const runs = sampleRuns(source, bound, pins);
	const steps = asSteps(source, runs, bound);
	if (steps) return steps;
	const limit = accepted(source, runs, bound);
	const linear = draft(runs, source, bound, SHARE, fitLinear);
	const drafts = [linear];
	// Cubic keys cost three values: where they would take more than LINEAR ones they are given up half way.
	const mostKeys = Math.ceil((WORTH_A_TRY * samplerBytes(linear.sampler)) / (4 + 12 * source.size));
	const cubic = fitCubicWithin(runs, source, bound * SHARE, mostKeys);
	if (cubic) drafts.push({ build: fitCubic, share: SHARE, sampler: cubic });
	// The smallest first: refining only adds keys, so that most of the others need not be measured.
	drafts.sort((a, b) => samplerBytes(a.sampler) - samplerBytes(b.sampler));
	let best: Fitted | null = null;
	for (const candidate of drafts) {
		if (best && samplerBytes(candidate.sampler) >= samplerBytes(best.sampler)) break;
		best = smaller(best, refineAll(source, bound, limit, candidate, pins));
	}
	if (best && samplerBytes(linear.sampler) < 1.2 * samplerBytes(best.sampler)) {
		const whole = draft(runs, source, bound, WHOLE_SHARE, fitLinear);
		if (samplerBytes(whole.sampler) < samplerBytes(best.sampler))
			best = smaller(best, refineAll(source, bound, limit, whole, pins));
	}
	if (!best) throw new RangeError(`the bound ${bound} cannot be kept with float32 key times`);
	return best;
}

/** The fewest STEP or LINEAR keys within a bound, as `fit`: for formats that have no other spans. Throws as that does. */
export function fitAsLinear(source: Source, bound: number): Fitted {
	const pins = pinnedTicks(source, bound);
	const runs = sampleRuns(source, bound, pins);
	const steps = asSteps(source, runs, bound);
	if (steps) return steps;
	const linear = draft(runs, source, bound, SHARE, fitLinear);
	const found = refineAll(source, bound, accepted(source, runs, bound), linear, pins);
	if (!found) throw new RangeError(`the bound ${bound} cannot be kept with straight spans`);
	return found;
}

/** Dense LINEAR keys at a fixed rate: what a file costs without any fit. */
export function bake(source: Source, rate: number): Sampler {
	const { size, plain } = source;
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
	return { interpolation: 'LINEAR', size, plain, times, values };
}
