/** A take that is being laid on other parts: what goes where, shown on the stage while it is chosen. */
import { toast } from 'svelte-sonner';
import { columnName, type Take, type TakeColumn } from '$core/document/takes';
import { putClip, updateClip } from '$core/edits/clips';
import { setAccumulates } from '$core/edits/keys';
import { channelId, kindOf, type Doc } from '$core/document/types';
import { columnLabel } from '$core/document/labels';
import { numbersOf } from '$core/document/rest';
import {
	layTake,
	matchParts,
	partsOfTake,
	sameOn,
	scaleBetween,
	type Between,
	type Laid,
	type LaidColumn,
} from '$core/takes/lay';
import { whyNotRecorded, withStretch } from '$core/takes/put-take';
import { roughKeys } from '$core/takes/rough-keys';
import { roundsOf, type Round } from '$core/takes/rounds';
import type { TakeSamples } from '$core/takes/samples-file';
import { shortName } from '$core/text';
import { MAX_CLIP_TICKS } from '$core/time';
import type { Drag } from '$lib/session/project.svelte';
import type { Session } from '$lib/session/session.svelte';
import { TICKS_PER_SECOND } from '$player/time';
import { newClip } from './new-clips';

/** What a column does not move on is told as this. */
export const NOWHERE = '';
/** Of one part several columns may go to different parts. */
export const SEVERAL = '*';
/** More would not be drawn faster than a person can choose. */
const MOST_SHOWN_KEYS = 400;
const PIXELS_A_METRE = 100;

/** A take of a document that was read. */
export interface BroughtTake {
	take: Take;
	samples: TakeSamples;
}

export class LayWork {
	take = $state.raw<Take | null>(null);
	/** The document that it was recorded in, where that is another one. */
	private origin = $state.raw<Doc | null>(null);
	/** What else there is in the document that was read. */
	brought = $state.raw<readonly BroughtTake[]>([]);
	/** What of it could not be read, in words. */
	leftOut = $state.raw<readonly string[]>([]);
	samples = $state.raw<TakeSamples | null>(null);
	/** What each column is laid on. */
	columns = $state.raw<readonly (LaidColumn | null)[]>([]);
	mirrored = $state(false);
	turnsOver = $state(false);
	scale = $state(1);
	fromRest = $state(false);
	/** The tick where it begins, and how many ticks it lasts for one that was recorded. */
	at = $state(0);
	slower = $state(1);
	/** Rounds that could be cut out of it, the best first; found when they are asked for. */
	rounds = $state.raw<readonly Round[]>([]);
	/** Which of them is laid; null lays the whole take. */
	round = $state<number | null>(null);
	isPutting = $state(false);
	private drag: Drag | null = null;

	constructor(private readonly session: Session) {}

	private get between(): Between {
		const { doc } = this.session;
		return { from: this.origin ?? doc, on: doc };
	}

	/** The clip that it is laid in: where it was recorded, or from a file the open one. */
	get clip(): string {
		return (this.origin ? this.session.clipId : this.take?.clip) ?? '';
	}

	/** The parts that were recorded. */
	get parts(): { id: string; name: string }[] {
		const { from } = this.between;
		return this.take
			? partsOfTake(this.take).map((id) => ({ id, name: from.parts[id]?.name ?? 'gone' }))
			: [];
	}

	/** What a number that was recorded is called. */
	labelOf(column: TakeColumn): string {
		return columnLabel(this.between.from, column);
	}

	/** Whether it was recorded in the other kind of space, where y runs the other way. */
	get isOtherSpace(): boolean {
		const { from, on } = this.between;
		return from.project.space !== on.project.space;
	}

	/** How much larger the parts are that it is laid on, by how far they stand from their parents. */
	private proposedScale(): number {
		const pairs = this.parts.flatMap(({ id }) => {
			const on = this.targetOf(id);
			return on === NOWHERE || on === SEVERAL ? [] : [[id, on] as const];
		});
		const told = scaleBetween(this.between, pairs);
		if (told !== null || !this.turnsOver) return told ?? 1;
		return this.session.doc.project.space === 'world' ? 1 / PIXELS_A_METRE : PIXELS_A_METRE;
	}

	/** Begins to lay one of the takes of a document that was read. */
	bring(origin: Doc, takes: readonly BroughtTake[], leftOut: readonly string[]): void {
		this.leave();
		this.brought = takes;
		this.leftOut = leftOut;
		this.begin(takes[0].take, takes[0].samples, origin);
	}

	/** Goes on with another of them. */
	chooseTake(id: string): void {
		const own = this.brought.find(({ take }) => take.id === id);
		if (own) this.begin(own.take, own.samples, this.origin);
	}

	/** Begins to lay a take of this project. */
	open(take: Take, samples: TakeSamples): void {
		this.leave();
		this.begin(take, samples, null);
	}

	private begin(take: Take, samples: TakeSamples, origin: Doc | null): void {
		this.take = take;
		this.origin = origin;
		this.samples = samples;
		this.mirrored = false;
		this.turnsOver = this.isOtherSpace;
		this.fromRest = false;
		this.at = take.from;
		this.slower = 1;
		this.round = null;
		this.rounds = roundsOf(
			samples,
			take.columns.map(({ property }) => property),
		);
		this.columns = take.columns.map(() => null);
		this.match();
	}

	/** Takes away what was shown; nothing has been laid. */
	leave(): void {
		this.drag?.cancel();
		this.drag = null;
		this.take = null;
		this.origin = null;
		this.brought = [];
		this.leftOut = [];
		this.samples = null;
		this.columns = [];
		this.rounds = [];
	}

	/** Lays each part on the one whose name is most like its own; a single one that is like none on the selected part. */
	match(): void {
		const { session, parts, origin } = this;
		const ids = parts.map(({ id }) => id);
		const among = Object.keys(session.doc.parts).filter((id) => origin || !ids.includes(id));
		const found = matchParts(this.between, ids, among, this.mirrored);
		const selected = session.selection.partId ?? NOWHERE;
		const isAlone = ids.length === 1 && found[0] === null && among.includes(selected);
		ids.forEach((part, i) => this.setTarget(part, isAlone ? selected : (found[i] ?? NOWHERE)));
		this.scale = this.proposedScale();
		this.show();
	}

	/** The part that all columns of one are laid on. */
	targetOf(part: string): string {
		const on = new Set(
			this.columns
				.filter((_, c) => this.take?.columns[c].part === part)
				.map((own) => own?.on.part ?? NOWHERE),
		);
		on.delete(NOWHERE);
		return on.size > 1 ? SEVERAL : ([...on][0] ?? NOWHERE);
	}

	private setTarget(part: string, target: string): void {
		const { take, session } = this;
		this.columns = this.columns.map((own, c) => {
			const column = take!.columns[c];
			if (column.part !== part) return own;
			const on = target === NOWHERE ? null : sameOn(session.doc, target, column, this.mirrored);
			return on && { on, factor: own?.factor ?? 1 };
		});
	}

	layPart(part: string, target: string): void {
		this.setTarget(part, target);
		this.show();
	}

	layColumn(index: number, on: TakeColumn | null): void {
		this.columns = this.columns.with(index, on && { on, factor: this.columns[index]?.factor ?? 1 });
		this.show();
	}

	setFactor(index: number, factor: number): void {
		const own = this.columns[index];
		if (!own) return;
		this.columns = this.columns.with(index, { ...own, factor });
		this.show();
	}

	/** The columns of a part, one after the other, on the numbers of another one as they stand on its card. */
	layInOrder(part: string, target: string): void {
		const { take, session } = this;
		const own = session.doc.parts[target];
		if (!own || !take) return;
		const numbers = numbersOf(own).filter(({ property }) => kindOf(property) === 'number');
		let next = 0;
		this.columns = this.columns.map((was, c) => {
			if (take.columns[c].part !== part) return was;
			const number = numbers[next++];
			return number ? { on: { part: target, ...number }, factor: was?.factor ?? 1 } : null;
		});
		this.show();
	}

	setMirrored(mirrored: boolean): void {
		this.mirrored = mirrored;
		this.match();
	}

	/** Plays a round over and over where it was recorded; null lays the whole take. */
	chooseRound(index: number | null): void {
		this.round = index;
		const { transport } = this.session;
		const round = index === null ? undefined : this.rounds[index];
		transport.stop();
		// The clip becomes as long as it has to be first.
		this.show();
		if (round) {
			transport.setRange(round.from, round.to);
			transport.play(true);
		} else transport.range = null;
	}

	private laid(): Laid | null {
		const { take, samples, columns, scale, mirrored, turnsOver, fromRest } = this;
		if (!take || !samples) return null;
		const round = this.round === null ? null : this.rounds[this.round];
		const span = round ?? take;
		return layTake(this.between, take, samples, {
			columns,
			from: span.from,
			to: span.to,
			// A round is shown where it was recorded, and is laid at the start of a clip of its own.
			at: round ? span.from : Math.max(0, Math.round(this.at)),
			slower: round ? 1 : this.slower,
			scale,
			mirrored,
			turnsOver,
			fromRest,
			closes: round !== null,
		});
	}

	/** The most that closing its round changes a number, as a share of what that goes over; null without a round. */
	get changed(): number | null {
		return this.round === null ? null : (this.laid()?.changed ?? null);
	}

	/** Shows on the stage and in the lanes what would be laid, as it was recorded. */
	show(): void {
		const { take, session } = this;
		if (!take || !session.doc.clips[this.clip]) return;
		if (this.drag && !session.project.isDragging) this.drag = null;
		const laid = this.laid();
		if (!laid) {
			this.drag?.cancel();
			this.drag = null;
			return;
		}
		this.drag ??= session.startDrag('Lay a take');
		const { times, columns } = laid.samples;
		const end = Math.min(MAX_CLIP_TICKS, times[times.length - 1]);
		const apart = Math.max(TICKS_PER_SECOND / 60, (end - times[0]) / MOST_SHOWN_KEYS);
		this.drag.update((doc) => {
			const clip = doc.clips[this.clip];
			if (!clip) return doc;
			const longer = end > clip.length ? updateClip(doc, clip.id, { length: end }) : doc;
			return laid.columns.reduce((next, column, c) => {
				// A colour is shown when it is laid.
				if (column.index !== undefined || whyNotRecorded(next, clip.id, column)) return next;
				return roughKeys(times, columns[c], apart).reduce(
					(made, keys) => withStretch(made, clip.id, column, keys),
					next,
				);
			}, longer);
		});
	}

	/** What is laid on something that is still there. */
	get chosen(): LaidColumn[] {
		const { parts } = this.session.doc;
		return this.columns.filter((own) => own !== null && parts[own.on.part] !== undefined) as LaidColumn[];
	}

	/** Why it cannot be laid now; null where it can. */
	get why(): string | null {
		const { take, session, chosen: laid } = this;
		if (!take || !session.doc.clips[this.clip]) return 'There is no clip to lay it in.';
		if (laid.length === 0) return 'Choose what it is laid on.';
		const names = laid.map(({ on }) => columnName(on));
		if (new Set(names).size < names.length) return 'Two of its channels are laid on one number.';
		const last = this.at + (take.to - take.from) * this.slower;
		return this.round === null && last > MAX_CLIP_TICKS ? 'It would be longer than the longest clip.' : null;
	}

	/**
	 * Lays it: another take, with its keys; a round in a clip of its own. One step of undo. Gives the id of the take, null where
	 * nothing was laid.
	 */
	async put(): Promise<string | null> {
		const { take, session, why } = this;
		const laid = this.laid();
		if (!take || !laid || why !== null || this.isPutting) return null;
		this.isPutting = true;
		this.drag?.cancel();
		this.drag = null;
		try {
			const { keepTakes } = await import('./takes');
			const id = await keepTakes(session, {
				...(this.round === null ? this.inClip(take, laid) : this.asRound(take, laid)),
				cleaning: take.cleaning,
				label: `Lay ${take.name}`,
			});
			if (this.round !== null) {
				session.transport.stop();
				session.transport.range = null;
			}
			this.leave();
			return id;
		} catch (error) {
			toast.error('The take could not be laid', {
				description: error instanceof Error ? error.message : String(error),
			});
			return null;
		} finally {
			this.isPutting = false;
		}
	}

	private inClip(take: Take, { samples, columns }: Laid) {
		const name = this.origin ? take.name : `${take.name} laid`;
		return { clip: this.clip, columns, rounds: [samples], name: shortName(name, 110) };
	}

	/** A clip that goes round for ever, its travel added up round after round. */
	private asRound(take: Take, { samples, columns, travels }: Laid) {
		const { session } = this;
		const start = samples.times[0];
		const times = samples.times.map((t) => t - start);
		const clip = {
			...newClip(session, shortName(`${take.name} round`, 110)),
			length: times[times.length - 1],
			loop: { mode: 'repeat' as const, count: null, pause: 0 },
		};
		const travelling = columns
			.filter((_, c) => travels[c])
			.map(({ part, property, component }) => channelId(clip.id, part, property, component));
		return {
			clip: clip.id,
			columns,
			rounds: [{ times, columns: samples.columns }],
			name: clip.name,
			before: (doc: Doc) => putClip(doc, clip),
			after: (doc: Doc) => setAccumulates(doc, travelling, true),
		};
	}
}

const works = new WeakMap<Session, LayWork>();

/** What is being laid in a window. */
export function layWorkOf(session: Session): LayWork {
	let own = works.get(session);
	if (!own) works.set(session, (own = new LayWork(session)));
	return own;
}
