/** A clip under way. */
import { counted, type BlendSpec, type PlayerClip } from './clips';
import type { TrackEvent } from './events';
import type { Cue } from './cues';
import { moveNumbers, type PoseLayout } from './layout';
import { playedTicks } from './loop';
import { Mixing } from './mix';
import type { Motion } from './motion';
import { secondsToTicks, ticksToSeconds } from './time';

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
	/** How fast it was asked to go, and its ticks go: a mix has a pace of its own. */
	readonly asked: number;
	speed: number;
	readonly mixing: Mixing | null;
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

/** A clip's motion for as many rounds as are asked for. */
function motionOf(motion: Motion, count: number | null | undefined, mixing: Mixing | null): Motion {
	const own = counted(motion, count);
	return mixing ? { ...own, mixing } : own;
}

export function makeTrack<C extends Cue>(
	layout: PoseLayout,
	own: Pick<Track<C>, 'key' | 'clip' | 'count' | 'ticks' | 'asked' | 'blend'>,
	parameter: (name: string) => number,
): Track<C> {
	const numbers = () => new Float64Array(layout.rest.length);
	const { mix, motion } = own.clip;
	const mixing = mix ? new Mixing(mix, layout, parameter(mix.parameter)) : null;
	return {
		...own,
		motion: motionOf(motion, own.count, mixing),
		mixing,
		speed: own.asked * (mixing?.pace ?? 1),
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

/** The same track with its clip as it is now, in poses of another layout. */
export function exchanged<C extends Cue>(
	track: Track<C>,
	clip: PlayerClip<C>,
	from: PoseLayout,
	to: PoseLayout,
	parameter: (name: string) => number,
): Track<C> {
	const { fresh, since, finishes } = track;
	const carried = moveNumbers(from, track.carried, to);
	return { ...makeTrack(to, { ...track, clip }, parameter), fresh, since, finishes, carried };
}

/** A cell begins in which travel is mixed. */
export function markCell(track: Track<Cue>): void {
	track.cellTicks = track.ticks;
	track.cellCarried.set(track.carried);
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
	return { ...track, motion: motionOf(clip.motion, count, track.mixing), count, finishes: true };
}

/** Seconds until a track has ended. */
export function secondsLeft({ speed, motion, ticks }: Track<Cue>, way: number): number {
	const rate = speed * way;
	if (rate === 0) return Infinity;
	return ticksToSeconds(rate > 0 ? playedTicks(motion) - ticks : ticks) / Math.abs(rate);
}

/** The parameter of a mix under way has a value. */
export function mixAt(track: Track<Cue>, value: number): void {
	const { asked, mixing } = track;
	mixing!.set(value);
	track.speed = asked * mixing!.pace;
}

/** The clips of a mix under way that count, as `Tracks.playing` tells clips. */
export function mixedClips<C extends Cue>({ clip, motion, mixing, ticks }: Track<C>, weight: number) {
	const { stops, periods } = clip.mix!;
	const phase = (ticks / motion.length) % 1;
	return stops.flatMap((stop, i) => {
		const own = weight * mixing!.weightOf(i);
		return own > 0 ? [{ clip: stop.clip, ticks: phase * periods[i], weight: own }] : [];
	});
}

/** Tells a cue that a mix passes as one of the clip that it comes from, which counts for a share of the mix. */
export function tellOrigin<C extends Cue>(event: TrackEvent<C>): void {
	const { mix } = event.clip;
	const { stop, cue } = mix!.origins.get(event.cue!)!;
	event.weight *= event.track.mixing!.weightOf(stop);
	event.cue = cue;
	event.clip = mix!.stops[stop].clip;
	event.key = mix!.stops[stop].key;
}
