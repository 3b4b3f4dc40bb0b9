/** What happens to a clip under way: cues that it passes, rounds that it begins, its end. */
import type { PlayerClip } from './clips';
import { nextPass, type Cue } from './cues';
import { playedTicks } from './loop';
import { TICKS_PER_SECOND } from './time';
import type { Track } from './track';

export type EventKind = 'cue' | 'loop' | 'end';

export interface TrackEvent<C extends Cue> {
	readonly kind: EventKind;
	readonly track: Track<C>;
	/** The clip that it happens to, and what that is asked for by: of a mix, the one that has the cue. */
	clip: PlayerClip<C>;
	key: string;
	/** Seconds from the start of the step that is taken, not below 0. */
	readonly moment: number;
	/** Ticks since the clip's start. */
	readonly at: number;
	cue: C | null;
	/** The round that begins, from 0. */
	readonly round: number;
	/** How much the clip counts at that moment. */
	weight: number;
}

/** Ticks within which a clip is where an event is: what rounding leaves of a step that led there. */
export const NEAR = 1e-4;

/**
 * Puts what a track meets in a step of `seconds` into `out`, not in order; of each cue, and of rounds, only the next one.
 * What lies where the track is now it has met already, from either side, unless it has only just begun there.
 */
export function collectEvents<C extends Cue>(
	track: Track<C>,
	seconds: number,
	direction: number,
	out: TrackEvent<C>[],
): void {
	const { clip, motion, ticks, fresh } = track;
	const rate = track.speed * direction * TICKS_PER_SECOND;
	if (rate === 0) return;
	const way = Math.sign(rate);
	const near = way * NEAR;
	const from = fresh ? ticks - near : ticks + near;
	const to = Math.max(0, ticks + seconds * rate + near);
	for (let i = 0; i < clip.cues.length; i++) {
		const at = nextPass(motion, clip.cues[i].t, from, way);
		if ((to - at) * rate >= 0)
			put(out, 'cue', track, momentOf(at - ticks, rate, seconds), at, 0, clip.cues[i]);
	}
	const all = playedTicks(motion);
	if (motion.loop.mode !== 'once') {
		const period = motion.length + motion.loop.pause;
		// Backwards the round before begins where the one that plays had begun.
		const now = rate > 0 ? Math.floor((ticks + NEAR) / period) : Math.ceil((ticks - NEAR) / period) - 1;
		const round = now + way;
		const at = Math.max(now, round) * period;
		const meets = rate > 0 ? at <= to && at < all : round >= 0 && at >= to;
		if (meets) put(out, 'loop', track, momentOf(at - ticks, rate, seconds), at, round, null);
	}
	if (rate > 0 ? all > ticks + NEAR && to >= all : ticks > NEAR && to <= 0) {
		const at = rate > 0 ? all : 0;
		put(out, 'end', track, momentOf(at - ticks, rate, seconds), at, 0, null);
	}
}

/** Seconds into a step at which a track has gone so many ticks. */
function momentOf(ticks: number, rate: number, seconds: number): number {
	return Math.min(seconds, Math.max(0, ticks / rate));
}

/** No function within another one: it would be made in every frame. */
function put<C extends Cue>(
	out: TrackEvent<C>[],
	kind: EventKind,
	track: Track<C>,
	moment: number,
	at: number,
	round: number,
	cue: C | null,
): void {
	out.push({ kind, track, clip: track.clip, key: track.key, moment, at, round, cue, weight: 1 });
}
