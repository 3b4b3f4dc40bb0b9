/** A clip under way. */
import { counted, type BlendSpec, type PlayerClip } from './clips';
import type { Cue } from './cues';
import type { PoseLayout } from './layout';
import { playedTicks } from './loop';
import type { Motion } from './motion';
import { secondsToTicks } from './time';

export interface Track<C extends Cue> {
	/** What it was asked for by. */
	readonly key: string;
	readonly clip: PlayerClip<C>;
	/** The clip's motion, for as many rounds as were asked for, and what was asked for. */
	readonly motion: Motion;
	readonly count: number | null | undefined;
	/** Ticks since its start. */
	ticks: number;
	/** Whether it has not left the place where it began: cues there are still to come. */
	fresh: boolean;
	/** Whether it has been asked to end with its round. */
	readonly finishes: boolean;
	readonly speed: number;
	/** How it came in, and how long ago (seconds); the first clip, and one that has taken over, weigh 1. */
	readonly blend: BlendSpec;
	since: number;
	readonly ways: Int8Array;
	/** Added to what accumulates, so that it goes on from where the travel stood. */
	readonly carried: Float64Array;
	/** Its time and what it carried where the cell began in which travel is mixed now, and how far it went since. */
	cellTicks: number;
	readonly cellCarried: Float64Array;
	readonly went: Float64Array;
}

export function makeTrack<C extends Cue>(
	layout: PoseLayout,
	own: Pick<Track<C>, 'key' | 'clip' | 'motion' | 'count' | 'ticks' | 'speed' | 'blend'>,
): Track<C> {
	const numbers = () => new Float64Array(layout.rest.length);
	return {
		...own,
		fresh: true,
		finishes: false,
		since: 0,
		ways: new Int8Array(layout.targets.length),
		carried: numbers(),
		cellTicks: own.ticks,
		cellCarried: numbers(),
		went: numbers(),
	};
}

/** Weight of a track over those before it, some seconds from now. */
export function weightOf({ blend, since }: Track<Cue>, seconds: number): number {
	if (blend.kind !== 'crossfade' || blend.seconds <= 0) return 1;
	const x = Math.min(1, Math.max(0, (since + seconds) / blend.seconds));
	return blend.ease === undefined ? x : Math.min(1, Math.max(0, blend.ease(x)));
}

/** Ticks since its start at which a clip begins. */
export function startTicks(
	{ start }: BlendSpec,
	motion: Motion,
	speed: number,
	going: Track<Cue> | undefined,
): number {
	const { length, loop } = motion;
	if (start === 'phase' && going) {
		const from = going.motion;
		const period = from.length + from.loop.pause;
		if (period > 0) return ((going.ticks % period) / period) * (length + loop.pause);
	}
	if (typeof start === 'object') return Math.max(0, secondsToTicks(start.seconds));
	if (speed >= 0) return 0;
	const all = playedTicks(motion);
	return all < Infinity ? all : length;
}

/** The same, but ending with the round that it is in; there and back, with its way back. */
export function endingWithRound<C extends Cue>(track: Track<C>): Track<C> {
	const { clip, ticks, motion } = track;
	const { length, loop } = clip.motion;
	if (loop.mode === 'once') return { ...track, finishes: true };
	const round = Math.floor(ticks / (length + loop.pause)) + 1;
	const whole = loop.mode === 'alternate' ? round + (round % 2) : round;
	const count = Math.min(whole, motion.loop.count ?? Infinity);
	return { ...track, motion: counted(clip.motion, count), count, finishes: true };
}
