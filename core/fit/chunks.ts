/**
 * Long sources in stretches: a fit that is off somewhere is made anew there alone, so that the work grows with the
 * length and not with its square. Stretches meet in a key that is exact.
 */
import { secondsToTicks } from '../../player/time';
import type { Piece } from '../curve/piece';
import type { Sampler } from './sampler';
import { rotates, type Source } from './source';

/** Keys of a stretch, about: the one more at its border is a small share of them. */
const CHUNK_KEYS = 64;
/** So near to a jump, in seconds, there is no border. */
const ASIDE = 1e-3;

/** The stretch of a source between two ticks. */
function stretch(source: Source, start: number, end: number): Source {
	const { size, plain, looks, pieces } = source;
	const own: Piece[] = [];
	for (const piece of pieces) {
		if (piece.t >= end) break;
		// What is under way at its start is a piece of its own from there on.
		if (piece.t > start) own.push(piece);
		else own[0] = { t: start, jump: false, degree: piece.degree };
	}
	return { size, plain, looks, start, end, pieces: own, evaluate: (t, out) => source.evaluate(t, out) };
}

/**
 * A source cut at keys of a draft of its sampler, each stretch with so many of them; none where the draft is short. The
 * cuts are away from jumps.
 */
export function chunksOf(source: Source, { times }: Sampler): Source[] {
	if (times.length < 2 * CHUNK_KEYS) return [];
	const jumps = source.pieces.filter(({ jump }) => jump).map(({ t }) => t);
	const aside = secondsToTicks(ASIDE);
	const chunks: Source[] = [];
	let start = source.start;
	let jump = 0;
	for (let i = CHUNK_KEYS; i + CHUNK_KEYS <= times.length; i++) {
		const border = secondsToTicks(times[i]);
		while (jump < jumps.length && jumps[jump] < border - aside) jump++;
		if (jump < jumps.length && jumps[jump] <= border + aside) continue;
		chunks.push(stretch(source, start, border));
		start = border;
		i += CHUNK_KEYS - 1;
	}
	chunks.push(stretch(source, start, source.end));
	return chunks.length > 1 ? chunks : [];
}

/** The samplers of stretches that follow each other, as one; they are of one interpolation. */
export function joined(samplers: readonly Sampler[]): Sampler {
	const [{ interpolation, size, plain }] = samplers;
	const isCubic = interpolation === 'CUBICSPLINE';
	const stride = isCubic ? 3 * size : size;
	const value = isCubic ? size : 0;
	const count = samplers.reduce((sum, { times }) => sum + times.length - 1, 1);
	const times = new Float32Array(count);
	const values = new Float32Array(count * stride);
	const exact = new Array<boolean>(count * size).fill(false);
	let at = 0;
	for (const sampler of samplers) {
		// q and −q turn alike: a stretch goes on at the side at which the one before it ended.
		let dot = 0;
		if (at > 0 && rotates(sampler))
			for (let k = 0; k < size; k++) dot += values[at * stride + value + k] * sampler.values[value + k];
		const sign = dot < 0 ? -1 : 1;
		times.set(sampler.times, at);
		for (let i = 0; i < sampler.values.length; i++) {
			// Where two stretches meet, the way in is that of the one before.
			if (at > 0 && i < value) continue;
			values[at * stride + i] = sign * sampler.values[i];
		}
		sampler.exact?.forEach((own, i) => (exact[at * size + i] = own));
		at += sampler.times.length - 1;
	}
	return { interpolation, size, plain, times, values, exact };
}
