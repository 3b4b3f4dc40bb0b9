/**
 * Clips that play into one another: a queue, delays, crossfades and inertial blends, travel that goes on. Without a
 * clip there is nothing; over how much of what lies below they show is their presence. While they play and blend no
 * objects and no arrays are made.
 */
import { chooseWays, crossfade } from './blend/crossfade';
import { PoseDecay, reflect } from './blend/inertial';
import {
	checkRequest,
	checkSeconds,
	counted,
	CUT,
	takesTime,
	type BlendSpec,
	type ClipSet,
	type Names,
	type PlayerClip,
	type PlayRequest,
} from './clips';
import { collectEvents, type TrackEvent } from './events';
import { evaluateClip, restMotion } from './motion';
import { secondsToTicks, TICKS_PER_SECOND } from './time';
import {
	endingWithRound,
	exchanged,
	makeTrack,
	markCell,
	mixAt,
	mixedClips,
	secondsLeft,
	startTicks,
	tellOrigin,
	weightOf,
	type Track,
} from './track';

/** More clips than this in one another are not told apart by an eye: the oldest is let go. */
const MOST_TRACKS = 8;
/** Seconds over which rates are measured at a switch. */
const RATE_STEP = 1 / 240;
const TWO_FRAMES = 2 / 60;
/** Seconds below which a rest of time is rounding. */
export const ROUNDING = 1e-9;
/** Travel is mixed in cells of so many seconds, so that it does not depend on the frame time. */
const CELL = 1 / 120;

export class Tracks<N extends Names> {
	private tracks: Track<N['cue']>[] = [];
	private queue: PlayRequest[] = [];
	private waiting: { request: PlayRequest; left: number }[] = [];
	/** Places that accumulate in some clip under way. */
	private travelling: readonly number[] = [];
	/** Seconds since the cell began in which travel is mixed. */
	private cellAge = 0;
	private decay!: PoseDecay;
	/** Seconds that the decay has gone on for; Infinity when there is none. */
	private decayed = Infinity;
	private readonly met: TrackEvent<N['cue']>[] = [];
	/** Stands for the rest pose, where all of it comes to rest. */
	private stillness!: PlayerClip<N['cue']>;
	private scratch!: Float64Array;
	private ahead!: Float64Array;
	private poses!: Record<'earlier' | 'before' | 'afterEarlier' | 'after', Float64Array>;

	/** At the ground there is the rest pose below; over it, whatever the layers below show. */
	constructor(
		private set: ClipSet<N>,
		private readonly isGround: boolean,
		private readonly parameter: (name: string) => number,
	) {
		this.makeRoom();
	}

	private makeRoom(): void {
		const { layout } = this.set;
		const copy = () => layout.rest.slice();
		this.scratch = copy();
		this.ahead = copy();
		this.poses = { earlier: copy(), before: copy(), afterEarlier: copy(), after: copy() };
		this.decay = new PoseDecay(layout);
		this.stillness = { name: '', motion: restMotion(layout), cues: [] };
	}

	/** Goes on with other clips of the same names; an inertial blend ends. What is gone is let go. */
	exchange(set: ClipSet<N>): void {
		const { layout } = this.set;
		const { stillness } = this;
		const isThere = ({ clip }: PlayRequest) => set.clips.has(clip);
		this.set = set;
		this.makeRoom();
		this.decayed = Infinity;
		this.queue = this.queue.filter(isThere);
		this.waiting = this.waiting.filter(({ request }) => isThere(request));
		const kept = this.tracks.flatMap((track) => {
			const clip = track.clip === stillness ? this.stillness : set.clips.get(track.key);
			return clip ? [exchanged(track, clip, layout, set.layout, this.parameter)] : [];
		});
		this.setTracks(kept);
	}

	get isPlaying(): boolean {
		return this.tracks.length > 0;
	}

	/** The clips under way with their weights, the oldest first; of a mix its own that count. */
	get playing(): { clip: PlayerClip<N['cue']>; ticks: number; weight: number }[] {
		return this.tracks.flatMap((track, i) => {
			const { clip, ticks } = track;
			const weight = this.shareOf(i, 0);
			if (clip === this.stillness) return [];
			return track.mixing ? mixedClips(track, weight) : [{ clip, ticks, weight }];
		});
	}

	/** Whether the newest clip is one that still plays, and is not asked to finish. */
	isOn(key: string, way: number): boolean {
		const track = this.tracks.at(-1);
		return track?.key === key && !track.finishes && this.untilEnd(way) > 0;
	}

	/** The newest clip ends with the round that it is in. What is queued goes on then. */
	finish(): void {
		const last = this.tracks.length - 1;
		if (last >= 0) this.tracks[last] = endingWithRound(this.tracks[last]);
	}

	/** How much of what lies below they cover, 0…1. */
	get presence(): number {
		let covered = 1;
		for (let i = 0; i < this.tracks.length; i++)
			if (this.tracks[i].clip === this.stillness) covered -= this.shareOf(i, 0);
		return covered;
	}

	play(request: PlayRequest, way: number): void {
		this.clipOf(request.clip);
		checkRequest(request);
		this.queue = [];
		this.waiting = [];
		this.beginOrWait(request, way);
	}

	enqueue(request: PlayRequest): void {
		this.clipOf(request.clip);
		checkRequest(request);
		this.queue.push(request);
	}

	stop(blend: BlendSpec, way: number): void {
		checkSeconds(blend.seconds, 'a blend');
		this.queue = [];
		this.waiting = [];
		if (this.tracks.length === 0) return;
		if (takesTime(blend)) this.beginTrack(this.still(blend), way);
		else this.clear();
	}

	seek(seconds: number): void {
		const track = this.tracks.at(-1);
		if (!track) return;
		track.ticks = Math.max(0, secondsToTicks(seconds));
		track.fresh = track.ticks === 0;
		this.beginCell();
	}

	/** Seconds until a delay ends, a fade is over, the queue moves on, or travel is mixed anew. */
	untilNext(way: number): number {
		const { tracks, waiting } = this;
		let next = Infinity;
		for (let i = 0; i < waiting.length; i++) next = Math.min(next, waiting[i].left);
		for (let i = 1; i < tracks.length; i++) {
			const { blend, since } = tracks[i];
			if (blend.seconds - since > ROUNDING) next = Math.min(next, blend.seconds - since);
		}
		if (this.mixesTravel) next = Math.min(next, CELL - this.cellAge);
		return this.queue.length > 0 && waiting.length === 0 ? Math.min(next, this.untilEnd(way)) : next;
	}

	/** A parameter has another value: mixes under way follow it. */
	follow(name: string, value: number): void {
		for (const track of this.tracks) if (track.clip.mix?.parameter === name) mixAt(track, value);
	}

	/** Begins what has waited long enough, and what is queued behind a clip that has ended. */
	startDue(way: number): void {
		if (this.waiting.length > 0) {
			const due = this.waiting.filter(({ left }) => left <= ROUNDING);
			this.waiting = this.waiting.filter(({ left }) => left > ROUNDING);
			for (const { request } of due) this.begin(request, way);
		}
		if (this.queue.length > 0 && this.waiting.length === 0 && this.untilEnd(way) === 0)
			this.beginOrWait(this.queue.shift()!, way);
	}

	/** What happens to the tracks in a step, each with its moment in it; the list is written again by the next call. */
	events(seconds: number, way: number): readonly TrackEvent<N['cue']>[] {
		const { met } = this;
		met.length = 0;
		for (let i = 0; i < this.tracks.length; i++) {
			if (this.tracks[i].clip === this.stillness) continue;
			const from = met.length;
			collectEvents(this.tracks[i], seconds, way, met);
			for (let n = from; n < met.length; n++) {
				met[n].weight = this.shareOf(i, met[n].moment);
				if (met[n].cue && this.tracks[i].mixing) tellOrigin(met[n]);
			}
		}
		return met;
	}

	/** Lets time pass; `way` is 1, or −1 where clips run backwards. */
	pass(seconds: number, way: number): void {
		const { tracks, waiting } = this;
		for (let i = 0; i < tracks.length; i++) {
			const track = tracks[i];
			const by = seconds * way * track.speed * TICKS_PER_SECOND;
			track.ticks = Math.max(0, track.ticks + by);
			track.since += seconds;
			if (by !== 0) track.fresh = false;
		}
		for (let i = 0; i < waiting.length; i++) waiting[i].left -= seconds;
		this.decayed += seconds;
		this.cellAge += seconds;
		this.mixTravel();
		this.settle();
	}

	/** The picture some seconds from now, of the clips that are under way now. */
	compose(seconds: number, way: number, out: Float64Array): void {
		const { tracks, set } = this;
		let isEmpty = true;
		// How much is seen of what has been looked at: over the ground what is still lets through what lies below.
		let seen = 0;
		for (let i = 0; i < tracks.length; i++) {
			const track = tracks[i];
			const weight = i === 0 ? 1 : weightOf(track, seconds);
			seen *= 1 - weight;
			if (track.clip === this.stillness && !this.isGround) continue;
			seen += weight;
			this.writeTrack(track, seconds, way, isEmpty ? out : this.scratch);
			if (!isEmpty && weight > 0) crossfade(set.layout, out, this.scratch, weight / seen, track.ways, out);
			isEmpty = false;
		}
		if (isEmpty) out.set(set.layout.rest);
		if (this.decayed < Infinity) this.decay.addTo(out, this.decayed + seconds);
	}

	private clipOf(name: string): PlayerClip<N['cue']> {
		const clip = this.set.clips.get(name);
		if (!clip) throw new RangeError(`there is no clip "${name}"`);
		return clip;
	}

	private clear(): void {
		this.setTracks([]);
		this.decayed = Infinity;
	}

	/** The rest pose, or over the ground nothing, comes in. */
	private still(blend: BlendSpec): Track<N['cue']> {
		const { stillness: clip, set, isGround } = this;
		// What lies below moves by itself: nothing can go over to it with momentum.
		const own: BlendSpec = isGround ? blend : { ...blend, kind: 'crossfade' };
		return makeTrack(
			set.layout,
			{ key: '', clip, count: undefined, ticks: 0, asked: 1, blend: own },
			this.parameter,
		);
	}

	private beginOrWait(request: PlayRequest, way: number): void {
		if (request.delay && request.delay > 0) this.waiting.push({ request, left: request.delay });
		else this.begin(request, way);
	}

	/** Seconds until the newest clip has ended: 0 where there is none. */
	private untilEnd(way: number): number {
		const track = this.tracks.at(-1);
		const left = track ? secondsLeft(track, way) : 0;
		return left > ROUNDING ? left : 0;
	}

	private begin(request: PlayRequest, way: number): void {
		const { clip: key, count, speed = 1 } = request;
		const clip = this.clipOf(key);
		const going = this.tracks.at(-1);
		const wanted = request.blend ?? (going && this.set.blendOf?.(going.key, key)) ?? CUT;
		const ticks = startTicks(wanted, counted(clip.motion, count), speed * way, going);
		// Over the ground the first clip fades in.
		const fades = !going && !this.isGround && takesTime(wanted);
		if (fades) this.setTracks([this.still(CUT)]);
		const blend: BlendSpec = fades ? { ...wanted, kind: 'crossfade' } : going ? wanted : CUT;
		const own = { key, clip, count, ticks, asked: speed, blend };
		const track = makeTrack(this.set.layout, own, this.parameter);
		if (going || fades) this.beginTrack(track, way);
		else this.setTracks([track]);
	}

	/** A track comes in over those that are there. */
	private beginTrack(track: Track<N['cue']>, way: number): void {
		const { layout } = this.set;
		const { before, after, earlier, afterEarlier } = this.poses;
		const going = this.tracks.at(-1)!;
		const { motion, blend, ticks, carried } = track;
		this.compose(0, way, before);
		evaluateClip(motion, ticks, after);
		// What comes to rest lets go of its travel.
		if (track.clip !== this.stillness)
			for (const { travels } of [motion, going.motion])
				for (const place of travels) carried[place] = before[place] - after[place];
		for (let k = 0; k < after.length; k++) after[k] += carried[k];
		chooseWays(layout, before, after, track.ways);
		if (blend.kind === 'crossfade' && takesTime(blend)) {
			this.setTracks([...this.tracks, track].slice(-MOST_TRACKS));
			return;
		}
		if (takesTime(blend)) {
			// Rates are measured over a step before the switch.
			this.compose(-RATE_STEP, way, earlier);
			this.writeTrack(track, -RATE_STEP, way, afterEarlier);
			this.decay.begin(this.poses, RATE_STEP, blend.seconds, TWO_FRAMES);
			this.decayed = 0;
		} else this.decayed = Infinity;
		this.setTracks([track]);
	}

	private setTracks(tracks: Track<N['cue']>[]): void {
		this.tracks = tracks;
		const isResting = tracks.some(({ clip }) => clip === this.stillness);
		this.travelling = isResting ? [] : [...new Set(tracks.flatMap(({ motion }) => motion.travels))];
		this.beginCell();
	}

	/** How much of the picture a track makes, some seconds from now. */
	private shareOf(index: number, seconds: number): number {
		let share = index === 0 ? 1 : weightOf(this.tracks[index], seconds);
		for (let i = index + 1; i < this.tracks.length; i++) share *= 1 - weightOf(this.tracks[i], seconds);
		return share;
	}

	private get mixesTravel(): boolean {
		return this.tracks.length > 1 && this.travelling.length > 0;
	}

	private beginCell(): void {
		this.cellAge = 0;
		for (let i = 0; i < this.tracks.length; i++) markCell(this.tracks[i]);
	}

	/** Sets every track's travel so that all agree on where it stands: the mixed rates, added up over the cell. */
	private mixTravel(): void {
		if (!this.mixesTravel) return;
		const { tracks, travelling, scratch, ahead, cellAge } = this;
		for (let i = 0; i < tracks.length; i++) {
			const { motion, cellTicks, ticks, went } = tracks[i];
			evaluateClip(motion, cellTicks, scratch);
			evaluateClip(motion, ticks, ahead);
			for (let n = 0; n < travelling.length; n++)
				went[travelling[n]] = ahead[travelling[n]] - scratch[travelling[n]];
		}
		for (let n = 0; n < travelling.length; n++) {
			const k = travelling[n];
			let mixed = 0;
			// The middle of the cell stands for its weights.
			for (let i = 0; i < tracks.length; i++) mixed += this.shareOf(i, -cellAge / 2) * tracks[i].went[k];
			for (let i = 0; i < tracks.length; i++)
				tracks[i].carried[k] = tracks[i].cellCarried[k] + mixed - tracks[i].went[k];
		}
		if (cellAge >= CELL - ROUNDING) this.beginCell();
	}

	/** Clips that a later one has wholly taken over are let go, and all of them once nothing is seen of them. */
	private settle(): void {
		for (let i = this.tracks.length - 1; i > 0; i--) {
			const track = this.tracks[i];
			if (weightOf(track, 0) < 1 - ROUNDING || track.blend.seconds - track.since > ROUNDING) continue;
			this.setTracks(this.tracks.slice(i));
			break;
		}
		if (this.decayed >= this.decay.seconds) this.decayed = Infinity;
		if (this.tracks.length === 1 && this.tracks[0].clip === this.stillness && this.decayed === Infinity)
			this.clear();
	}

	private writeTrack(track: Track<N['cue']>, seconds: number, way: number, out: Float64Array): void {
		const { motion, ticks, carried, speed } = track;
		const offset = seconds * way * speed * TICKS_PER_SECOND;
		if (ticks + offset >= 0) evaluateClip(motion, ticks + offset, out);
		else {
			// Before its start a clip has no motion: what it does just after stands for it.
			evaluateClip(motion, ticks, out);
			evaluateClip(motion, ticks - offset, this.ahead);
			reflect(this.set.layout, out, this.ahead);
		}
		for (let k = 0; k < out.length; k++) out[k] += carried[k];
	}
}
