/** Straight keys of a recorded colour: all four numbers at the same times, mixed in linear light between them. */
import type { Key } from '../curve/types';
import type { Samples } from '../fit/take-filter';
import { linearFromSrgb, srgbFromLinear } from '../../player/maths/colour';

/** How far the samples of one number are off, between two keys and at most. */
export interface ColourKeys {
	/** Of each number, its keys. */
	keys: Key[][];
	largest: number[];
	/** Sums of the squares. */
	squares: number[];
}

const ALPHA = 3;

/** What the four numbers are at sample `i`, mixed between samples `a` and `b`. */
function mixedAt(four: readonly Samples[], a: number, b: number, i: number): number[] {
	const { times } = four[0];
	const share = (times[i] - times[a]) / (times[b] - times[a]);
	return four.map(({ values }, k) => {
		if (k === ALPHA) return values[a] + (values[b] - values[a]) * share;
		const [from, to] = [linearFromSrgb(values[a]), linearFromSrgb(values[b])];
		return srgbFromLinear(from + (to - from) * share);
	});
}

/**
 * As few keys as are found by halving at the worst place, until no number of any sample is off by more than `tolerance`.
 * Source: U. Ramer, "An iterative procedure for the polygonal approximation of plane curves" (1972).
 */
export function colourKeys(four: readonly Samples[], tolerance: number): ColourKeys {
	const last = four[0].times.length - 1;
	const kept = new Set([0, last]);
	const [largest, squares] = [four.map(() => 0), four.map(() => 0)];
	const left: [number, number][] = [[0, last]];
	for (let span = left.pop(); span; span = left.pop()) {
		const [a, b] = span;
		let [worst, at] = [0, -1];
		const offs: number[][] = [];
		for (let i = a + 1; i < b; i++) {
			const mixed = mixedAt(four, a, b, i);
			const off = four.map(({ values }, k) => Math.abs(mixed[k] - values[i]));
			offs.push(off);
			const most = Math.max(...off);
			if (most > worst) [worst, at] = [most, i];
		}
		if (worst > tolerance) {
			kept.add(at);
			left.push([a, at], [at, b]);
			continue;
		}
		for (const off of offs)
			off.forEach((v, k) => {
				largest[k] = Math.max(largest[k], v);
				squares[k] += v * v;
			});
	}
	const places = [...kept].sort((a, b) => a - b);
	const keys = four.map(({ times, values }) =>
		places.map((i): Key => ({ t: times[i], v: values[i], shape: { kind: 'linear' } })),
	);
	return { keys, largest, squares };
}
