/** How a clip's loop turns time since its start into a round and a time within it. */
import type { Clip } from '../document/types';

/** Ticks that a clip plays in all, or Infinity. */
export function playedTicks(clip: Clip): number {
	const { mode, count, pause } = clip.loop;
	if (mode === 'once') return clip.length;
	return count === null ? Infinity : count * clip.length + Math.max(0, count - 1) * pause;
}

/**
 * Writes the round (from 0) and the local time in 0…L of a time since the clip's start. A repeating clip shows
 * [0, L) in each round; the last instant of its last round, and a pause, show L. Odd rounds of an alternating clip
 * run backwards.
 */
export function localTime(clip: Clip, ticks: number, out: { local: number; round: number }): void {
	const { mode, count, pause } = clip.loop;
	const length = clip.length;
	const t = Math.max(0, ticks);
	if (mode === 'once' || length <= 0) {
		out.round = 0;
		out.local = Math.min(t, length);
		return;
	}
	const period = length + pause;
	let round = Math.floor(t / period);
	let within = t - round * period;
	if (count !== null && (round >= count || (round === count - 1 && within >= length))) {
		round = count - 1;
		within = length;
	}
	const forward = Math.min(within, length);
	out.round = round;
	out.local = mode === 'alternate' && round % 2 === 1 ? length - forward : forward;
}
