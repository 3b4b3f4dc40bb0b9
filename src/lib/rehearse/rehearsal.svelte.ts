/** What is tried: the player that ships, on the clip file of the project as it is now, with its clock, its log and its charts. */
import { wrap, type Remote } from 'comlink';
import type { Posed } from '$core/clip/layout';
import { OWN_NAMES, tellDeed, tellMoment } from '$core/document/trigger-words';
import type { Doc } from '$core/document/types';
import { readClips, type ReadClips } from '$player/file/read';
import { makeLayout } from '$player/layout';
import { Player, type BlendSpec } from '$player/player';
import type { Moment as TriggerMoment } from '$player/triggers';
import { cancelFrame, nextTick } from '$lib/ui/frames';
import type { Clips, MadeClips } from '$lib/workers/clips.worker';
import { Mirrored } from '$lib/workers/mirror';
import { FramePace, type Pace } from './frame-pace';
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

/** A file that plays, with the names in it by the document's ids. */
export interface Made extends MadeClips {
	set: ReadClips;
	bytes: number;
	names: { clips: ReadonlyMap<string, string>; parts: ReadonlyMap<string, string> };
}

/** The pair of clips of a blend that plays over and over. */
export interface Loop {
	from: string;
	to: string;
	/** Where the one that goes is left, as a share of its round. */
	phase: number;
}
/** Seconds before the switch and after the blend that are shown. */
const BEFORE = 0.6;
const AFTER = 0.9;

export class Rehearsal {
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
	loop = $state.raw<Loop | null>(null);
	readonly history = new History();

	private player: Player | null = null;
	private loopPlayer: Player | null = null;
	private worker: Worker | null = null;
	private mirrored: Mirrored<Remote<Clips>> | null = null;
	private timer: ReturnType<typeof setTimeout> | undefined;
	private turn = 0;
	private count = 0;
	private lastTime = 0;
	private readonly frames = new FramePace();
	/** Seconds since the loop's round began. */
	private loopAge = 0;

	/** What is shown: the player's pose, by the ids of the document. */
	readonly posed: Posed | null = $derived.by(() => {
		void this.picture;
		const { made, layout } = this;
		const player = this.loop ? this.loopPlayer : this.player;
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
		const set = readClips(JSON.parse(made.text));
		const isFirst = this.made === null;
		const names = [...set.clips.keys()];
		this.made = {
			...made,
			set,
			bytes: made.text.length,
			names: {
				clips: new Map(made.clips.map((id, i) => [id, names[i]])),
				parts: new Map(made.parts.map((id, i) => [id, set.parts[i].name])),
			},
		};
		this.charted ??= firstMoving(set);
		if (this.player && !isFirst) {
			this.player.exchange(set);
			this.loopPlayer?.exchange(set);
			this.picture++;
		} else this.restart();
	}

	/** Begins anew: what starts by itself starts. */
	restart(): void {
		const { made } = this;
		if (!made) return;
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
		const isBound = player.send(moment);
		this.shown();
		return isBound;
	}

	/** Whether a tap on a part, or on what it hangs on, does anything. */
	isBound(kind: 'tap' | 'enter' | 'leave', part: string): boolean {
		const { triggers = [], parts } = this.made?.set ?? { parts: [] };
		for (let own = parts.find(({ name }) => name === part); own; own = parts[own.parent ?? -1])
			if (triggers.some(({ when }) => when.kind === kind && when.part === own!.name)) return true;
		return false;
	}

	set(parameter: string, value: number): void {
		this.values = { ...this.values, [parameter]: value };
		this.player?.set(parameter, value);
		this.shown();
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
		this.loop = loop;
		this.loopPlayer = loop && this.made ? new Player(this.made.set) : null;
		this.loopAge = Infinity;
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
		if (this.loop) this.advanceLoop(seconds);
		else {
			this.player?.advance(seconds);
			this.noteMoment();
		}
		this.picture++;
	}

	private advanceLoop(seconds: number): void {
		const { loop, loopPlayer, made } = this;
		if (!loop || !loopPlayer || !made) return;
		const length = (made.set.clips.get(loop.from)?.motion.length ?? 0) / 72_000;
		const blend: BlendSpec = made.set.blendOf?.(loop.from, loop.to) ?? { kind: 'cut', seconds: 0 };
		const whole = BEFORE + blend.seconds + AFTER;
		const before = this.loopAge;
		this.loopAge += seconds;
		if (before < BEFORE && this.loopAge >= BEFORE) {
			loopPlayer.advance(BEFORE - before);
			loopPlayer.play({ clip: loop.to });
			loopPlayer.advance(this.loopAge - BEFORE);
		} else if (this.loopAge > whole) {
			loopPlayer.play({ clip: loop.from, blend: { kind: 'cut', seconds: 0 } });
			loopPlayer.seek(Math.max(0, loop.phase * length - BEFORE));
			this.loopAge = 0;
		} else loopPlayer.advance(seconds);
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

/** What plays on the ground and in the layers, by their names. */
function playingIn(
	player: Player,
	set: ReadClips | undefined,
): { place: string; clip: string; weight: number }[] {
	const places = [
		{ place: '', at: player as Pick<Player, 'playing'>, share: 1 },
		...(set?.layers ?? []).map(({ name }) => {
			const layer = player.layer(name);
			return { place: name, at: layer, share: layer.weight };
		}),
	];
	return places.flatMap(({ place, at, share }) =>
		at.playing.map(({ clip, weight }) => ({ place, clip: clip.name, weight: weight * share })),
	);
}

/** Something to look at: the first number that moves. */
function firstMoving({ layout }: ReadClips) {
	const { targets } = layout;
	const target =
		targets.find(({ path }) => path === 'translation') ?? targets.find(({ kind }) => kind === 'number');
	return target ? { part: target.part, path: target.path, component: Math.min(1, target.size - 1) } : null;
}
