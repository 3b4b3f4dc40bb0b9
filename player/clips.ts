/** Clips as a player takes them, and what can be asked of it. */
import type { LayerMode } from './blend/layers';
import type { Cue } from './cues';
import type { PoseLayout } from './layout';
import type { Mix } from './mix';
import type { Motion } from './motion';
import type { PlayerTrigger } from './triggers';

/** A clip with its cues in their order. */
export interface PlayerClip<C extends Cue = Cue> {
	readonly name: string;
	readonly motion: Motion;
	readonly cues: readonly C[];
	/** Of one that is made of several. */
	readonly mix?: Mix<C>;
}

/** What code calls clips, parts and cues by, where it is known, as in declarations that are written beside a clip file. */
export interface Names {
	clip: string;
	part: string;
	cue: Cue;
	trigger: string;
	parameter: string;
	message: { name: string; payload: unknown };
}

/** Clips whose poses have one layout, by the name that they are asked for by. */
export interface ClipSet<N extends Names = Names> {
	readonly layout: PoseLayout;
	readonly clips: ReadonlyMap<N['clip'], PlayerClip<N['cue']>>;
	/** How a clip gives way to another where a call does not say it. */
	readonly blendOf?: (from: string, to: string) => BlendSpec | undefined;
	/** Parents by their place in the list. */
	readonly parts?: readonly { readonly name: N['part']; readonly parent?: number }[];
	readonly triggers?: readonly PlayerTrigger<N>[];
	readonly layers?: readonly ({ readonly name: string } & LayerOptions<N>)[];
	/** Never there: for the compiler to see the names by. */
	readonly names?: N;
}

export interface LayerOptions<N extends Names = Names> {
	/** Fades over what lies below, or puts the difference from the rest pose on top of it. */
	mode?: LayerMode;
	/** 0…1. */
	weight?: number;
	/** The parts that it is for; null for all. */
	parts?: readonly N['part'][] | null;
	/** The parameter that its weight follows. */
	parameter?: N['parameter'] | null;
}

export interface BlendSpec {
	kind: 'crossfade' | 'inertial' | 'cut';
	seconds: number;
	/** Weight of the next clip over the blend's progress; straight when absent. */
	ease?: (x: number) => number;
	/**
	 * Where the next clip begins: at its start (played backwards, at its end), at a time in seconds, or at the phase of
	 * the one that goes.
	 */
	start?: 'start' | 'phase' | { seconds: number };
}

export const CUT: BlendSpec = { kind: 'cut', seconds: 0 };

/** Whether a blend is more than a switch from one frame to the next. */
export function takesTime({ kind, seconds }: BlendSpec): boolean {
	return kind !== 'cut' && seconds > 0;
}

export interface PlayRequest<N extends string = string> {
	clip: N;
	/** How it comes in; when absent, as the set has it for the two clips, or else at once. */
	blend?: BlendSpec;
	/** Seconds to wait before it begins. */
	delay?: number;
	/** Rounds to play, instead of the clip's own; null is for ever. */
	count?: number | null;
	/** How fast its own time goes: 1 when absent, 0 stands, below 0 runs backwards. Blends go on at their own pace. */
	speed?: number;
}

/** Throws a RangeError where a length of time is none. */
export function checkSeconds(seconds: number, what: string): void {
	if (!(seconds >= 0 && seconds < Infinity)) throw new RangeError(`${what} must take a finite time`);
}

/** Throws a RangeError for what cannot be played. */
export function checkRequest({ blend, delay = 0, count = 1, speed = 1 }: PlayRequest): void {
	if (blend) checkSeconds(blend.seconds, 'a blend');
	checkSeconds(delay, 'a delay');
	if (count !== null && !(Number.isInteger(count) && count > 0))
		throw new RangeError('a clip plays for a whole number of rounds, or for ever');
	if (!Number.isFinite(speed)) throw new RangeError('a speed must be a finite number');
}

/** A motion with another number of rounds. */
export function counted(motion: Motion, count: number | null | undefined): Motion {
	const { loop } = motion;
	if (count === undefined || (loop.mode === 'once' && count === 1)) return motion;
	return { ...motion, loop: { ...loop, mode: loop.mode === 'once' ? 'repeat' : loop.mode, count } };
}
