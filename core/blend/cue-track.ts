/** Cues of a clip over all its rounds: each fires exactly once, whatever the frame time is. */
import { playedTicks } from '../clip/loop';
import type { Clip, Cue } from '../document/types';

export interface FiredCue {
	cue: Cue;
	/** Ticks since the clip's start, over all rounds. */
	at: number;
}

/** Rounds that are looked through in one step at most: a tab that slept for hours must not fire for ever. */
const MOST_ROUNDS = 1000;

/** Times at which a cue fires in a round, ticks since the clip's start. */
function timeInRound(clip: Clip, cue: Cue, round: number): number {
	const { mode, pause } = clip.loop;
	const from = mode === 'once' ? 0 : round * (clip.length + pause);
	return from + (mode === 'alternate' && round % 2 === 1 ? clip.length - cue.t : cue.t);
}

/**
 * The cues that fire while the time since a clip's start goes from `from` (not included, unless `fromStart`) to `to`
 * (included), in the order in which they are passed; backwards when `to` is before `from`. A seek is no passing: it
 * asks nothing. Where an alternating clip turns without a pause, a cue at that end fires once.
 */
export function cuesPassed(
	clip: Clip,
	cues: readonly Cue[],
	from: number,
	to: number,
	fromStart = false,
): FiredCue[] {
	const backwards = to < from;
	const [low, high] = backwards ? [to, from] : [from, to];
	const includesLow = backwards || fromStart;
	const includesHigh = !backwards;
	const period = clip.length + clip.loop.pause;
	const total = playedTicks(clip);
	const lastRound = clip.loop.mode === 'once' ? 0 : (clip.loop.count ?? Infinity) - 1;
	const firstRound = clip.loop.mode === 'once' ? 0 : Math.max(0, Math.floor(low / period) - 1);
	const endRound = Math.min(lastRound, Math.floor(high / period), firstRound + MOST_ROUNDS);
	const fired: FiredCue[] = [];
	for (const cue of cues) {
		if (cue.clip !== clip.id || cue.t > clip.length) continue;
		let before = -1;
		for (let round = firstRound; round <= endRound; round++) {
			const at = timeInRound(clip, cue, round);
			if (at === before || at > total) continue;
			before = at;
			const after = includesLow ? at >= low : at > low;
			const until = includesHigh ? at <= high : at < high;
			if (after && until) fired.push({ cue, at });
		}
	}
	fired.sort((a, b) => a.at - b.at || a.cue.t - b.cue.t || (a.cue.id < b.cue.id ? -1 : 1));
	return backwards ? fired.reverse() : fired;
}
