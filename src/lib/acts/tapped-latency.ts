/** How late taps come that are made along with clicks: what hands, ears and the device take together. */

/** Fewer taps tell nothing. */
export const LEAST_TAPS = 4;
/** A tap farther off than this belongs to no click. */
const MOST_OFF_MS = 250;

/** The middle of how late taps come after the clicks nearest to them, in ms, never before; null of too few. */
export function tappedLatency(clicks: readonly number[], taps: readonly number[]): number | null {
	const off = taps
		.map((tap) =>
			clicks.map((click) => tap - click).reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a), Infinity),
		)
		.filter((late) => Math.abs(late) <= MOST_OFF_MS)
		.sort((a, b) => a - b);
	if (off.length < LEAST_TAPS) return null;
	const middle = off.length >> 1;
	const median = off.length % 2 === 1 ? off[middle] : (off[middle - 1] + off[middle]) / 2;
	return Math.max(0, Math.round(median));
}
