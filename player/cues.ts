/** Cues of a clip over all its rounds: each fires exactly once, whatever the frame time is. */
import { playedTicks, type Looped } from './loop';

export interface Cue {
	readonly name: string;
	/** Ticks from the start of a round. */
	readonly t: number;
	readonly payload: unknown;
}

export interface FiredCue<C extends Cue = Cue> {
	cue: C;
	/** Ticks since the clip's start, over all rounds. */
	at: number;
}

/** Rounds that are looked through in one step at most: a tab that slept for hours must not fire for ever. */
const MOST_ROUNDS = 1000;

/** Times at which a cue fires in a round, ticks since the clip's start. */
function timeInRound({ length, loop }: Looped, t: number, round: number): number {
	const from = loop.mode === 'once' ? 0 : round * (length + loop.pause);
	return from + (loop.mode === 'alternate' && round % 2 === 1 ? length - t : t);
}

/**
 * The cues that fire while the time since a clip's start goes from `from` (not included, unless `fromStart`) to `to`
 * (included), in the order in which they are passed; backwards when `to` is before `from`. Cues of one instant keep
 * their order. A seek is no passing: it asks nothing. Where an alternating clip turns without a pause, a cue at that
 * end fires once.
 */
export function cuesPassed<C extends Cue>(
	clip: Looped,
	cues: readonly C[],
	from: number,
	to: number,
	fromStart = false,
): FiredCue<C>[] {
	let fired: FiredCue<C>[] | null = null;
	const backwards = to < from;
	const [low, high] = backwards ? [to, from] : [from, to];
	const includesLow = backwards || fromStart;
	const includesHigh = !backwards;
	const isOnce = clip.loop.mode === 'once';
	const period = clip.length + clip.loop.pause;
	const total = playedTicks(clip);
	const lastRound = isOnce ? 0 : (clip.loop.count ?? Infinity) - 1;
	const firstRound = isOnce ? 0 : Math.max(0, Math.floor(low / period) - 1);
	const endRound = Math.min(lastRound, Math.floor(high / period), firstRound + MOST_ROUNDS);
	for (const cue of cues) {
		if (cue.t > clip.length) continue;
		let before = -1;
		for (let round = firstRound; round <= endRound; round++) {
			const at = timeInRound(clip, cue.t, round);
			if (at === before || at > total) continue;
			before = at;
			const after = includesLow ? at >= low : at > low;
			const until = includesHigh ? at <= high : at < high;
			if (after && until) (fired ??= []).push({ cue, at });
		}
	}
	if (!fired) return [];
	fired.sort((a, b) => a.at - b.at || a.cue.t - b.cue.t);
	return backwards ? fired.reverse() : fired;
}
