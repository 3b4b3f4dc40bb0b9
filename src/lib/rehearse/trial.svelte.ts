/** What is tried: the player that ships, on the clip file of the project as it is now, with its clock, its log and its charts. */
import { wrap, type Remote } from 'comlink';
import type { Posed } from '$core/clip/layout';
import type { RehearsalInput } from '$core/document/rehearsals';
import type { Outcome } from '$core/rehearse/run';
import { OWN_NAMES, tellDeed, tellMoment } from '$core/document/trigger-words';
import type { Doc } from '$core/document/types';
import { makeLayout } from '$player/layout';
import { Player } from '$player/player';
import type { Moment as TriggerMoment } from '$player/triggers';
import { cancelFrame, nextTick } from '$lib/ui/frames';
import type { Clips, MadeClips } from '$lib/workers/clips.worker';
import { Mirrored } from '$lib/workers/mirror';
import { BlendLoop, type Loop } from './blend-loop';
import { FramePace, type Pace } from './frame-pace';
import { firstMoving, inputOf, playingIn, readMade, type Done, type Made } from './made';
import { History } from './history';

export type LogKind = 'cue' | 'trigger' | 'message' | 'end' | 'input';
export interface LogEntry {
	id: number;
	/** Seconds. */
	t: number;
	kind: LogKind;
	text: string;
	/** JSON; empty where there is nothing to tell. */
	payload: string;
}
const MOST_ENTRIES = 500;
/** Milliseconds after an edit before the file is made anew. */
const QUIET = 120;
/** A frame that took longer than this, in seconds: the page was away. */
const AWAY = 1;

/** What is recorded, or what is done again. */
interface Tape {
	inputs: readonly RehearsalInput[];
	/** The input that comes next, when it is done again. */
	next: number;
	seconds: number;
}

export class Trial {
	/** The file that plays; null until it is made, or where there is no clip. */
	made = $state.raw<Made | null>(null);
	problem = $state<string | null>(null);
	isRunning = $state(true);
	speed = $state(1);
	pace = $state<Pace>('screen');
	/** Counts pictures, since the player writes into one pose. */
	picture = $state(0);
	log = $state.raw<readonly LogEntry[]>([]);
	values = $state.raw<Readonly<Record<string, number>>>({});
	/** The number that is charted: part and path in the file, and which of its numbers. */
	charted = $state.raw<{ part: string; path: string; component: number } | null>(null);
	/** A blend that plays over and over instead of what triggers do. */
	loop = $state.raw<BlendLoop | null>(null);
	readonly history = new History();
	/** What has been done since recording began; null where nothing is recorded. */
	recorded = $state.raw<readonly RehearsalInput[] | null>(null);
	/** What is done again; null where nothing is. */
	replayed = $state.raw<Tape | null>(null);

	private player: Player | null = null;
	private worker: Worker | null = null;
	private mirrored: Mirrored<Remote<Clips>> | null = null;
	private timer: ReturnType<typeof setTimeout> | undefined;
	private turn = 0;
	private count = 0;
	private lastTime = 0;
	private readonly frames = new FramePace();

	/** What is shown: the player's pose, by the ids of the document. */
	readonly posed: Posed | null = $derived.by(() => {
		void this.picture;
		const { made, layout } = this;
		const player = this.loop?.player ?? this.player;
		return made && layout && player ? { layout, pose: player.pose } : null;
	});
	/** The layout of the file with the ids of parts: places are the same. */
	private readonly layout = $derived.by(() => {
		const { made } = this;
		if (!made) return null;
		const { layout, parts } = made.set;
		const ids = new Map(parts.map(({ name }, i) => [name, made.parts[i]]));
		return makeLayout(
			layout.targets.map(({ part, path, kind, at, size }) => ({
				part: ids.get(part)!,
				path,
				kind,
				rest: layout.rest.subarray(at, at + size),
			})),
		);
	});

	/** Seconds of play. */
	get time(): number {
		void this.picture;
		return this.player?.time ?? 0;
	}

	get playing(): readonly { place: string; clip: string; weight: number }[] {
		void this.picture;
		return this.player ? playingIn(this.player, this.made?.set) : [];
	}

	/** Makes the file of a document soon. */
	makeSoon(doc: Doc): void {
		clearTimeout(this.timer);
		this.timer = setTimeout(() => void this.make(doc), this.made ? QUIET : 0);
	}

	private async make(doc: Doc): Promise<void> {
		const turn = ++this.turn;
		if (!this.mirrored) {
			this.worker = new Worker(new URL('../workers/clips.worker.ts', import.meta.url), { type: 'module' });
			this.mirrored = new Mirrored(wrap<Clips>(this.worker));
		}
		try {
			const made = await this.mirrored.ask(doc, (remote, change) => remote.make(change));
			if (turn === this.turn && made) this.take(made);
		} catch (error) {
			if (turn === this.turn) this.problem = error instanceof Error ? error.message : String(error);
		}
	}

	private take(made: MadeClips): void {
		this.problem = null;
		if (made.text === '') {
			this.made = this.player = null;
			return;
		}
		const isFirst = this.made === null;
		this.made = readMade(made);
		const { set } = this.made;
		this.charted ??= firstMoving(set);
		if (this.player && !isFirst) {
			this.player.exchange(set);
			const { loop } = this;
			const isWhole = loop && [loop.pair.from, loop.pair.to].every((clip) => set.clips.has(clip));
			if (isWhole) loop.exchange(set);
			else this.loop = null;
			this.picture++;
		} else this.restart();
	}

	/** Begins anew: what starts by itself starts. A recording or a replay is given up. */
	restart(): void {
		const { made } = this;
		if (!made) return;
		this.recorded = this.replayed = this.loop = null;
		const player: Player = new Player(made.set, {
			oncue: ({ clip, cue, layer }) => {
				this.history.mark({ t: player.time, kind: 'cue', text: cue.name });
				this.tell(player.time, 'cue', `${clip.name}${inLayer(layer)}: ${cue.name}`, cue.payload);
			},
			onend: ({ clip, layer }) => this.tell(player.time, 'end', `${clip.name}${inLayer(layer)} ends`),
			onmessage: ({ name, payload }) => this.tell(player.time, 'message', name, payload),
			ontrigger: ({ when, then }) =>
				this.tell(player.time, 'trigger', `${tellMoment(OWN_NAMES, when)} → ${tellDeed(OWN_NAMES, then)}`),
		});
		this.player = player;
		this.log = [];
		this.history.clear();
		for (const [name, value] of Object.entries(this.values)) player.set(name, value);
		player.start();
		player.advance(0);
		this.noteMoment();
		this.picture++;
		this.run();
	}

	/** What a person does: a tap, a key, a call. Told even where nothing is bound to it. */
	send(moment: TriggerMoment): boolean {
		const { player } = this;
		if (!player) return false;
		this.tell(player.time, 'input', tellMoment(OWN_NAMES, moment));
		this.record(moment);
		const isBound = player.send(moment);
		this.shown();
		return isBound;
	}

	/** Plays a clip on the ground, as code would. */
	play(clip: string): void {
		const { player } = this;
		if (!player) return;
		this.loop = null;
		this.tell(player.time, 'input', `play ${clip}`);
		player.play({ clip });
		this.shown();
	}

	/** Whether a tap on a part, or on a parent of it, does anything. */
	isBound(kind: 'tap' | 'enter' | 'leave', part: string): boolean {
		const { triggers = [], parts } = this.made?.set ?? { parts: [] };
		for (let own = parts.find(({ name }) => name === part); own; own = parts[own.parent ?? -1])
			if (triggers.some(({ when }) => when.kind === kind && when.part === own!.name)) return true;
		return false;
	}

	set(parameter: string, value: number): void {
		this.values = { ...this.values, [parameter]: value };
		this.player?.set(parameter, value);
		this.record({ kind: 'set', name: parameter, value });
		this.shown();
	}

	/** Begins anew, and keeps what is done from now on. Parameters begin at 0. */
	startRecording(): void {
		this.values = {};
		this.restart();
		this.recorded = [];
		this.isRunning = true;
		this.run();
	}

	/** Ends recording; null where nothing was recorded. */
	stopRecording(): { inputs: readonly RehearsalInput[]; seconds: number } | null {
		const { recorded } = this;
		this.recorded = null;
		return recorded && { inputs: recorded, seconds: Math.max(0.1, round(this.time)) };
	}

	/** Begins anew, and does what was recorded at its times. */
	replay({ inputs, seconds }: Pick<Tape, 'inputs' | 'seconds'>): void {
		this.values = {};
		this.restart();
		this.replayed = { inputs, seconds, next: 0 };
		this.isRunning = true;
		this.run();
	}

	/** What a rehearsal comes to, without a screen. */
	async outcomeOf(doc: Doc, rehearsal: string): Promise<Outcome | null> {
		return (await this.mirrored?.ask(doc, (remote, change) => remote.rehearse(change, rehearsal))) ?? null;
	}

	private record(moment: Done): void {
		const { recorded, made, player } = this;
		if (!recorded || !made || !player) return;
		const what = inputOf(moment, made);
		if (what) this.recorded = [...recorded, { t: round(player.time), what }];
	}

	toggle(): void {
		this.isRunning = !this.isRunning;
		this.run();
	}

	/** One frame of a machine with so many a second. */
	step(frameRate: number): void {
		this.isRunning = false;
		this.advance(1 / frameRate);
	}

	/** Plays a blend over and over; null goes back to what triggers do. */
	showLoop(loop: Loop | null): void {
		this.loop = loop && this.made && new BlendLoop(this.made.set, loop);
		this.run();
	}

	private run(): void {
		this.lastTime = performance.now();
		nextTick(this.tick);
	}

	private readonly tick = (time: number): void => {
		const seconds = Math.max(0, time - this.lastTime) / 1000;
		this.lastTime = time;
		if (!this.player || !this.isRunning) return;
		const due = this.frames.take(this.pace, seconds > AWAY ? 0 : seconds);
		if (due !== null) this.advance(due * this.speed);
		nextTick(this.tick);
	};

	private advance(seconds: number): void {
		if (this.loop) this.loop.advance(seconds);
		else {
			this.player?.advance(this.replayed ? this.redo(seconds) : seconds);
			this.noteMoment();
		}
		this.picture++;
	}

	/** Does what is due within some seconds again, and gives what is left of them then. */
	private redo(seconds: number): number {
		const { player, replayed, made } = this;
		if (!player || !replayed || !made) return seconds;
		let left = seconds;
		for (; replayed.next < replayed.inputs.length; replayed.next++) {
			const { t, what } = replayed.inputs[replayed.next];
			if (t > player.time + left) break;
			const wait = Math.max(0, t - player.time);
			player.advance(wait);
			left -= wait;
			if (what.kind === 'set') this.set(what.name, what.value);
			else this.send('part' in what ? { ...what, part: made.names.parts.get(what.part) ?? '' } : what);
		}
		// It stands where the recording ended.
		const rest = replayed.seconds - player.time;
		if (left >= rest) {
			left = Math.max(0, rest);
			this.isRunning = false;
			this.replayed = null;
		}
		return left;
	}

	/** What was done shows at once, also while it stands. */
	private shown(): void {
		if (this.isRunning) return;
		this.player?.advance(0);
		this.picture++;
	}

	private noteMoment(): void {
		const { player, made, charted } = this;
		if (!player || !made) return;
		const weights = new Map<string, number>();
		for (const { place, clip, weight } of playingIn(player, made.set))
			weights.set(place === '' ? clip : `${place}: ${clip}`, weight);
		const at = charted ? (made.set.layout.places.get(charted.part)?.get(charted.path) ?? -1) : -1;
		const value = charted && at >= 0 ? player.pose[at + charted.component] : null;
		this.history.note({ t: player.time, weights, value });
	}

	private tell(t: number, kind: LogKind, text: string, payload: unknown = null): void {
		const entry = {
			id: this.count++,
			t,
			kind,
			text,
			payload: payload === null ? '' : JSON.stringify(payload),
		};
		this.log = [...this.log.slice(-MOST_ENTRIES + 1), entry];
	}

	destroy(): void {
		clearTimeout(this.timer);
		this.turn++;
		this.player = null;
		cancelFrame(this.tick);
		this.worker?.terminate();
	}
}

const inLayer = (layer: string) => (layer === '' ? '' : ` in ${layer}`);

/** Times are kept to a tenth of a millisecond. */
const round = (seconds: number) => Math.round(1e4 * seconds) / 1e4;
