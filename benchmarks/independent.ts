/**
 * A measurement that shares nothing with the fit's own: the raw difference at a great many times in an irregular
 * order of places, nothing forgiven but the neighbourhood of a jump, where either side may show.
 */
import { ticksToSeconds } from '../player/time';
import { sampleAt, type Sampler } from '../core/fit/sampler';
import { distance, type Source } from '../core/fit/source';

const PLACES = 40_000;
/** Fraction of the golden section: steps by it come close to no grid. */
const GOLDEN = 0.618_033_988_749_895;
/** Ticks either side of a jump that are left out: two float32 steps at the end of the longest curve here. */
const JUMP_WINDOW = 0.2;

export function rawError(source: Source, sampler: Sampler): { error: number; ticks: number } {
	const out = new Float32Array(source.size);
	const truth = new Float64Array(source.size);
	const jumps = source.pieces.filter((piece) => piece.jump).map((piece) => piece.t);
	let error = 0;
	let at = 0;
	for (let i = 0; i < PLACES; i++) {
		const ticks = source.start + (source.end - source.start) * ((i * GOLDEN) % 1);
		if (jumps.some((t) => Math.abs(t - ticks) < JUMP_WINDOW)) continue;
		sampleAt(sampler, ticksToSeconds(ticks), out);
		source.evaluate(ticks, truth);
		const value = distance(source, out, truth);
		if (!(value <= error)) {
			error = value;
			at = ticks;
		}
	}
	return { error, ticks: at };
}
