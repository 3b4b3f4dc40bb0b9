/** What tests of fits share. */
import { sampleAt, type Sampler } from './sampler';
import { distance, type Source } from './source';

/** The largest error at many times that have nothing to do with keys, away from jumps. */
export function worstOf(source: Source, sampler: Sampler, bound: number, places = 4002): number {
	const [early, truth, late] = Array.from({ length: 3 }, () => new Float64Array(source.size));
	const out = new Float32Array(source.size);
	let worst = 0;
	for (let i = 0; i < places; i++) {
		const ticks = (source.end * (i + 0.318 * (i % 2))) / places;
		if (source.pieces.some((p) => p.jump && Math.abs(p.t - ticks) < 0.2)) continue;
		sampleAt(sampler, ticks / 72_000, out);
		// Where a step of float32 time changes the source by half the bound, no key can follow it.
		const step = 2 ** -23 * ticks;
		source.evaluate(Math.max(0, ticks - step), early);
		source.evaluate(ticks, truth);
		source.evaluate(Math.min(source.end, ticks + step), late);
		const pairs = [
			[early, late],
			[early, truth],
			[truth, late],
		];
		if (pairs.some(([a, b]) => distance(source, a, b) > 0.5 * bound)) continue;
		worst = Math.max(worst, distance(source, out, truth));
	}
	return worst;
}
