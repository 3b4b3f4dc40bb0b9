/** A track as keys within its bound: exact where the motion allows, else the smallest fit. */
import { bake, fit, fitAsLinear } from '../fit/fit';
import { measure } from '../fit/measure';
import { samplerBytes, type Sampler } from '../fit/sampler';
import { distance, rotates } from '../fit/source';
import { exactSampler } from './exact';
import type { Track } from './track';

export interface Encoded {
	track: Track;
	sampler: Sampler;
	/** Whether the keys are the motion itself, not a fit. */
	exact: boolean;
	/** In the format's units, and the factor that takes errors back to the project's. */
	bound: number;
	toProject: number;
}

/** Degrees, and shares of the largest value, within which a loop closes: what is left is rounding. */
const CLOSED_TURN = 1e-6;
const CLOSED_SHARE = 1e-9;

/** Of a source whose end is its start but for rounding, the last value becomes the first one, bit by bit. */
function closed(sampler: Sampler, { source, largest }: Track): Sampler {
	const { size, interpolation, times, values } = sampler;
	const [first, last] = [new Float64Array(size), new Float64Array(size)];
	source.evaluate(source.start, first);
	source.evaluate(source.end, last);
	const turns = rotates(source);
	const room = turns ? CLOSED_TURN : CLOSED_SHARE * largest;
	if (times.length < 2 || !(distance(source, first, last) <= room)) return sampler;
	const cubic = interpolation === 'CUBICSPLINE';
	const from = cubic ? size : 0;
	const to = (times.length - 1) * (cubic ? 3 : 1) * size + from;
	let dot = 0;
	for (let k = 0; k < size; k++) dot += values[from + k] * values[to + k];
	// q and −q turn alike: the last one stays on the side of its neighbour.
	const sign = turns && dot < 0 ? -1 : 1;
	const next = values.slice();
	for (let k = 0; k < size; k++) next[to + k] = sign * values[from + k] || 0;
	return { ...sampler, values: next };
}

/** Where keys are placed: wherever they are the fewest, these without cubic ones, or at a fixed rate a second. */
export type Encoding = { kind: 'fitted' } | { kind: 'linear' } | { kind: 'baked'; rate: number };

/** So many keys somebody may have placed by hand; more are a recording, which a bound is there to thin out. */
const MOST_EXACT_KEYS = 64;
/** What a fit has to come to, as a share of the exact keys, to go before them. */
const WORTH_FITTING = 0.8;

/**
 * Keys of a track within a bound; those at a fixed rate are what they are. Throws a RangeError when the bound cannot be
 * kept.
 */
export function encode(
	track: Track,
	bound: number,
	encoding: Encoding = { kind: 'fitted' },
): { sampler: Sampler; exact: boolean } {
	const { source } = track;
	if (encoding.kind === 'baked') return { sampler: closed(bake(source, encoding.rate), track), exact: false };
	const isLinear = encoding.kind === 'linear';
	const own = exactSampler(track);
	const exact = own && !(isLinear && own.interpolation === 'CUBICSPLINE') ? closed(own, track) : null;
	const isSound = exact !== null && measure(source, exact, bound).error <= bound;
	if (isSound && exact.times.length <= MOST_EXACT_KEYS) return { sampler: exact, exact: true };
	const { sampler } = isLinear ? fitAsLinear(source, bound) : fit(source, bound);
	if (isSound && samplerBytes(exact) * WORTH_FITTING <= samplerBytes(sampler))
		return { sampler: exact, exact: true };
	return { sampler: closed(sampler, track), exact: false };
}
