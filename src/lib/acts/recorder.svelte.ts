/** Acting a motion live: what a device says is recorded over the open clip while it plays. */
import { toast } from 'svelte-sonner';
import { curveOf } from '$core/clip/compile';
import { channelLabel } from '$core/document/labels';
import { restValue } from '$core/document/rest';
import { isAngle, isLength } from '$core/document/units';
import { channelId, type Clip, type Doc } from '$core/document/types';
import type { TakeColumn } from '$core/document/takes';
import { limitsOf, whyNotRecorded, withStretch } from '$core/takes/put-take';
import { roughKeys } from '$core/takes/rough-keys';
import type { TakeSamples } from '$core/takes/samples-file';
import { frameToTicks } from '$core/time';
import type { Drag } from '$lib/session/project.svelte';
import type { Session } from '$lib/session/session.svelte';
import { soundClick } from '$lib/ui/click-sound';
import { cancelFrame, nextTick } from '$lib/ui/frames';
import { keep, readKept } from '$lib/ui/kept';
import { evaluateCurve } from '$player/curve/evaluate';
import { TICKS_PER_SECOND } from '$player/time';
import { DeviceSamples } from './device-samples';
import { takeWorkOf } from './take-work.svelte';

export const DEVICES = ['pointer', 'stick', 'slider', 'keys', 'pad', 'microphone', 'sound'] as const;
export type Device = (typeof DEVICES)[number];
const SINGLE: ReadonlySet<Device> = new Set(['slider', 'microphone', 'sound']);

/** Where a device is, −1 to 1 on each axis, up and to the right positive. */
export interface DevicePlace {
	across: number;
	up: number;
}

type Axis = keyof DevicePlace;
const AXES: readonly Axis[] = ['across', 'up'];

/** How far full deflection goes at first, by what is driven. */
function reachFor({ doc }: Session, { part, property, component }: TakeColumn): number {
	const [low, high] = limitsOf(doc.parts[part], property, component);
	if (high - low < Infinity) return high - low;
	const isWorld = doc.project.space === 'world';
	// On a screen y runs down, and up is up.
	const sign = !isWorld && property === 'translation' && component === 'y' ? -1 : 1;
	if (isLength(property)) return sign * (isWorld ? 2 : 200);
	return isAngle(property) ? 90 : 1;
}

const LATENCY = 'record-latency';
const COUNT_MS = 1000;
const COUNT_HERTZ = 880;
/** Between two pictures a person sees nothing: what is shown has no more keys than that. */
const SHOWN_APART = TICKS_PER_SECOND / 60;
/** After so many it stops by itself: somebody has gone away. */
const MOST_ROUNDS = 50;

export class Recorder {
	/** What each axis of the device drives; null drives nothing. */
	drives = $state.raw<Record<Axis, TakeColumn | null>>({ across: null, up: null });
	/** How far a device goes at most, in the units of what it drives; null as much as fits. */
	reach = $state.raw<Record<Axis, number | null>>({ across: null, up: null });
	device = $state<Device>('pointer');
	/** Clip time for real time: at a quarter one acts slowly. */
	speed = $state(1);
	/** Seconds that are counted before it begins. */
	countIn = $state(2);
	/** What is there is replaced, or added to. */
	mode = $state<'replace' | 'add'>('replace');
	/** Only while the device is held. */
	onlyHeld = $state(false);
	/** Round after round until it is stopped. */
	goesRound = $state(false);

	phase = $state<'rest' | 'counting' | 'recording' | 'keeping'>('rest');
	/** What is still counted. */
	count = $state(0);
	/** Moments that the device has told. */
	told = $state(0);
	/** The round that is recorded, from 1 on. */
	round = $state(1);

	private samples: DeviceSamples | null = null;
	private drag: Drag | null = null;
	private columns: TakeColumn[] = [];
	private axes: Axis[] = [];
	private clip: Clip | null = null;
	private span = { from: 0, to: 0 };
	private before = { range: null as { from: number; to: number } | null, speed: 1, t: 0 };
	private began = 0;
	private last: readonly number[] | null = null;
	private timer: ReturnType<typeof setTimeout> | undefined;
	private sound: AudioContext | null = null;
	/** Asked once a frame where a device does not speak by itself. */
	poll: ((time: number) => void) | null = null;

	constructor(private readonly session: Session) {}

	/** Whether the device has one way only. */
	get isSingle(): boolean {
		return SINGLE.has(this.device);
	}

	/** What is driven by this device. */
	get driven(): Record<Axis, TakeColumn | null> {
		const { across, up } = this.chosen;
		return { across, up: this.isSingle ? null : up };
	}

	/** What was chosen for both ways, or where the selected part is. */
	get chosen(): Record<Axis, TakeColumn | null> {
		const { drives, session } = this;
		const isThere = (own: TakeColumn | null) => own !== null && session.doc.parts[own.part] !== undefined;
		if (AXES.some((axis) => isThere(drives[axis])))
			return {
				across: isThere(drives.across) ? drives.across : null,
				up: isThere(drives.up) ? drives.up : null,
			};
		const part = session.selection.partId;
		const of = (component: 'x' | 'y'): TakeColumn | null =>
			part === null ? null : { part, property: 'translation', component };
		return { across: of('x'), up: of('y') };
	}

	reachOf(axis: Axis): number {
		const column = this.driven[axis];
		return this.reach[axis] ?? (column ? reachFor(this.session, column) : 1);
	}

	/** Milliseconds by which what one sees and does comes late. */
	get latency(): number {
		const kept = readKept(LATENCY);
		return typeof kept === 'number' ? Math.min(500, Math.max(0, kept)) : 0;
	}
	set latency(ms: number) {
		keep(LATENCY, ms);
	}

	get isOn(): boolean {
		return this.phase === 'counting' || this.phase === 'recording';
	}

	/** Why nothing can be recorded now; null where it can. */
	get why(): string | null {
		const { session, driven } = this;
		if (!session.clip) return 'There is no clip to record into.';
		const columns = AXES.flatMap((axis) => driven[axis] ?? []);
		if (columns.length === 0) return 'Select a part to record, or choose what is driven.';
		for (const column of columns) {
			const why = whyNotRecorded(session.doc, session.clip.id, column);
			const part = session.doc.parts[column.part];
			if (why) return `${part?.name} ${channelLabel(column.property, column.component, part)}: ${why}.`;
		}
		const [a, b] = columns;
		if (b && a.part === b.part && a.property === b.property && a.component === b.component)
			return 'Both ways of the device drive the same number.';
		return null;
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
		this.span = transport.range ?? { from: at < clip.length ? at : 0, to: clip.length };
		if (this.span.to - this.span.from < frameToTicks(1, session.frameRate)) {
			toast.error('There is no time to record in', {
				description: 'Go to an earlier frame, or make the clip longer.',
			});
			return;
		}
		this.clip = clip;
		const { driven } = this;
		this.axes = AXES.filter((axis) => driven[axis]);
		this.columns = this.axes.map((axis) => driven[axis]!);
		this.last = null;
		this.told = 0;
		this.round = 1;
		transport.seek(this.span.from);
		this.count = this.countIn;
		this.phase = 'counting';
		this.tellCount();
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

	/** What a number is over the clip's time, before anything is recorded. */
	private baseOf(doc: Doc, clip: Clip, column: TakeColumn): (ticks: number) => number {
		const { part, property, component } = column;
		const channel = doc.channels[channelId(clip.id, part, property, component)];
		if (!channel) {
			const rest = restValue(doc.parts[part], property, component);
			return () => rest;
		}
		const curve = curveOf(channel, clip);
		return (ticks) => evaluateCurve(curve, ticks);
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
		transport.setRange(span.from, span.to);
		transport.seek(span.from);
		transport.play(true);
		this.began = transport.startedAt;
		const bases = this.columns.map((column) => this.baseOf(doc, clip, column));
		this.samples = new DeviceSamples(
			{ began: this.began, ...span, speed: this.speed },
			bases,
			this.mode === 'add',
		);
		if (this.last || this.onlyHeld) this.samples.feed(this.began, this.last);
		else if (!this.onlyHeld && this.device !== 'pointer')
			this.samples.feed(
				this.began,
				this.columns.map(() => 0),
			);
		this.phase = 'recording';
		nextTick(this.advance);
	}

	/** Where the device was at a time; null while it is not held and only that counts. */
	feed(time: number, place: DevicePlace | null): void {
		this.feedOffsets(
			time,
			place && { across: place.across * this.reachOf('across'), up: place.up * this.reachOf('up') },
		);
	}

	/** The same, in the units of what is driven. */
	feedOffsets(time: number, offsets: DevicePlace | null): void {
		if (!this.isOn) return;
		this.last = offsets && this.axes.map((axis) => offsets[axis]);
		if (this.phase !== 'recording' || !this.samples) return;
		this.samples.feed(time - this.latency, this.last);
		this.told = this.samples.count;
	}

	private readonly advance = (time: number): void => {
		const { samples, drag, session } = this;
		if (this.phase !== 'recording' || !samples || !drag) return;
		this.poll?.(time);
		const round = samples.roundAt(time);
		const isOver = !session.transport.playing || round >= (this.goesRound ? MOST_ROUNDS : 1);
		if (isOver) {
			void this.stop();
			return;
		}
		this.round = round + 1;
		const own = samples.samplesOf(round, time);
		if (own) drag.update((doc) => this.preview(doc, own));
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
		if (this.phase === 'counting') {
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
