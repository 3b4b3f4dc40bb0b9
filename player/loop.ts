/** How a loop turns time since a clip's start into a round and a time within it. */

export type LoopMode = 'once' | 'repeat' | 'alternate';

export interface Loop {
	mode: LoopMode;
	/** Rounds; null is endless. */
	count: number | null;
	/** Ticks between rounds. */
	pause: number;
}

/** What has a length in ticks and goes round. */
export interface Looped {
	readonly length: number;
	readonly loop: Loop;
}

/** Ticks that a clip plays in all, or Infinity. */
export function playedTicks({ length, loop }: Looped): number {
	const { mode, count, pause } = loop;
	if (mode === 'once') return length;
	return count === null ? Infinity : count * length + Math.max(0, count - 1) * pause;
}

/**
 * Writes the round (from 0) and the local time in 0…L of a time since the clip's start. A repeating clip shows
 * [0, L) in each round; the last instant of its last round, and a pause, show L. Odd rounds of an alternating clip
 * run backwards.
 */
export function localTime(
	{ length, loop }: Looped,
	ticks: number,
	out: { local: number; round: number },
): void {
	const { mode, count, pause } = loop;
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
