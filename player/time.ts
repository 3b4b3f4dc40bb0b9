/** Time is an integer count of ticks, 72 000 a second: every common frame rate and every millisecond is a whole number. */

export const TICKS_PER_SECOND = 72_000;

/** Nearest tick to a time in seconds. */
export function secondsToTicks(seconds: number): number {
	return Math.round(seconds * TICKS_PER_SECOND);
}

export function ticksToSeconds(ticks: number): number {
	return ticks / TICKS_PER_SECOND;
}
