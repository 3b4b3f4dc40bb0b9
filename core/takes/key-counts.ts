/** How many keys a take needs for each tolerance, and which tolerance is a good bargain. */
export interface KeyCount {
	tolerance: number;
	keys: number;
}

export const LEAST_TOLERANCE = 0.001;
export const MOST_TOLERANCE = 0.25;
const POINTS = 13;

/** Tolerances at which keys are counted, from the finest to the coarsest, evenly spread as ratios. */
export const COUNTED_TOLERANCES: readonly number[] = Array.from(
	{ length: POINTS },
	(_, i) => LEAST_TOLERANCE * (MOST_TOLERANCE / LEAST_TOLERANCE) ** (i / (POINTS - 1)),
);

/**
 * The knee: of all points the one that is farthest below the straight line from the first to the last, both axes as
 * ratios. Null where no point is below it.
 * Source: V. Satopaa et al., "Finding a kneedle in a haystack" (2011).
 */
export function kneeOf(counts: readonly KeyCount[]): KeyCount | null {
	if (counts.length < 3) return null;
	const [first, last] = [counts[0], counts.at(-1)!];
	const x = ({ tolerance }: KeyCount) =>
		Math.log(tolerance / first.tolerance) / Math.log(last.tolerance / first.tolerance);
	const height = Math.log(first.keys / last.keys);
	if (!(height > 0)) return null;
	const below = (point: KeyCount) => 1 - x(point) - Math.log(point.keys / last.keys) / height;
	const best = counts.reduce((a, b) => (below(b) > below(a) ? b : a));
	return below(best) > 0 ? best : null;
}
