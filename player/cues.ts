/** Cues of a clip over all its rounds: each is passed exactly once, whatever the frame time is. */
import { playedTicks, type Looped } from './loop';

export interface Cue {
	readonly name: string;
	/** Ticks from the start of a round. */
	readonly t: number;
	readonly payload: unknown;
}

/**
 * When a time `t` of a round is passed next, as the time since a clip's start goes on from `from` (itself not included):
 * forwards, or backwards where `way` is −1; an infinite time where it is not passed any more. Where an alternating clip turns
 * without a pause, its end is passed once. In ticks.
 */
export function nextPass(clip: Looped, t: number, from: number, way: number): number {
	const { length, loop } = clip;
	const isOnce = loop.mode === 'once';
	const period = isOnce ? 0 : length + loop.pause;
	const last = isOnce ? 0 : (loop.count ?? Infinity) - 1;
	// The round that is gone on in, or beyond its end the last one.
	const begun = way > 0 ? Math.floor(from / period) : Math.ceil(from / period) - 1;
	const now = period > 0 ? Math.min(last, begun) : 0;
	const all = playedTicks(clip);
	let next = way * Infinity;
	if (t > length) return next;
	// Each round passes it once: what comes next is in this one or in a neighbour.
	for (let round = Math.max(0, now - 1); round <= Math.min(last, now + 1); round++) {
		const at = round * period + (loop.mode === 'alternate' && round % 2 === 1 ? length - t : t);
		const ahead = (at - from) * way;
		if (at <= all && ahead > 0 && ahead < Math.abs(next - from)) next = at;
	}
	return next;
}
