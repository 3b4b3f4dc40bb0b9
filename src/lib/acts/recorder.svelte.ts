/** Acting a motion live: what a device says is recorded over the open clip while it plays. */
import { toast } from 'svelte-sonner';
import type { Clip, Doc } from '$core/document/types';
import type { TakeColumn } from '$core/document/takes';
import { whyNotRecorded, withStretch } from '$core/takes/put-take';
import { roughKeys } from '$core/takes/rough-keys';
import type { TakeSamples } from '$core/takes/samples-file';
import { frameToTicks } from '$core/time';
import type { Drag } from '$lib/session/project.svelte';
import type { Session } from '$lib/session/session.svelte';
import { soundClick } from '$lib/ui/click-sound';
import { cancelFrame, nextTick } from '$lib/ui/frames';
import { TICKS_PER_SECOND } from '$player/time';
import { DeviceSamples } from './device-samples';
import { AXES, RecorderSettings, type Axis, type DevicePlace } from './recorder-settings.svelte';
import { valueOver } from './recorded-path';
import { takeWorkOf } from './take-work.svelte';

const COUNT_MS = 1000;
const COUNT_HERTZ = 880;
/** Between two pictures a person sees nothing: what is shown has no more keys than that. */
const SHOWN_APART = TICKS_PER_SECOND / 60;
/** After it was shown it rests for so many times as long as that took. */
const SHOWN_SHARE = 3;
/** After so many it stops by itself: somebody has gone away. */
const MOST_ROUNDS = 50;

export class Recorder extends RecorderSettings {
	phase = $state<'rest' | 'counting' | 'recording' | 'keeping'>('rest');
	/** What is still counted. */
	count = $state(0);
	/** Moments that the device has told. */
	told = $state(0);
	/** The round that is recorded, from 1 on; 0 while it only plays up to where it begins. */
	round = $state(1);

	private samples: DeviceSamples | null = null;
	private drag: Drag | null = null;
	private columns: TakeColumn[] = [];
	private axes: Axis[] = [];
	/** What each column has without the device, over ticks of the clip. */
	private bases: ((ticks: number) => number)[] = [];
	private isOnPath = false;
	private clip: Clip | null = null;
	private span = { from: 0, to: 0 };
	private before = { range: null as { from: number; to: number } | null, speed: 1, t: 0 };
	private began = 0;
	private showAgain = 0;
	private last: readonly number[] | null = null;
	private timer: ReturnType<typeof setTimeout> | undefined;
	private sound: AudioContext | null = null;
	/** Asked once a frame where a device does not speak by itself. */
	poll: ((time: number) => void) | null = null;

	/** Ticks between which it is recorded, at rest those between which it would be. */
	get recordedSpan(): { from: number; to: number } {
		const { clip } = this.session;
		return this.phase === 'rest' && clip ? this.spanOf(clip) : this.span;
	}

	get isOn(): boolean {
		return this.phase === 'counting' || this.phase === 'recording';
	}

	/** Counts in, then records. Pressed again it ends what is recorded, and keeps it. */
	toggle(): void {
		if (this.isOn) void this.stop();
		else if (this.device === 'sound')
			void import('./sound-take').then((own) => own.recordSound(this.session, this));
		else this.begin();
	}

	begin(): void {
		const { session, why } = this;
		const { transport, clip } = session;
		if (this.phase !== 'rest') return;
		if (why !== null || !clip) {
			toast.error(why ?? 'There is no clip to record into.');
			return;
		}
		transport.stop();
		const at = Math.round(transport.local);
		this.before = { range: transport.range, speed: transport.speed, t: at };
		this.span = this.spanOf(clip);
		if (this.span.to - this.span.from < frameToTicks(1, session.frameRate)) {
			toast.error('There is no time to record in', {
				description: 'Go to an earlier frame, or make the clip longer.',
			});
			return;
		}
		this.clip = clip;
		const { driven } = this;
		this.axes = AXES.filter((axis) => driven[axis]);
		this.isOnPath = this.isAlongPath;
		this.columns = this.isOnPath ? this.path : this.axes.map((axis) => driven[axis]!);
		this.bases = this.columns.map((column) => valueOver(session.project.committed, clip, column));
		this.last = null;
		this.told = 0;
		this.round = 1;
		transport.seek(this.span.from - this.leadTicks);
		this.count = this.countIn;
		this.phase = 'counting';
		this.tellCount();
	}

	/** Ticks that play before it begins, as many as there are. */
	private get leadTicks(): number {
		return Math.min(this.span.from, Math.round(this.leadIn * TICKS_PER_SECOND * this.speed));
	}

	private tellCount(): void {
		if (this.count <= 0) {
			this.start();
			return;
		}
		this.click();
		this.timer = setTimeout(() => {
			this.count--;
			this.tellCount();
		}, COUNT_MS);
	}

	/** A short sound, where the browser makes any. */
	private click(): void {
		try {
			this.sound ??= new AudioContext();
			soundClick(this.sound, COUNT_HERTZ);
		} catch {
			// It is counted on the screen too.
		}
	}

	private start(): void {
		const { session, span, clip } = this;
		const doc = session.project.committed;
		if (!clip || !doc.clips[clip.id]) {
			this.rest();
			return;
		}
		const { transport } = session;
		this.drag = session.startDrag('Record');
		transport.speed = this.speed;
		const lead = this.leadTicks;
		// Without a range it may begin before it.
		transport.range = null;
		transport.seek(span.from - lead);
		transport.play();
		transport.setRange(span.from, span.to);
		this.began = transport.startedAt + (lead / TICKS_PER_SECOND / this.speed) * 1000;
		this.round = lead > 0 ? 0 : 1;
		this.showAgain = 0;
		this.samples = new DeviceSamples(
			{ began: this.began, ...span, speed: this.speed },
			this.bases,
			this.mode === 'add' && !this.isOnPath,
		);
		if (this.last || this.onlyHeld) this.samples.feed(this.began, this.last);
		else if (this.device !== 'pointer')
			this.samples.feed(
				this.began,
				this.columns.map(() => 0),
			);
		this.phase = 'recording';
		nextTick(this.advance);
	}

	/** Where the device was at a time; null while it is not held and only that counts. */
	feed(time: number, place: DevicePlace | null): void {
		if (this.isOnPath) {
			// What stays where it is left has its middle in the middle of the path; all else begins where the path does.
			const isLeft = this.device === 'slider' || this.device === 'knob';
			this.feedShare(time, place && (isLeft ? (place.across + 1) / 2 : place.across));
			return;
		}
		this.feedOffsets(
			time,
			place && { across: place.across * this.reachOf('across'), up: place.up * this.reachOf('up') },
		);
	}

	/** How far along its path the part was at a time, as a share of what it goes over while it is recorded. */
	feedShare(time: number, share: number | null): void {
		const { from, to } = this.span;
		const ticks = from + (to - from) * Math.min(1, Math.max(0, share ?? 0));
		this.tell(time, share === null ? null : this.bases.map((base) => base(ticks) - base(from)));
	}

	/** The same, in the units of what is driven. */
	feedOffsets(time: number, offsets: DevicePlace | null): void {
		this.tell(time, offsets && this.axes.map((axis) => offsets[axis]));
	}

	private tell(time: number, offsets: readonly number[] | null): void {
		if (!this.isOn) return;
		this.last = offsets;
		if (this.phase !== 'recording' || !this.samples) return;
		this.samples.feed(time - this.latency, this.last);
		this.told = this.samples.count;
	}

	private readonly advance = (time: number): void => {
		const { samples, drag, session } = this;
		if (this.phase !== 'recording' || !samples || !drag) return;
		this.poll?.(time);
		if (time < this.began && session.transport.playing) {
			nextTick(this.advance);
			return;
		}
		const round = samples.roundAt(time);
		const isOver = !session.transport.playing || round >= (this.goesRound ? MOST_ROUNDS : 1);
		if (isOver) {
			void this.stop();
			return;
		}
		this.round = round + 1;
		if (time >= this.showAgain) {
			const began = performance.now();
			const own = samples.samplesOf(round, time);
			if (own) drag.update((doc) => this.preview(doc, own));
			// A long round takes long to show: it takes a share of the time, not all of it.
			this.showAgain = time + SHOWN_SHARE * (performance.now() - began);
		}
		nextTick(this.advance);
	};

	/** What has been recorded of this round, as straight keys. */
	private preview(doc: Doc, { times, columns }: TakeSamples): Doc {
		const { clip } = this;
		if (!clip || !doc.clips[clip.id]) return doc;
		return this.columns.reduce((next, column, c) => {
			if (whyNotRecorded(next, clip.id, column)) return next;
			const stretches = roughKeys(times, columns[c], SHOWN_APART);
			return stretches.reduce((made, keys) => withStretch(made, clip.id, column, keys), next);
		}, doc);
	}

	/** Ends it; what was recorded becomes takes, and the last round keys. */
	async stop(): Promise<void> {
		// Before it has begun there is nothing to keep.
		if (this.phase === 'counting' || performance.now() < this.began) {
			this.cancel();
			return;
		}
		const { samples, drag, clip, columns, session } = this;
		if (this.phase !== 'recording' || !samples || !drag || !clip) return;
		const now = performance.now();
		this.phase = 'keeping';
		this.halt();
		const count = this.goesRound ? Math.min(MOST_ROUNDS, samples.roundAt(now) + 1) : 1;
		const rounds = Array.from({ length: count }, (_, round) => samples.samplesOf(round, now));
		// A round that has only just begun is none.
		if (rounds.length > 1 && isShort(rounds.at(-1)!, this.span)) rounds.pop();
		const kept = rounds.filter((own) => own !== null);
		try {
			if (kept.length === 0) toast('Nothing was recorded: the device said nothing');
			else {
				const { keepTakes } = await import('./takes');
				const id = await keepTakes(session, { clip: clip.id, columns, rounds: kept });
				if (id !== null) void takeWorkOf(session).open(id);
			}
		} catch (error) {
			toast.error('What was recorded could not be made into keys', {
				description: error instanceof Error ? error.message : String(error),
			});
		} finally {
			drag.cancel();
			this.rest();
		}
	}

	/** What was recorded is thrown away. */
	cancel(): void {
		if (!this.isOn) return;
		const wasOn = this.phase === 'recording';
		this.halt();
		this.drag?.cancel();
		this.rest();
		if (wasOn) toast('The take was thrown away');
	}

	/** Playing is as it was before. */
	private halt(): void {
		clearTimeout(this.timer);
		cancelFrame(this.advance);
		const { transport } = this.session;
		transport.stop();
		transport.range = this.before.range;
		transport.speed = this.before.speed;
		transport.seek(this.before.t);
	}

	private rest(): void {
		this.phase = 'rest';
		this.samples = null;
		this.drag = null;
		this.poll = null;
		void this.sound?.close();
		this.sound = null;
	}
}

/** Of a round that was broken off before this share of it, nobody wants to know. */
const LEAST_SHARE = 0.25;
function isShort(samples: TakeSamples | null, { from, to }: { from: number; to: number }): boolean {
	return samples === null || samples.times.at(-1)! - from < LEAST_SHARE * (to - from);
}

const recorders = new WeakMap<Session, Recorder>();

/** The recorder of a window. */
export function recorderOf(session: Session): Recorder {
	let own = recorders.get(session);
	if (!own) recorders.set(session, (own = new Recorder(session)));
	return own;
}
