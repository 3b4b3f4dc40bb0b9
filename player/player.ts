/**
 * Plays clips into one another, in layers, as an application does: triggers, a queue, delays, blends, travel that goes
 * on, and events. It knows no clock: whoever owns it says how much time has passed. The same calls at the same moments
 * give the same poses and the same events, whatever the steps between them.
 */
import type { ClipSet, LayerOptions, Names, PlayerClip, PlayRequest } from './clips';
import { NEAR, type TrackEvent } from './events';
import { PlayerLayer, Playing } from './layer';
import type { PoseLayout } from './layout';
import { ROUNDING, Tracks } from './tracks';
import { Reactions, type Moment, type PlayerTrigger } from './triggers';

export type { BlendSpec, ClipSet, LayerOptions, PlayerClip, PlayRequest } from './clips';
export { PlayerLayer } from './layer';

/** What happened to a clip: in which layer ('' is the ground), and how much the clip counted then. */
export interface PlayerEvent<N extends Names = Names> {
	clip: PlayerClip<N['cue']>;
	layer: string;
	weight: number;
	/** Ticks since the clip's start, over all rounds. */
	at: number;
}
export interface PlayerCue<N extends Names = Names> extends PlayerEvent<N> {
	cue: N['cue'];
}
export interface PlayerLoop<N extends Names = Names> extends PlayerEvent<N> {
	/** The round that begins, from 0. */
	round: number;
}

export interface PlayerOptions<N extends Names = Names> {
	/** What happens to clips that count for less, at its own time, is not told. */
	cuesFrom?: number;
	oncue?: (fired: PlayerCue<N>) => void;
	/** Another round of a clip begins. */
	onloop?: (begun: PlayerLoop<N>) => void;
	/** A clip has come to its end, or played backwards to its start; one that another takes over has not. */
	onend?: (ended: PlayerEvent<N>) => void;
	/** A trigger tells code something. */
	onmessage?: (message: N['message']) => void;
	/** A trigger does what it is for. */
	ontrigger?: (trigger: PlayerTrigger<N>) => void;
}

/** Events of one advance beyond which nothing more is told: a tab that slept for hours must not fire for ever. */
const MOST_EVENTS = 1000;
/** Seconds that are looked ahead for events at once. */
const LOOK = 1;

export class Player<N extends Names = Names> extends Playing<N> {
	/** The picture now; another array after `exchange`. */
	pose: Float64Array;
	/** Seconds that have passed in all: inside what it tells, the very moment. */
	time = 0;
	/** Nothing moves while it is paused. */
	isPaused = false;
	private rate = 1;
	/** Which way clips run: 1, or −1 backwards. */
	private way = 1;
	/** The tracks of the ground and of all layers, from below. */
	private all: { name: string; tracks: Tracks<N> }[];
	private readonly layers = new Map<string, PlayerLayer<N>>();
	/** The same, in their order. */
	private order: PlayerLayer<N>[] = [];
	private readonly bound = new Map<string, PlayRequest<N['clip']>>();
	private readonly reactions: Reactions<N>;
	private readonly parameter = (name: string) => this.reactions.valueOf(name);
	/** Whether anybody wants to hear of events. */
	private isHeard = false;

	constructor(
		private clips: ClipSet<N>,
		private readonly options: PlayerOptions<N> = {},
	) {
		super(new Tracks<N>(clips, true, (name) => this.parameter(name)), () => this.way);
		this.pose = clips.layout.rest.slice();
		this.all = [{ name: '', tracks: this.tracks }];
		this.reactions = new Reactions<N>([], (trigger) => this.act(trigger));
		this.take(clips);
	}

	/** What a set has beside its clips; `before` are the layers of the set that it follows. */
	private take({ triggers = [], layers = [] }: ClipSet<N>, before: ClipSet<N>['layers'] = []): void {
		const { oncue, onloop, onend } = this.options;
		this.reactions.triggers = triggers;
		this.isHeard = Boolean(oncue ?? onloop ?? onend) || this.reactions.listens;
		for (const { name } of before) if (!layers.some((own) => own.name === name)) this.dropLayer(name);
		for (const layer of layers) {
			const own = this.layer(layer.name, layer);
			own.lieIn(this.layout, layer);
			// A weight that was set meanwhile stays, unless the set has another one now.
			const was = before.find(({ name }) => name === layer.name);
			if (was && was.weight !== layer.weight) own.weight = layer.weight ?? 1;
		}
	}

	private dropLayer(name: string): void {
		const layer = this.layers.get(name);
		this.layers.delete(name);
		this.order = this.order.filter((own) => own !== layer);
		this.all = this.all.filter((own) => own.name !== name);
	}

	get layout(): PoseLayout {
		return this.clips.layout;
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
	 * gone is let go, layers of the set among it. `layout` and `pose` are others then: what shows poses has to be bound anew.
	 */
	exchange(set: ClipSet<N>): void {
		const { layers } = this.clips;
		this.clips = set;
		this.pose = set.layout.rest.slice();
		for (const { tracks } of this.all) tracks.exchange(set);
		for (const layer of this.order) layer.lieIn(set.layout);
		this.take(set, layers);
		this.changed();
	}

	/** Binds a name to a clip and how it comes in, beside what the clips' own triggers do. */
	on(trigger: N['trigger'], request: PlayRequest<N['clip']>): void {
		this.bound.set(trigger, request);
	}

	/** Does what a trigger is bound to; false when it is bound to nothing. */
	trigger(name: N['trigger']): boolean {
		const request = this.bound.get(name);
		if (request) this.play(request);
		return this.send({ kind: 'call', name }) || request !== undefined;
	}

	/** Does what the clips' triggers have at the start. */
	start(): void {
		this.send({ kind: 'start' });
	}

	/**
	 * Tells of a tap, a key, a button: false when nothing is bound to it. What a part has nothing bound to happens to its
	 * parent.
	 */
	send(moment: Moment<N>): boolean {
		if (this.reactions.happen(moment)) return true;
		const { parts = [] } = this.clips;
		const own = 'part' in moment ? parts.find(({ name }) => name === moment.part) : undefined;
		return own?.parent !== undefined && this.send({ ...moment, part: parts[own.parent].name } as Moment<N>);
	}

	/** Gives a parameter a value, which layers follow and triggers watch. Throws a RangeError for what is no number. */
	set(parameter: N['parameter'], value: number): void {
		if (!Number.isFinite(value)) throw new RangeError('a parameter must be a finite number');
		for (const layer of this.order) if (layer.parameter === parameter) layer.weight = value;
		for (const { tracks } of this.all) tracks.follow(parameter, value);
		this.reactions.set(parameter, value);
		this.changed();
	}

	private act(trigger: PlayerTrigger<N>): void {
		const deed = trigger.then;
		this.options.ontrigger?.(trigger);
		if (deed.kind === 'tell') {
			this.options.onmessage?.({ name: deed.name, payload: deed.payload });
			return;
		}
		const where = deed.layer === undefined ? this : this.layer(deed.layer);
		if (deed.kind === 'weigh') this.layer(deed.layer).weigh(deed.weight, deed.seconds ?? 0);
		else if (deed.kind === 'play') where[deed.queued ? 'enqueue' : 'play'](deed);
		else if (deed.kind === 'stop')
			if (deed.withRound) where.finish();
			else where.stop({ kind: 'crossfade', seconds: deed.seconds ?? 0 });
		else if (!where.isOn(deed.clip)) where.play(deed);
		else if (deed.other === undefined) where.finish();
		else where.play({ clip: deed.other });
	}

	/** The layer of a name, above those made before it; `options` are for one that is not there yet. */
	layer(name: string, options: LayerOptions<N> = {}): PlayerLayer<N> {
		const known = this.layers.get(name);
		if (known) return known;
		if (name === '') throw new RangeError('a layer must have a name');
		const tracks = new Tracks<N>(this.clips, false, this.parameter);
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
			let step = Math.min(looks ? Math.min(left, LOOK) : left, this.reactions.untilNext());
			for (let i = 0; i < this.all.length; i++) step = Math.min(step, this.all[i].tracks.untilNext(this.way));
			const due = looks ? this.nextEvents(step) : null;
			if (due) {
				step = due[0].event.moment;
				told += due.length;
			}
			for (let i = 0; i < this.all.length; i++) this.all[i].tracks.pass(step, this.way);
			for (let i = 0; i < this.order.length; i++) this.order[i].pass(step);
			left -= step;
			this.time += step;
			this.reactions.pass(step);
			if (due) this.tell(due);
			this.startDue();
		}
		this.changed();
	}

	private startDue(): void {
		for (let i = 0; i < this.all.length; i++) this.all[i].tracks.startDue(this.way);
	}

	/** What happens first in a step, all at one moment; null where nothing does. */
	private nextEvents(step: number): { layer: string; event: TrackEvent<N['cue']> }[] | null {
		let found: { layer: string; event: TrackEvent<N['cue']> }[] | null = null;
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

	private tell(due: readonly { layer: string; event: TrackEvent<N['cue']> }[]): void {
		const { cuesFrom = 0.5, oncue, onloop, onend } = this.options;
		// What happened is behind the clip now, however the step was rounded.
		for (const { event } of due) {
			const { track, at } = event;
			if (Math.abs(track.ticks - at) < 2 * NEAR) track.ticks = at;
			track.fresh = false;
		}
		for (const { layer, event } of due) {
			const { kind, key, clip, at, weight, cue, round } = event;
			if (weight < cuesFrom - ROUNDING) continue;
			const told = { clip, layer, weight, at };
			if (kind === 'cue') {
				oncue?.({ ...told, cue: cue! });
				this.reactions.happen({ kind, clip: key, cue: cue!.name });
			} else if (kind === 'loop') onloop?.({ ...told, round });
			else {
				onend?.(told);
				this.reactions.happen({ kind, clip: key });
			}
		}
	}

	protected override changed(): void {
		this.tracks.compose(0, this.way, this.pose);
		for (let i = 0; i < this.order.length; i++) this.order[i].layOver(this.pose);
	}
}
