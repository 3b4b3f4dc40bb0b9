/**
 * Plays clips into one another as an application does: triggers, a queue, delays, crossfades and inertial blends,
 * travel that goes on, and cues. It knows no clock: whoever owns it says how much time has passed. While it plays and
 * blends it makes no objects and no arrays.
 */
import { chooseWays, crossfade } from './blend/crossfade';
import { PoseDecay, reflect } from './blend/inertial';
import { cuesPassed, type Cue, type FiredCue } from './cues';
import type { PoseLayout } from './layout';
import { playedTicks, type Looped } from './loop';
import { evaluateClip, type Motion } from './motion';
import { secondsToTicks, TICKS_PER_SECOND, ticksToSeconds } from './time';

/** A clip with its cues in their order. */
export interface PlayerClip<C extends Cue = Cue> {
	readonly name: string;
	readonly motion: Motion;
	readonly cues: readonly C[];
}

/** Clips whose poses have one layout, by the name that they are asked for by. */
export interface ClipSet<C extends Cue = Cue> {
	readonly layout: PoseLayout;
	readonly clips: ReadonlyMap<string, PlayerClip<C>>;
}

export interface BlendSpec {
	kind: 'crossfade' | 'inertial' | 'cut';
	seconds: number;
	/** Weight of the next clip over the blend's progress; straight when absent. */
	ease?: (x: number) => number;
	/** Where the next clip begins: at its start, at a time in seconds, or at the phase of the one that goes. */
	start?: 'start' | 'phase' | { seconds: number };
}

export interface PlayRequest {
	clip: string;
	blend: BlendSpec;
	/** Seconds to wait before it begins. */
	delay?: number;
}

/** A fired cue with the clip that it belongs to and how much that clip counted then. */
export interface PlayerCue<C extends Cue = Cue> extends FiredCue<C> {
	clip: PlayerClip<C>;
	weight: number;
}

export interface PlayerOptions<C extends Cue = Cue> {
	/** Cues of clips that weigh less at the cue's own time are silent. */
	cuesFrom?: number;
	oncue?: (fired: PlayerCue<C>) => void;
}

/** A clip under way. */
interface Track<C extends Cue> {
	clip: PlayerClip<C>;
	/** Ticks since its start. */
	ticks: number;
	/** Whether it has not left its start: cues there are still to come. */
	fresh: boolean;
	/** How it came in, and how long ago (seconds); the first clip, and one that has taken over, weigh 1. */
	blend: BlendSpec;
	since: number;
	ways: Int8Array;
	/** Added to what accumulates, so that it goes on from where the travel stood. */
	carried: Float64Array;
	/** What accumulates went so far in the step under way. */
	went: Float64Array;
}

/** More clips than this in one another are not told apart by an eye: the oldest is let go. */
const MOST_TRACKS = 8;
/** Seconds over which rates are measured at a switch. */
const RATE_STEP = 1 / 240;
const TWO_FRAMES = 2 / 60;
/** Seconds below which a rest of time is rounding. */
const ROUNDING = 1e-9;

const CUT: BlendSpec = { kind: 'cut', seconds: 0 };

export class Player<C extends Cue = Cue> {
	readonly pose: Float64Array;
	private tracks: Track<C>[] = [];
	private queue: PlayRequest[] = [];
	private waiting: { request: PlayRequest; left: number }[] = [];
	/** Places that accumulate in some clip under way. */
	private travelling: readonly number[] = [];
	private readonly decay: PoseDecay;
	/** Seconds that the decay has gone on for; Infinity when there is none. */
	private decayed = Infinity;
	private readonly triggers = new Map<string, PlayRequest>();
	private readonly scratch: Float64Array;
	private readonly ahead: Float64Array;
	private readonly poses: Record<'earlier' | 'before' | 'afterEarlier' | 'after', Float64Array>;

	constructor(
		private readonly set: ClipSet<C>,
		private readonly options: PlayerOptions<C> = {},
	) {
		const copy = () => set.layout.rest.slice();
		this.pose = copy();
		this.scratch = copy();
		this.ahead = copy();
		this.poses = { earlier: copy(), before: copy(), afterEarlier: copy(), after: copy() };
		this.decay = new PoseDecay(set.layout);
	}

	get layout(): PoseLayout {
		return this.set.layout;
	}

	/** Binds a name to a clip and how it comes in. */
	on(trigger: string, request: PlayRequest): void {
		this.triggers.set(trigger, request);
	}

	/** Plays what a trigger is bound to; false when it is bound to nothing. */
	trigger(name: string): boolean {
		const request = this.triggers.get(name);
		if (request) this.play(request);
		return request !== undefined;
	}

	/** The clips under way with their weights, the oldest first. */
	get playing(): { clip: PlayerClip<C>; ticks: number; weight: number }[] {
		return this.tracks.map(({ clip, ticks }, i) => ({ clip, ticks, weight: this.shareOf(i, 0) }));
	}

	/** Starts a clip now, or after its delay; what is queued is forgotten. Throws a RangeError for an unknown clip. */
	play(request: PlayRequest): void {
		this.clipOf(request.clip);
		this.queue = [];
		this.waiting = [];
		this.beginOrWait(request);
	}

	/**
	 * Plays a clip when the one under way has ended (endless ones never do) and its delay after that, behind those
	 * queued before.
	 */
	enqueue(request: PlayRequest): void {
		this.clipOf(request.clip);
		this.queue.push(request);
	}

	stop(): void {
		this.setTracks([]);
		this.queue = [];
		this.waiting = [];
		this.decayed = Infinity;
	}

	/** Puts the newest clip at a time (seconds since its start). Cues between are not passed and do not fire. */
	seek(seconds: number): void {
		const track = this.tracks.at(-1);
		if (!track) return;
		track.ticks = Math.max(0, secondsToTicks(seconds));
		track.fresh = track.ticks === 0;
		this.compose(0, this.pose);
	}

	/** Lets time pass (seconds; below 0 runs backwards), fires cues and writes `pose`. */
	advance(seconds: number): void {
		if (!Number.isFinite(seconds)) throw new RangeError('a frame must last a finite time');
		if (seconds < 0) this.pass(seconds);
		let left = Math.max(0, seconds);
		this.startDue();
		// Whatever begins within the frame begins at its own moment in it.
		while (left > 0) {
			const step = Math.min(left, this.untilNext());
			this.pass(step);
			left -= step;
			this.startDue();
		}
		this.compose(0, this.pose);
	}

	private clipOf(name: string): PlayerClip<C> {
		const clip = this.set.clips.get(name);
		if (!clip) throw new RangeError(`there is no clip "${name}"`);
		return clip;
	}

	private beginOrWait(request: PlayRequest): void {
		if (request.delay && request.delay > 0) this.waiting.push({ request, left: request.delay });
		else this.begin(request);
	}

	/** Seconds until a delay ends, a fade is over or the queue moves on. */
	private untilNext(): number {
		let next = Infinity;
		for (const { left } of this.waiting) next = Math.min(next, left);
		for (let i = 1; i < this.tracks.length; i++) {
			const { blend, since } = this.tracks[i];
			if (blend.seconds - since > ROUNDING) next = Math.min(next, blend.seconds - since);
		}
		return this.queue.length > 0 && this.waiting.length === 0 ? Math.min(next, this.untilEnd()) : next;
	}

	/** Seconds until the newest clip has ended. */
	private untilEnd(): number {
		const track = this.tracks.at(-1);
		const left = track ? ticksToSeconds(playedTicks(track.clip.motion) - track.ticks) : 0;
		return left > ROUNDING ? left : 0;
	}

	private startDue(): void {
		if (this.waiting.length > 0) {
			const due = this.waiting.filter(({ left }) => left <= ROUNDING);
			this.waiting = this.waiting.filter(({ left }) => left > ROUNDING);
			for (const { request } of due) this.begin(request);
		}
		if (this.queue.length > 0 && this.waiting.length === 0 && this.untilEnd() === 0)
			this.beginOrWait(this.queue.shift()!);
	}

	private begin({ clip: name, blend }: PlayRequest): void {
		const clip = this.clipOf(name);
		const going = this.tracks.at(-1);
		const ticks = startTicks(blend, clip.motion, going);
		const { layout } = this;
		const track: Track<C> = {
			clip,
			ticks,
			fresh: ticks === 0,
			blend: going ? blend : CUT,
			since: 0,
			ways: new Int8Array(layout.targets.length),
			carried: new Float64Array(layout.rest.length),
			went: new Float64Array(layout.rest.length),
		};
		if (!going) {
			this.setTracks([track]);
			this.compose(0, this.pose);
			return;
		}
		const { before, after, earlier, afterEarlier } = this.poses;
		this.compose(0, before);
		this.pose.set(before);
		evaluateClip(clip.motion, ticks, after);
		for (const { travels } of [clip.motion, going.clip.motion])
			for (const place of travels) track.carried[place] = before[place] - after[place];
		for (let k = 0; k < after.length; k++) after[k] += track.carried[k];
		chooseWays(layout, before, after, track.ways);
		if (blend.kind === 'crossfade' && blend.seconds > 0) {
			this.setTracks([...this.tracks, track].slice(-MOST_TRACKS));
			return;
		}
		if (blend.kind === 'inertial' && blend.seconds > 0) {
			// Rates are measured over a step before the switch.
			this.compose(-RATE_STEP, earlier);
			this.writeTrack(track, -RATE_STEP, afterEarlier);
			this.decay.begin(this.poses, RATE_STEP, blend.seconds, TWO_FRAMES);
			this.decayed = 0;
		} else this.decayed = Infinity;
		this.setTracks([track]);
	}

	private setTracks(tracks: Track<C>[]): void {
		this.tracks = tracks;
		this.travelling = [...new Set(tracks.flatMap(({ clip }) => clip.motion.travels))];
	}

	/** How much of the picture a track makes, some seconds from now. */
	private shareOf(index: number, seconds: number): number {
		let share = index === 0 ? 1 : weightOf(this.tracks[index], seconds);
		for (let i = index + 1; i < this.tracks.length; i++) share *= 1 - weightOf(this.tracks[i], seconds);
		return share;
	}

	private pass(seconds: number): void {
		if (seconds === 0) return;
		const { tracks } = this;
		const fired = this.passCues(seconds);
		this.carryTravel(seconds);
		for (let i = 0; i < tracks.length; i++) {
			const track = tracks[i];
			track.ticks = Math.max(0, track.ticks + seconds * TICKS_PER_SECOND);
			track.since += seconds;
			track.fresh = false;
		}
		for (let i = 0; i < this.waiting.length; i++) this.waiting[i].left -= Math.max(0, seconds);
		this.decayed += seconds;
		this.settle();
		if (fired) for (const cue of fired) this.options.oncue?.(cue);
	}

	/** The cues that the tracks pass in a step, in the order of their times; null where there are none. */
	private passCues(seconds: number): PlayerCue<C>[] | null {
		let all: { moment: number; cue: PlayerCue<C> }[] | null = null;
		for (let i = 0; i < this.tracks.length; i++) {
			const { clip, ticks, fresh } = this.tracks[i];
			if (clip.cues.length === 0) continue;
			const to = Math.max(0, ticks + seconds * TICKS_PER_SECOND);
			for (const fired of cuesPassed(clip.motion, clip.cues, ticks, to, fresh)) {
				const moment = ticksToSeconds(fired.at - ticks);
				const weight = this.shareOf(i, moment);
				if (weight < (this.options.cuesFrom ?? 0.5) - ROUNDING) continue;
				(all ??= []).push({ moment, cue: { ...fired, clip, weight } });
			}
		}
		return all && all.sort((a, b) => Math.abs(a.moment) - Math.abs(b.moment)).map(({ cue }) => cue);
	}

	/** Sets every track's travel so that all agree on where it stands: the mixed rates, added up. */
	private carryTravel(seconds: number): void {
		const { tracks, travelling, scratch, ahead } = this;
		if (tracks.length < 2 || travelling.length === 0) return;
		for (let i = 0; i < tracks.length; i++) {
			const { clip, ticks, went } = tracks[i];
			evaluateClip(clip.motion, ticks, scratch);
			evaluateClip(clip.motion, Math.max(0, ticks + seconds * TICKS_PER_SECOND), ahead);
			for (let n = 0; n < travelling.length; n++)
				went[travelling[n]] = ahead[travelling[n]] - scratch[travelling[n]];
		}
		// The middle of the step stands for its weights, so that the frame time does not matter much.
		for (let n = 0; n < travelling.length; n++) {
			const k = travelling[n];
			let mixed = 0;
			for (let i = 0; i < tracks.length; i++) mixed += this.shareOf(i, seconds / 2) * tracks[i].went[k];
			for (let i = 0; i < tracks.length; i++) tracks[i].carried[k] += mixed - tracks[i].went[k];
		}
	}

	/** Clips that a later one has wholly taken over are let go. */
	private settle(): void {
		for (let i = this.tracks.length - 1; i > 0; i--) {
			const track = this.tracks[i];
			if (weightOf(track, 0) < 1 - ROUNDING || track.blend.seconds - track.since > ROUNDING) continue;
			this.setTracks(this.tracks.slice(i));
			break;
		}
		if (this.decayed >= this.decay.seconds) this.decayed = Infinity;
	}

	/** The picture some seconds from now, of the clips that are under way now. */
	private compose(seconds: number, out: Float64Array): void {
		const { tracks, layout } = this;
		if (tracks.length === 0) return;
		this.writeTrack(tracks[0], seconds, out);
		for (let i = 1; i < tracks.length; i++) {
			this.writeTrack(tracks[i], seconds, this.scratch);
			crossfade(layout, out, this.scratch, weightOf(tracks[i], seconds), tracks[i].ways, out);
		}
		if (this.decayed < Infinity) this.decay.addTo(out, this.decayed + seconds);
	}

	private writeTrack({ clip, ticks, carried }: Track<C>, seconds: number, out: Float64Array): void {
		const { motion } = clip;
		const offset = seconds * TICKS_PER_SECOND;
		if (ticks + offset >= 0) evaluateClip(motion, ticks + offset, out);
		else {
			// Before its start a clip has no motion: what it does just after stands for it.
			evaluateClip(motion, ticks, out);
			evaluateClip(motion, ticks - offset, this.ahead);
			reflect(this.layout, out, this.ahead);
		}
		for (let k = 0; k < out.length; k++) out[k] += carried[k];
	}
}

const straight = (x: number) => x;

/** Weight of a track over those before it, some seconds from now. */
function weightOf({ blend, since }: Track<Cue>, seconds: number): number {
	if (blend.kind !== 'crossfade' || blend.seconds <= 0) return 1;
	const x = Math.min(1, Math.max(0, (since + seconds) / blend.seconds));
	return Math.min(1, Math.max(0, (blend.ease ?? straight)(x)));
}

function startTicks({ start }: BlendSpec, { length, loop }: Looped, going: Track<Cue> | undefined): number {
	if (start === 'phase' && going) {
		const from = going.clip.motion;
		const period = from.length + from.loop.pause;
		return Math.round(((going.ticks % period) / period) * (length + loop.pause));
	}
	return typeof start === 'object' ? Math.max(0, secondsToTicks(start.seconds)) : 0;
}
