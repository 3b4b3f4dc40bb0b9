/**
 * Plays clips into one another, in layers, as an application does: triggers, a queue, delays, blends, travel that goes
 * on, and events. It knows no clock: whoever owns it says how much time has passed. The same calls at the same moments
 * give the same poses and the same events, whatever the steps between them.
 */
import { layOver, partsOf, type LayerMode } from './blend/layers';
import { CUT, type BlendSpec, type ClipSet, type PlayerClip, type PlayRequest } from './clips';
import type { Cue } from './cues';
import { NEAR, type TrackEvent } from './events';
import type { PoseLayout } from './layout';
import { ROUNDING, Tracks } from './tracks';

export type { BlendSpec, ClipSet, PlayerClip, PlayRequest } from './clips';

/** What happened to a clip: in which layer ('' is the ground), and how much the clip counted then. */
export interface PlayerEvent<C extends Cue = Cue> {
	clip: PlayerClip<C>;
	layer: string;
	weight: number;
	/** Ticks since the clip's start, over all rounds. */
	at: number;
}
export interface PlayerCue<C extends Cue = Cue> extends PlayerEvent<C> {
	cue: C;
}
export interface PlayerLoop<C extends Cue = Cue> extends PlayerEvent<C> {
	/** The round that begins, from 0. */
	round: number;
}

export interface PlayerOptions<C extends Cue = Cue> {
	/** What happens to clips that count for less, at its own time, is not told. */
	cuesFrom?: number;
	oncue?: (fired: PlayerCue<C>) => void;
	/** Another round of a clip begins. */
	onloop?: (begun: PlayerLoop<C>) => void;
	/** A clip has come to its end, or played backwards to its start; one that another takes over has not. */
	onend?: (ended: PlayerEvent<C>) => void;
}

export interface LayerOptions<P extends string = string> {
	/** Fades over what lies below, or puts the difference from the rest pose on top of it. */
	mode?: LayerMode;
	/** 0…1. */
	weight?: number;
	/** The parts that it is for; null for all. */
	parts?: readonly P[] | null;
}

/** Where clips play into one another. */
abstract class Playing<C extends Cue, N extends string> {
	/** `way` is 1, or −1 while clips run backwards. */
	constructor(
		protected readonly tracks: Tracks<C>,
		protected readonly wayNow: () => number,
	) {}

	/** The clips under way with their weights, the oldest first. */
	get playing(): Tracks<C>['playing'] {
		return this.tracks.playing;
	}

	/**
	 * Starts a clip now, or after its delay; what is queued is forgotten. Throws a RangeError for an unknown clip, and for
	 * times, counts and speeds that are none.
	 */
	play(request: PlayRequest<N>): void {
		this.tracks.play(request, this.wayNow());
		this.changed();
	}

	/**
	 * Plays a clip when the one under way has ended (endless ones never do) and its delay after that, behind those
	 * queued before.
	 */
	enqueue(request: PlayRequest<N>): void {
		this.tracks.enqueue(request);
	}

	/**
	 * Goes to the rest pose, or in a layer to what lies below, over the time of a blend if one is given (in layers always
	 * a crossfade); what is queued is forgotten.
	 */
	stop(blend: BlendSpec = CUT): void {
		this.tracks.stop(blend, this.wayNow());
		this.changed();
	}

	/** Puts the newest clip at a time (seconds since its start). Cues between are not passed and do not fire. */
	seek(seconds: number): void {
		this.tracks.seek(seconds);
		this.changed();
	}

	/** The pose may be another one now. */
	protected changed(): void {}
}

/**
 * A layer over the ground: it covers what lies below as far as it is weighed, and while a clip plays in it. The first
 * one fades in where its blend takes time. What it shows comes with the player's next advance.
 */
export class PlayerLayer<C extends Cue = Cue, N extends string = string> extends Playing<C, N> {
	readonly mode: LayerMode;
	/** Whether each target of the layout is one of its parts; null for all. */
	private targets!: Uint8Array | null;
	private share = 1;
	private pose!: Float64Array;
	private ways!: Int8Array;
	private readonly parts: readonly string[] | null;

	/** Layers are made by their player, which lets their time pass. */
	constructor(
		private layout: PoseLayout,
		tracks: Tracks<C>,
		wayNow: () => number,
		{ mode = 'replace', weight = 1, parts = null }: LayerOptions,
	) {
		super(tracks, wayNow);
		this.mode = mode;
		this.parts = parts;
		this.weight = weight;
		this.lieIn(layout);
	}

	/** For its player: poses have this layout from now on. */
	lieIn(layout: PoseLayout): void {
		this.layout = layout;
		this.targets = this.parts && partsOf(layout, this.parts);
		this.pose = layout.rest.slice();
		this.ways = new Int8Array(layout.targets.length);
	}

	get weight(): number {
		return this.share;
	}
	/** Kept within 0…1. Throws a RangeError for what is no number. */
	set weight(weight: number) {
		if (Number.isNaN(weight)) throw new RangeError('a weight must be a number');
		this.share = Math.min(1, Math.max(0, weight));
	}

	/** Lays what it shows over a pose. */
	layOver(out: Float64Array): void {
		const { layout, mode, pose, targets, tracks, ways } = this;
		const weight = this.share * tracks.presence;
		if (!tracks.isPlaying || weight === 0) return;
		tracks.compose(0, this.wayNow(), pose);
		layOver(layout, mode, pose, weight, targets, ways, out);
	}
}

/** Events of one advance beyond which nothing more is told: a tab that slept for hours must not fire for ever. */
const MOST_EVENTS = 1000;
/** Seconds that are looked ahead for events at once. */
const LOOK = 1;

export class Player<
	C extends Cue = Cue,
	N extends string = string,
	P extends string = string,
> extends Playing<C, N> {
	/** The picture now; another array after `exchange`. */
	pose: Float64Array;
	/** Nothing moves while it is paused. */
	isPaused = false;
	private rate = 1;
	/** Which way clips run: 1, or −1 backwards. */
	private way = 1;
	/** The tracks of the ground and of all layers, from below. */
	private readonly all: { name: string; tracks: Tracks<C> }[];
	private readonly layers = new Map<string, PlayerLayer<C, N>>();
	/** The same, in their order. */
	private readonly order: PlayerLayer<C, N>[] = [];
	private readonly triggers = new Map<string, PlayRequest<N>>();
	/** Whether anybody wants to hear of events. */
	private readonly isHeard: boolean;

	constructor(
		private set: ClipSet<C, N> & { readonly parts?: readonly { readonly name: P }[] },
		private readonly options: PlayerOptions<C> = {},
	) {
		super(new Tracks(set, true), () => this.way);
		this.pose = set.layout.rest.slice();
		this.all = [{ name: '', tracks: this.tracks }];
		this.isHeard = Boolean(options.oncue ?? options.onloop ?? options.onend);
	}

	get layout(): PoseLayout {
		return this.set.layout;
	}

	/** How fast all of it goes: 1 unless set; 0 stands. Below 0 clips run backwards, blends and delays go on. */
	get speed(): number {
		return this.rate;
	}
	set speed(speed: number) {
		if (!Number.isFinite(speed)) throw new RangeError('a speed must be a finite number');
		this.rate = speed;
		if (speed !== 0) this.way = Math.sign(speed);
	}

	/**
	 * Goes on with other clips, made of the same project later: clips keep their times, blends go on (inertial ones end), what is
	 * gone is let go. `layout` and `pose` are others then: what shows poses has to be bound anew.
	 */
	exchange(set: ClipSet<C, N> & { readonly parts?: readonly { readonly name: P }[] }): void {
		this.set = set;
		this.pose = set.layout.rest.slice();
		for (const { tracks } of this.all) tracks.exchange(set);
		for (const layer of this.order) layer.lieIn(set.layout);
		this.changed();
	}

	/** Binds a name to a clip and how it comes in. */
	on(trigger: string, request: PlayRequest<N>): void {
		this.triggers.set(trigger, request);
	}

	/** Plays what a trigger is bound to; false when it is bound to nothing. */
	trigger(name: string): boolean {
		const request = this.triggers.get(name);
		if (request) this.play(request);
		return request !== undefined;
	}

	/** The layer of a name, above those made before it; `options` are for one that is not there yet. */
	layer(name: string, options: LayerOptions<P> = {}): PlayerLayer<C, N> {
		const known = this.layers.get(name);
		if (known) return known;
		if (name === '') throw new RangeError('a layer must have a name');
		const tracks = new Tracks(this.set, false);
		const layer = new PlayerLayer(this.layout, tracks, this.wayNow, options);
		this.layers.set(name, layer);
		this.order.push(layer);
		this.all.push({ name, tracks });
		return layer;
	}

	/** Lets time pass (seconds; below 0 runs backwards), tells what happens in it and writes `pose`. */
	advance(seconds: number): void {
		if (!Number.isFinite(seconds)) throw new RangeError('a frame must last a finite time');
		const wanted = this.isPaused ? 0 : seconds * this.rate;
		if (wanted !== 0) this.way = Math.sign(wanted);
		let left = Math.abs(wanted);
		let told = 0;
		this.startDue();
		// Whatever begins or happens within the frame does so at its own moment in it.
		while (left > 0) {
			const looks = this.isHeard && told < MOST_EVENTS;
			let step = looks ? Math.min(left, LOOK) : left;
			for (let i = 0; i < this.all.length; i++) step = Math.min(step, this.all[i].tracks.untilNext(this.way));
			const due = looks ? this.nextEvents(step) : null;
			if (due) {
				step = due[0].event.moment;
				told += due.length;
			}
			for (let i = 0; i < this.all.length; i++) this.all[i].tracks.pass(step, this.way);
			left -= step;
			if (due) this.tell(due);
			this.startDue();
		}
		this.changed();
	}

	private startDue(): void {
		for (let i = 0; i < this.all.length; i++) this.all[i].tracks.startDue(this.way);
	}

	/** What happens first in a step, all at one moment; null where nothing does. */
	private nextEvents(step: number): { layer: string; event: TrackEvent<C> }[] | null {
		let found: { layer: string; event: TrackEvent<C> }[] | null = null;
		let first = Infinity;
		for (let i = 0; i < this.all.length; i++) {
			const { name, tracks } = this.all[i];
			const events = tracks.events(step, this.way);
			for (let n = 0; n < events.length; n++) {
				(found ??= []).push({ layer: name, event: events[n] });
				first = Math.min(first, events[n].moment);
			}
		}
		return found && found.filter(({ event }) => event.moment - first <= ROUNDING);
	}

	private tell(due: readonly { layer: string; event: TrackEvent<C> }[]): void {
		const { cuesFrom = 0.5, oncue, onloop, onend } = this.options;
		// What happened is behind the clip now, however the step was rounded.
		for (const { event } of due) {
			const { track, at } = event;
			if (Math.abs(track.ticks - at) < 2 * NEAR) track.ticks = at;
			track.fresh = false;
		}
		for (const { layer, event } of due) {
			const { kind, clip, at, weight, cue, round } = event;
			if (weight < cuesFrom - ROUNDING) continue;
			const told = { clip, layer, weight, at };
			if (kind === 'cue') oncue?.({ ...told, cue: cue! });
			else if (kind === 'loop') onloop?.({ ...told, round });
			else onend?.(told);
		}
	}

	protected override changed(): void {
		this.tracks.compose(0, this.way, this.pose);
		for (let i = 0; i < this.order.length; i++) this.order[i].layOver(this.pose);
	}
}
