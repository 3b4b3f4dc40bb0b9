/** The take that is looked at and cleaned: what it says raw, what its settings make of it, live while they change. */
import { toast } from 'svelte-sonner';
import type { Cleaning, Take } from '$core/document/takes';
import { channelId } from '$core/document/types';
import type { CleanedColumn, TakeCleaner } from '$core/takes/clean';
import { putTake } from '$core/takes/put-take';
import type { Drag } from '$lib/session/project.svelte';
import type { Session } from '$lib/session/session.svelte';

/** What was recorded of one channel, before it was cleaned: rising ticks, and values with NaN in its gaps. */
export interface RawColumn {
	times: Uint32Array;
	values: Float32Array;
}

export class TakeWork {
	private openId = $state<string | null>(null);
	cleaner = $state.raw<TakeCleaner | null>(null);
	/** What its columns came to. */
	cleaned = $state.raw<readonly CleanedColumn[]>([]);
	/** Why the samples cannot be shown; null where they can. */
	failed = $state<string | null>(null);
	/** Settings while they are dragged. */
	private draft = $state.raw<Cleaning | null>(null);
	private drag: Drag | null = null;

	constructor(private readonly session: Session) {}

	/** The open take, while it is there and belongs to the open clip. */
	readonly take: Take | null = $derived.by(() => {
		const take = this.openId === null ? undefined : this.session.doc.takes[this.openId];
		return take && take.clip === this.session.clipId ? take : null;
	});

	get cleaning(): Cleaning | null {
		return this.draft ?? this.take?.cleaning ?? null;
	}

	/** What was recorded of each channel. */
	readonly raw: ReadonlyMap<string, RawColumn> = $derived.by(() => {
		const { take, cleaner } = this;
		if (!take || !cleaner) return new Map();
		const { times, columns } = cleaner.samples;
		return new Map(
			take.columns.map(({ part, property, component }, i) => [
				channelId(take.clip, part, property, component),
				{ times, values: columns[i] },
			]),
		);
	});

	async open(id: string): Promise<void> {
		this.close();
		const take = this.session.doc.takes[id];
		if (!take) return;
		this.openId = id;
		this.failed = null;
		try {
			const { cleanerOf } = await import('./takes');
			const cleaner = await cleanerOf(this.session.project.id, take.asset);
			// Another may have been opened meanwhile.
			if (this.openId !== id) return;
			this.cleaner = cleaner;
			this.cleaned = cleaner.clean(take.cleaning);
		} catch (error) {
			if (this.openId === id) this.failed = error instanceof Error ? error.message : String(error);
		}
	}

	close(): void {
		this.drag?.cancel();
		this.drag = null;
		this.draft = null;
		this.openId = null;
		this.cleaner = null;
		this.cleaned = [];
	}

	/** The settings follow the document: undo, and other windows. */
	follow(): void {
		const { take, cleaner } = this;
		if (take && cleaner && !this.drag) this.cleaned = cleaner.clean(take.cleaning);
	}

	/** Shows what other settings make of it. */
	preview(change: Partial<Cleaning>): void {
		const { take, cleaner, cleaning } = this;
		if (!take || !cleaner || !cleaning) return;
		this.drag ??= this.session.startDrag('Clean a take');
		const next = { ...cleaning, ...change };
		const cleaned = cleaner.clean(next);
		this.draft = next;
		this.cleaned = cleaned;
		this.drag.update((doc) => {
			const own = doc.takes[take.id];
			if (!own || !doc.clips[own.clip]) return doc;
			return putTake(doc, { ...own, cleaning: next }, cleaned).doc;
		});
	}

	/** What is shown stays: one step of undo. */
	commit(change: Partial<Cleaning> = {}): void {
		this.preview(change);
		const { drag } = this;
		this.drag = null;
		this.draft = null;
		drag?.commit();
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
