/**
 * Plays clips into one another as an application does: triggers, a queue, delays, crossfades and inertial blends,
 * travel that goes on, and cues. It knows no clock: whoever owns it says how much time has passed.
 */
import { compileClip, evaluateClip, type CompiledClip } from '../clip/compile';
import { playedTicks } from '../clip/loop';
import type { Clip, Doc, Part } from '../document/types';
import { secondsToTicks, TICKS_PER_SECOND, ticksToSeconds } from '../time';
import { cuesPassed, type FiredCue } from './cue-track';
import { addDecay, poseDecay, type PoseDecay } from './inertial';
import { chooseWays, crossfade } from './mix';

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

/** A fired cue with the clip that it belongs to and how much that clip counted. */
export interface PlayerCue extends FiredCue {
	clip: Clip;
	weight: number;
}

export interface PlayerOptions {
	/** Cues of clips that weigh less are silent. */
	cuesFrom?: number;
	oncue?: (fired: PlayerCue) => void;
}

/** A clip under way. */
interface Track {
	compiled: CompiledClip;
	/** Ticks since its start. */
	ticks: number;
	fresh: boolean;
	/** How it came in, and how long ago (seconds); the first clip, and one that has taken over, weigh 1. */
	blend: BlendSpec;
	since: number;
	ways: Int8Array | null;
	/** Added to each accumulating slot, so that it goes on from where the travel stood. */
	carried: Map<number, number>;
}

/** More clips than this in one another are not told apart by an eye: the oldest is let go. */
const MOST_TRACKS = 8;
/** Seconds over which rates are measured at a switch. */
const RATE_STEP = 1 / 240;
const TWO_FRAMES = 2 / 60;
/** Seconds below which a rest of time is rounding. */
const ROUNDING = 1e-9;

const straight = (x: number) => x;

export class Player {
	readonly parts: readonly Part[];
	readonly pose: Float64Array;
	private readonly compiled = new Map<string, CompiledClip>();
	private tracks: Track[] = [];
	private queue: PlayRequest[] = [];
	private waiting: { request: PlayRequest; left: number }[] = [];
	private decay: { decay: PoseDecay; since: number } | null = null;
	private readonly triggers = new Map<string, PlayRequest>();
	private readonly scratch: Float64Array;

	constructor(
		private readonly doc: Doc,
		private readonly options: PlayerOptions = {},
	) {
		const first = Object.values(doc.clips)[0];
		this.parts = first ? compileClip(doc, first).parts : [];
		this.pose = first ? compileClip(doc, first).rest.slice() : new Float64Array(0);
		this.scratch = this.pose.slice();
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
	get playing(): { clip: Clip; ticks: number; weight: number }[] {
		const weights = this.weights();
		return this.tracks.map(({ compiled, ticks }, i) => ({ clip: compiled.clip, ticks, weight: weights[i] }));
	}

	/** Starts a clip now, or after its delay; what is queued is forgotten. Throws a RangeError for an unknown clip. */
	play(request: PlayRequest): void {
		this.compiledOf(request.clip);
		this.queue = [];
		this.waiting = [];
		if (request.delay && request.delay > 0) this.waiting.push({ request, left: request.delay });
		else this.begin(request);
	}

	/** Plays a clip when the one under way has ended (endless ones never do), after those queued before. */
	enqueue(request: PlayRequest): void {
		this.compiledOf(request.clip);
		this.queue.push(request);
	}

	stop(): void {
		this.tracks = [];
		this.queue = [];
		this.waiting = [];
		this.decay = null;
	}

	/** Puts the newest clip at a time (seconds since its start). Cues between are not passed and do not fire. */
	seek(seconds: number): void {
		const track = this.tracks.at(-1);
		if (!track) return;
		track.ticks = Math.max(0, secondsToTicks(seconds));
		track.fresh = track.ticks === 0;
		this.write();
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
		this.write();
	}

	private compiledOf(id: string): CompiledClip {
		const known = this.compiled.get(id);
		if (known) return known;
		const clip = Object.hasOwn(this.doc.clips, id) ? this.doc.clips[id] : undefined;
		if (!clip) throw new RangeError(`there is no clip "${id}"`);
		const compiled = compileClip(this.doc, clip);
		this.compiled.set(id, compiled);
		return compiled;
	}

	/** Seconds until a delay ends, a fade is over or the queue moves on. */
	private untilNext(): number {
		let next = Infinity;
		for (const { left } of this.waiting) next = Math.min(next, left);
		for (const { blend, since } of this.tracks.slice(1))
			if (blend.seconds - since > ROUNDING) next = Math.min(next, blend.seconds - since);
		return this.queue.length > 0 && this.waiting.length === 0 ? Math.min(next, this.untilEnd()) : next;
	}

	/** Seconds until the newest clip has ended. */
	private untilEnd(): number {
		const track = this.tracks.at(-1);
		const left = track ? ticksToSeconds(playedTicks(track.compiled.clip) - track.ticks) : 0;
		return left > ROUNDING ? left : 0;
	}

	private startDue(): void {
		const due = this.waiting.filter(({ left }) => left <= ROUNDING);
		this.waiting = this.waiting.filter(({ left }) => left > ROUNDING);
		for (const { request } of due) this.begin(request);
		if (this.queue.length > 0 && this.waiting.length === 0 && this.untilEnd() === 0)
			this.begin(this.queue.shift()!);
	}

	private begin({ clip, blend }: PlayRequest): void {
		const compiled = this.compiledOf(clip);
		const going = this.tracks.at(-1);
		const track: Track = {
			compiled,
			ticks: startTicks(blend, compiled.clip, going),
			fresh: true,
			blend,
			since: 0,
			ways: null,
			carried: new Map(),
		};
		track.fresh = track.ticks === 0;
		if (!going) {
			track.blend = { kind: 'cut', seconds: 0 };
			this.tracks = [track];
			this.write();
			return;
		}
		this.write();
		const before = this.pose.slice();
		const after = before.slice();
		evaluateClip(compiled, track.ticks, after);
		for (const slot of travelSlots(compiled, going.compiled))
			track.carried.set(slot, before[slot] - after[slot]);
		for (const [slot, v] of track.carried) after[slot] += v;
		track.ways = chooseWays(this.parts, before, after);
		if (blend.kind === 'crossfade' && blend.seconds > 0) {
			this.tracks.push(track);
			while (this.tracks.length > MOST_TRACKS) this.tracks.shift();
		} else {
			this.decay =
				blend.kind === 'inertial' && blend.seconds > 0
					? this.decayInto(track, before, after, blend.seconds)
					: null;
			this.tracks = [track];
		}
	}

	/** The decay from the motion so far into a track that begins: rates are measured over a step before the switch. */
	private decayInto(
		{ compiled, ticks, carried }: Track,
		before: Float64Array,
		after: Float64Array,
		seconds: number,
	) {
		const step = secondsToTicks(RATE_STEP);
		const earlier = before.slice();
		this.compose(-step, earlier);
		const afterEarlier = after.slice();
		// Before its start a clip has no motion: what it does just after stands for it.
		const ahead = ticks < step;
		evaluateClip(compiled, ahead ? ticks + step : ticks - step, afterEarlier);
		for (const [slot, v] of carried) afterEarlier[slot] += v;
		if (ahead) for (let k = 0; k < after.length; k++) afterEarlier[k] = 2 * after[k] - afterEarlier[k];
		const poses = { earlier, before, afterEarlier, after };
		return { decay: poseDecay(this.parts, poses, RATE_STEP, seconds, TWO_FRAMES), since: 0 };
	}

	private weightOf({ blend, since }: Track): number {
		if (blend.kind !== 'crossfade' || blend.seconds <= 0) return 1;
		const x = Math.min(1, Math.max(0, since / blend.seconds));
		return Math.min(1, Math.max(0, (blend.ease ?? straight)(x)));
	}

	/** How much of the picture each track makes. */
	private weights(): number[] {
		let rest = 1;
		const shares = new Array<number>(this.tracks.length);
		for (let i = this.tracks.length - 1; i >= 0; i--) {
			const own = i === 0 ? 1 : this.weightOf(this.tracks[i]);
			shares[i] = rest * own;
			rest *= 1 - own;
		}
		return shares;
	}

	private pass(seconds: number): void {
		if (seconds === 0) return;
		const before = this.weights();
		const travelled = new Map<number, number>();
		const ticks = seconds * TICKS_PER_SECOND;
		for (const entry of this.waiting) entry.left -= Math.max(0, seconds);
		const fired: PlayerCue[] = [];
		const moves = this.tracks.map((track) => this.move(track, ticks));
		const after = this.weights();
		this.tracks.forEach(({ compiled }, i) => {
			// The middle of the step stands for its weight, so that the frame time does not matter much.
			const weight = (before[i] + after[i]) / 2;
			for (const [slot, change] of moves[i].travel)
				travelled.set(slot, (travelled.get(slot) ?? 0) + weight * change);
			const from = this.options.cuesFrom ?? 0.5;
			if (Math.max(before[i], after[i]) < from) return;
			for (const cue of moves[i].fired) fired.push({ ...cue, clip: compiled.clip, weight: after[i] });
		});
		this.carryTravel(moves, travelled);
		if (this.decay) this.decay.since += seconds;
		this.settle();
		for (const cue of fired) this.options.oncue?.(cue);
	}

	/** Moves one track on; gives the cues that it passed and how far its accumulating slots went. */
	private move(track: Track, ticks: number): { fired: FiredCue[]; travel: Map<number, number> } {
		const { compiled } = track;
		const [from, to] = [track.ticks, Math.max(0, track.ticks + ticks)];
		const cues = Object.values(this.doc.cues);
		const fired = cuesPassed(compiled.clip, cues, from, to, track.fresh);
		track.fresh = false;
		const travel = new Map<number, number>();
		const slots = this.travelling();
		if (slots.size > 0) {
			evaluateClip(compiled, from, this.scratch);
			const start = new Map([...slots].map((slot) => [slot, this.scratch[slot]]));
			evaluateClip(compiled, to, this.scratch);
			for (const slot of slots) travel.set(slot, this.scratch[slot] - start.get(slot)!);
		}
		track.ticks = to;
		track.since += ticks / TICKS_PER_SECOND;
		return { fired, travel };
	}

	/** Slots that accumulate in any clip under way. */
	private travelling(): Set<number> {
		const slots = new Set<number>();
		for (const { compiled } of this.tracks)
			for (const { slot, channel } of compiled.channels) if (channel.accumulates) slots.add(slot);
		return slots;
	}

	/** Every track's travel is set so that all agree on where it stands: the mixed rates, added up. */
	private carryTravel(moves: { travel: Map<number, number> }[], travelled: Map<number, number>): void {
		if (this.tracks.length < 2) return;
		this.tracks.forEach((track, i) => {
			for (const [slot, change] of travelled) {
				track.carried.set(slot, (track.carried.get(slot) ?? 0) + change - (moves[i].travel.get(slot) ?? 0));
			}
		});
	}

	/** Clips that a later one has wholly taken over are let go. */
	private settle(): void {
		for (let i = this.tracks.length - 1; i > 0; i--) {
			if (
				this.weightOf(this.tracks[i]) < 1 - ROUNDING ||
				this.tracks[i].blend.seconds - this.tracks[i].since > ROUNDING
			)
				continue;
			this.tracks = this.tracks.slice(i);
			break;
		}
		if (this.decay && this.decay.decay.every((entry) => this.decay!.since >= entry.seconds))
			this.decay = null;
	}

	private write(): void {
		this.compose(0, this.pose);
	}

	/** The picture at some ticks from now, of the clips that are under way now. */
	private compose(offset: number, out: Float64Array): void {
		const [first, ...others] = this.tracks;
		if (!first) return;
		const seconds = offset / TICKS_PER_SECOND;
		writeTrack(first, offset, out);
		for (const track of others) {
			writeTrack(track, offset, this.scratch);
			const weight = this.weightOf({ ...track, since: track.since + seconds });
			crossfade(this.parts, out, this.scratch, weight, track.ways!, out);
		}
		if (this.decay) addDecay(this.parts, this.decay.decay, Math.max(0, this.decay.since + seconds), out);
	}
}

function writeTrack({ compiled, ticks, carried }: Track, offset: number, out: Float64Array): void {
	evaluateClip(compiled, Math.max(0, ticks + offset), out);
	for (const [slot, v] of carried) out[slot] += v;
}

/** Slots that accumulate in one of two clips. */
function travelSlots(...clips: readonly CompiledClip[]): Set<number> {
	return new Set(
		clips.flatMap(({ channels }) =>
			channels.filter(({ channel }) => channel.accumulates).map(({ slot }) => slot),
		),
	);
}

function startTicks({ start }: BlendSpec, clip: Clip, going: Track | undefined): number {
	if (start === 'phase' && going) {
		const { clip: from } = going.compiled;
		const period = from.length + from.loop.pause;
		return Math.round(((going.ticks % period) / period) * (clip.length + clip.loop.pause));
	}
	return typeof start === 'object' ? Math.max(0, secondsToTicks(start.seconds)) : 0;
}
