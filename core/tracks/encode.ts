/** A track as keys within its bound: exact where the motion allows, else the smallest fit. */
import { fit } from '../fit/fit';
import { measure } from '../fit/measure';
import type { Sampler } from '../fit/sampler';
import { distance } from '../fit/source';
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
	const room = size === 4 ? CLOSED_TURN : CLOSED_SHARE * largest;
	if (times.length < 2 || !(distance(source, first, last) <= room)) return sampler;
	const cubic = interpolation === 'CUBICSPLINE';
	const from = cubic ? size : 0;
	const to = (times.length - 1) * (cubic ? 3 : 1) * size + from;
	let dot = 0;
	for (let k = 0; k < size; k++) dot += values[from + k] * values[to + k];
	// q and −q turn alike: the last one stays on the side of its neighbour.
	const sign = size === 4 && dot < 0 ? -1 : 1;
	const next = values.slice();
	for (let k = 0; k < size; k++) next[to + k] = sign * values[from + k] || 0;
	return { ...sampler, values: next };
}

/** Throws a RangeError when the bound cannot be kept. */
export function encode(track: Track, bound: number): { sampler: Sampler; exact: boolean } {
	const own = exactSampler(track);
	const exact = own && closed(own, track);
	if (exact && measure(track.source, exact, bound).error <= bound) return { sampler: exact, exact: true };
	return { sampler: closed(fit(track.source, bound).sampler, track), exact: false };
}
