/** The take that is looked at and cleaned: what it says raw, what its settings make of it, live while they change. */
import equal from 'fast-deep-equal';
import { toast } from 'svelte-sonner';
import type { Cleaning, Take } from '$core/document/takes';
import { channelId } from '$core/document/types';
import { COUNTED_TOLERANCES, type KeyCount } from '$core/takes/key-counts';
import { groupsIn } from '$core/takes/clean';
import { putTake } from '$core/takes/put-take';
import type { Drag } from '$lib/session/project.svelte';
import type { Session } from '$lib/session/session.svelte';
import type { CleanedKeys, WorkedSamples } from '$lib/workers/takes';

/** What was recorded of one channel, before it was cleaned: rising ticks, and values with NaN in its gaps. */
export interface RawColumn {
	times: Uint32Array;
	values: Float32Array;
}

/** Keys are counted at other tolerances on so many samples: a chart is not worth more. */
const MOST_COUNTED = 40_000;

function rawOf(take: Take | null, samples: WorkedSamples | null): ReadonlyMap<string, RawColumn> {
	if (!take || !samples) return new Map();
	const { times, columns } = samples.samples;
	return new Map(
		take.columns.flatMap(({ part, property, component, index }, i) =>
			index === undefined
				? [[channelId(take.clip, part, property, component), { times, values: columns[i] }] as const]
				: [],
		),
	);
}

export class TakeWork {
	private openId = $state<string | null>(null);
	samples = $state.raw<WorkedSamples | null>(null);
	/** What its columns came to. */
	cleaned = $state.raw<readonly CleanedKeys[]>([]);
	/** Columns that are cleaned so far, while that goes on. */
	done = $state<number | null>(null);
	/** Keys at other tolerances, as many as have been counted. */
	counts = $state.raw<readonly KeyCount[]>([]);
	/** Why the samples cannot be shown; null where they can. */
	failed = $state<string | null>(null);
	/** What `raw` was made of last. */
	private known = {
		take: null as Take | null,
		samples: null as WorkedSamples | null,
		raw: rawOf(null, null),
	};
	/** Settings while they are dragged. */
	private draft = $state.raw<Cleaning | null>(null);
	private drag: Drag | null = null;
	/** Settings that `cleaned` was made with. */
	private cleanedWith: Cleaning | null = null;
	/** What is cleaned for an earlier turn is not wanted any more. */
	private turn = 0;
	private countTurn = 0;

	constructor(private readonly session: Session) {}

	/** The open take, while it is there and belongs to the open clip. */
	get take(): Take | null {
		const take = this.openId === null ? undefined : this.session.doc.takes[this.openId];
		return take && take.clip === this.session.clipId ? take : null;
	}

	get cleaning(): Cleaning | null {
		return this.draft ?? this.take?.cleaning ?? null;
	}

	/** What was recorded of each channel. Nothing here is derived: it outlives whichever part of the page asks for it first. */
	get raw(): ReadonlyMap<string, RawColumn> {
		const { take, samples, known } = this;
		if (known.take === take && known.samples === samples) return known.raw;
		this.known = { take, samples, raw: rawOf(take, samples) };
		return this.known.raw;
	}

	async open(id: string): Promise<void> {
		this.close();
		const take = this.session.doc.takes[id];
		if (!take) return;
		this.openId = id;
		this.failed = null;
		try {
			const { samplesOf } = await import('./takes');
			const samples = await samplesOf(this.session.project.id, take.asset);
			// Another may have been opened meanwhile.
			if (this.openId !== id) return;
			this.samples = samples;
			await this.cleanAgain(take.cleaning);
		} catch (error) {
			if (this.openId === id) this.failed = error instanceof Error ? error.message : String(error);
		}
	}

	close(): void {
		this.giveUp();
		this.openId = null;
		this.samples = null;
		this.cleaned = [];
		this.cleanedWith = null;
		this.counts = [];
		this.done = null;
		this.turn++;
		this.countTurn++;
	}

	/** What settings make of the open take; null where others were asked for meanwhile. */
	private async cleanAgain(cleaning: Cleaning): Promise<readonly CleanedKeys[] | null> {
		const turn = ++this.turn;
		const isWanted = () => turn === this.turn;
		this.done = 0;
		const { take, samples, session } = this;
		if (!take || !samples) return null;
		samples.cleanTogether(groupsIn(session.doc, take));
		const made = await samples.cleanAll(cleaning, isWanted, (columns) => (this.done = columns));
		if (!made || !isWanted()) return null;
		this.done = null;
		this.cleanedWith = cleaning;
		return (this.cleaned = made);
	}

	/** Ends the cleaning that goes on; what it had come to so far is not kept. */
	stop(): void {
		this.turn++;
		this.countTurn++;
		this.done = null;
		this.giveUp();
	}

	/** Takes away what was only shown. */
	private giveUp(): void {
		this.drag?.cancel();
		this.drag = null;
		this.draft = null;
	}

	/** The settings follow the document: undo, and other windows. */
	follow(): void {
		this.letGo();
		const { take, samples } = this;
		if (!take || !samples || this.drag || equal(this.cleanedWith, take.cleaning)) return;
		void this.cleanAgain(take.cleaning);
	}

	/** Any other edit has taken away what was only shown. */
	private letGo(): void {
		if (this.drag === null || this.session.project.isDragging) return;
		this.drag = null;
		this.draft = null;
	}

	/** Shows what other settings make of it; whether they are still the ones that are wanted. */
	async preview(change: Partial<Cleaning>): Promise<boolean> {
		this.letGo();
		const { take, samples, cleaning } = this;
		if (!take || !samples || !cleaning) return false;
		const next = { ...cleaning, ...change };
		this.draft = next;
		this.drag ??= this.session.startDrag('Clean a take');
		const { drag } = this;
		const cleaned = await this.cleanAgain(next);
		if (!cleaned || this.drag !== drag) return false;
		drag.update((doc) => {
			const own = doc.takes[take.id];
			return own && doc.clips[own.clip] ? putTake(doc, { ...own, cleaning: next }, cleaned).doc : doc;
		});
		return true;
	}

	/** What is shown stays: one step of undo. */
	async commit(change: Partial<Cleaning> = {}): Promise<void> {
		if (!(await this.preview(change))) return;
		const { drag } = this;
		this.drag = null;
		this.draft = null;
		drag?.commit();
	}

	/** Counts keys at other tolerances, one after the other, until other settings are asked for. */
	async count(cleaning: Cleaning): Promise<void> {
		const turn = ++this.countTurn;
		const { samples } = this;
		if (!samples) return;
		const length = samples.samples.times.length;
		const width = Math.min(samples.width, Math.max(1, Math.floor(MOST_COUNTED / length)));
		const counts: KeyCount[] = [];
		for (const tolerance of COUNTED_TOLERANCES) {
			let keys = 0;
			for (let i = 0; i < width; i++) {
				keys += (await samples.clean(i, { ...cleaning, tolerance })).figures.keys;
				if (turn !== this.countTurn) return;
			}
			counts.push({ tolerance, keys });
		}
		this.counts = counts;
	}

	/** Puts the keys of the open take again, as its settings make them. */
	putAgain(): void {
		const { take, cleaned, session } = this;
		if (!take || cleaned.length === 0) return;
		let leftOut = 0;
		session.edit(`Put ${take.name}`, (doc) => {
			const put = putTake(doc, take, cleaned);
			leftOut = put.leftOut.length;
			return put.doc;
		});
		const count = cleaned.reduce((all, { figures }) => all + figures.keys, 0);
		toast(`${take.name}: ${count} keys put`, {
			description: leftOut > 0 ? `${leftOut} of its columns could not be put.` : undefined,
		});
	}
}

const works = new WeakMap<Session, TakeWork>();

/** What is done with takes in a window. */
export function takeWorkOf(session: Session): TakeWork {
	let own = works.get(session);
	if (!own) works.set(session, (own = new TakeWork(session)));
	return own;
}
