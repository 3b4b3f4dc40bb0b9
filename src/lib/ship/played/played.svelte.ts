/** A written file that is played in step with the project that it was made from. */
import { compileClip, type CompiledClip } from '$core/clip/compile';
import type { Clip, Doc } from '$core/document/types';
import type { Choices } from '$core/tracks/ship';
import { addresses, type Exported } from '$lib/api/client';
import { Transport } from '$lib/session/transport.svelte';
import { hangsOn, movingRoots } from '$lib/stage/twins';
import { evaluateRound } from '$player/motion';
import { closestEuler, toEuler, type Quaternion } from '$player/maths/quaternion';
import type { Vec3 } from '$player/maths/vector';
import { TICKS_PER_SECOND } from '$player/time';
import { errorOf, exaggerate } from './difference';
import { openFile, type ReadClip, type ReadFile } from './reader';

/** A path of a clip, as the rows of the table are. */
export interface PlayedPath {
	clip: string;
	part: string;
	path: string;
}

/** How often a chart looks at a path. */
const CHART_LOOKS = 480;

export class Played {
	readonly doc: Doc;
	readonly clips: readonly Clip[];
	clipId = $state('');
	readonly transport: Transport;
	private file = $state.raw<ReadFile | null>(null);
	private readonly compiled: ReadonlyMap<string, CompiledClip>;
	private readonly read = new Map<string, ReadClip>();
	/** Why it is not played. */
	problem = $state('');
	/** How many times the difference is drawn. */
	factor = $state(1);
	isBeside = $state(false);

	constructor(
		doc: Doc,
		result: Exported,
		format: string,
		private readonly choices: Choices,
	) {
		this.doc = doc;
		this.clips = result.clips.map(({ clip }) => doc.clips[clip]);
		this.clipId = this.clips[0]?.id ?? '';
		const tracks = result.clips.flatMap((own) => own.tracks);
		this.bounds = new Map(tracks.map(({ id, bound }) => [id.split('/').slice(0, 3).join('/'), bound]));
		this.compiled = new Map(this.clips.map((clip) => [clip.id, compileClip(doc, clip)]));
		this.transport = new Transport(
			() => this.clip,
			() => doc.project.frameRate,
		);
		void this.open(addresses.exported(result.id), format);
	}

	private isClosed = false;
	private async open(address: string, format: string): Promise<void> {
		try {
			const answer = await fetch(address);
			if (!answer.ok) throw new Error(`the server answered ${answer.status}`);
			const file = await openFile(
				format,
				await answer.arrayBuffer(),
				this.doc,
				[...this.compiled.values()],
				this.choices,
			);
			if (this.isClosed) file.close();
			else this.file = file;
		} catch (error) {
			this.problem = error instanceof Error ? error.message : String(error);
		}
	}

	get clip(): Clip | null {
		return this.clips.find(({ id }) => id === this.clipId) ?? null;
	}

	get current(): CompiledClip | null {
		return this.compiled.get(this.clipId) ?? null;
	}

	/** Who reads the file; null before it is open. */
	get readBy(): string | null {
		return this.file?.readBy ?? null;
	}

	/** What of the open clip the reader does not read, in words; empty where it reads all. */
	readonly skipped: string = $derived.by(() => {
		const skips = this.file?.skips ?? [];
		const paths = this.current?.layout.targets.map(({ path }) => path) ?? [];
		return skips.filter((own) => paths.includes(own)).join(', ');
	});

	choose(clip: string): void {
		if (this.clipId === clip) return;
		const { playing } = this.transport;
		this.transport.stop();
		this.clipId = clip;
		this.transport.seek(0);
		if (playing) this.transport.play(true);
	}

	private readOf(compiled: CompiledClip): ReadClip | null {
		const { id } = compiled.clip;
		if (!this.file) return null;
		let own = this.read.get(id);
		if (!own) this.read.set(id, (own = this.file.clipOf(compiled)));
		return own;
	}

	/** What the project shows at a time in ticks. */
	meantAt(compiled: CompiledClip, t: number): Float64Array {
		const pose = compiled.layout.rest.slice();
		evaluateRound(compiled, t, 0, pose);
		return pose;
	}

	/** What the file shows, the rest as the project has it. */
	readAt(compiled: CompiledClip, t: number): Float64Array | null {
		const own = this.readOf(compiled);
		if (!own) return null;
		const pose = this.meantAt(compiled, t);
		own.read(t / TICKS_PER_SECOND, pose);
		return pose;
	}

	/** How far each path may be off, by its clip, part and path. */
	private readonly bounds: ReadonlyMap<string, number>;

	/** How far each path is off now, as a share of its bound. */
	private readonly shares = $derived.by(() => {
		const { current, now } = this;
		if (!current || !now) return null;
		return current.layout.targets.flatMap((target) => {
			const { part, path, kind } = target;
			const bound = this.bounds.get(`${current.clip.id}/${part}/${path}`);
			if (bound === undefined || kind === 'switch') return [];
			return [{ part, path, share: errorOf(target, now.meant, now.read) / bound }];
		});
	});

	/** What is farthest off now; null before the file is read. */
	readonly farthest = $derived.by(() => {
		if (!this.shares?.length) return null;
		const worst = this.shares.reduce((a, b) => (b.share > a.share ? b : a));
		return { ...worst, part: this.doc.parts[worst.part].name };
	});

	/** Parts, with their children, that are drawn elsewhere than the project has them by more than a bound. */
	readonly apart = $derived.by(() => {
		const { current, shares, factor } = this;
		if (!current || !shares) return [];
		const off = new Set(shares.flatMap(({ part, share }) => (share * factor > 1 ? [part] : [])));
		return movingRoots(current).filter((root) => [...off].some((part) => hangsOn(current, part, root)));
	});

	/** The picture now: what is meant, what was read, and that as it is drawn. */
	readonly now = $derived.by(() => {
		const { current, transport, factor } = this;
		if (!current) return null;
		const t = transport.local;
		const [meant, read] = [this.meantAt(current, t), this.readAt(current, t)];
		if (!read) return null;
		const drawn = read.slice();
		exaggerate(current.layout, meant, read, factor, drawn);
		return { meant, read, drawn };
	});

	/** A path over its clip, as it is meant and as it is read, how far off it is, and where the file has keys. */
	chartOf({ clip, part, path }: PlayedPath) {
		const compiled = this.compiled.get(clip);
		const own = compiled && this.readOf(compiled);
		const find = (wanted: string) =>
			compiled?.layout.targets.find((target) => target.part === part && target.path === wanted);
		// A scale that is none of the clip's is there for what hides the part.
		const target = find(path) ?? (path === 'scale' ? find('visible') : undefined);
		if (!compiled || !own || !target) return null;
		const { length } = compiled.clip;
		const keys = own.keysOf(part, path).filter((at) => at >= 0);
		const grid = Array.from(
			{ length: CHART_LOOKS + 1 },
			(_, i) => (length * i) / CHART_LOOKS / TICKS_PER_SECOND,
		);
		const times = [...new Set([...grid, ...keys])].sort((a, b) => a - b);
		const { eulerOrder, rest } = this.doc.parts[part];
		const anglesOf = (turn: readonly number[], near: Vec3): Vec3 =>
			closestEuler(toEuler(turn as Quaternion, eulerOrder), near, eulerOrder);
		let [before, beside] = [rest.rotation, rest.rotation];
		const rows = times.map((seconds) => {
			const t = Math.min(length, seconds * TICKS_PER_SECOND);
			const meant = this.meantAt(compiled, t);
			const read = meant.slice();
			own.read(seconds, read);
			const error = errorOf(target, meant, read);
			const [a, b] = [meant, read].map((pose) =>
				Array.from(pose.subarray(target.at, target.at + target.size)),
			);
			if (target.kind !== 'rotation') return { seconds, meant: a, read: b, error };
			// Turns are looked at as angles, which go on from those before them.
			before = anglesOf(a, before);
			beside = anglesOf(b, before);
			return { seconds, meant: [...before], read: [...beside], error };
		});
		return { target, rows, keys };
	}

	close(): void {
		this.isClosed = true;
		this.transport.stop();
		this.file?.close();
	}
}
