/**
 * The document between this window and the server. Edits are shown at once and sent one after the other, undo and redo
 * among them, each on the revision that this window knows all of. What others did meanwhile comes with the answers:
 * what is still to be sent is put on top of it, or, where both touched the same thing, is told as a conflict.
 */
import { applyOwn, diffDocuments, isEmpty, type Changeset } from '$core/document/changeset';
import type { Doc } from '$core/document/types';
import type { Answer, Answered, ApiProblem, Foreign, Loaded, Retraced } from '$lib/api/client';
import { newId } from './ids';
import {
	applyStep,
	applyMine,
	builtOn,
	conflictOf,
	isPassing,
	madeBefore,
	madeOf,
	refusalOf,
	sendStep,
	splitClashing,
	splitOvertaken,
	type Conflict,
	type Refused,
	type Step,
	type StepKind,
	type StepServer,
	type Unsent,
} from './steps';

export interface SyncServer extends StepServer {
	load(): Promise<Answer<Loaded>>;
	/** Resolves when the server is to be tried again. */
	wait(): Promise<void>;
}

export interface SyncEvents {
	/** What is to be shown is another document than the last edit or undo made. */
	onshown(doc: Doc): void;
	/** State, labels, what waits or what clashes have changed. */
	onchange(): void;
	/** An undo or redo was done that could not be shown before. */
	onretraced(kind: 'undo' | 'redo', label: string): void;
	/** An undo or redo was not done: another window has changed the project since. */
	onovertaken(kind: 'undo' | 'redo', theirs: readonly string[]): void;
}

export type SyncState = 'saved' | 'saving' | 'away';

/** An edit of this window, so that undo and redo are shown before the server has answered. */
interface Line {
	label: string;
	forward: Changeset;
	inverse: Changeset;
	/** The edit that made it. */
	editId: string;
}

/** Edits that can be taken back before the server has answered. */
const MOST_LINES = 200;

export class Sync {
	state: SyncState = 'saved';
	/** Why nothing could be saved last, while that is so. */
	away: ApiProblem | null = null;
	savedAt: Date | null = null;
	conflicts: readonly Conflict[];
	/** The last revision that this window has all of. */
	revision: number;

	/** The document of that revision, and with all that is still to be sent on it. */
	private base: Doc;
	private shownDoc: Doc;
	private queue: Step[] = [];
	private done: Line[] = [];
	private undone: Line[] = [];
	private onServer: { undo: string | null; redo: string | null };
	private running = false;
	/** Told by the server while an answer was awaited. */
	private waiting: Foreign[] = [];
	private idle: (() => void)[] = [];

	constructor(
		loaded: Loaded,
		private readonly server: SyncServer,
		private readonly events: SyncEvents,
		conflicts: readonly Conflict[] = [],
	) {
		this.base = this.shownDoc = loaded.doc;
		this.revision = loaded.revision;
		this.onServer = { undo: loaded.undo, redo: loaded.redo };
		this.conflicts = conflicts;
	}

	get shown(): Doc {
		return this.shownDoc;
	}
	get pending(): number {
		return this.queue.length;
	}
	get unsent(): Unsent {
		return { revision: this.revision, queue: this.queue, conflicts: this.conflicts };
	}

	/** What undo would take back, and redo do again; null where there is nothing. */
	get undo(): string | null {
		return this.done.at(-1)?.label ?? this.onServer.undo;
	}
	get redo(): string | null {
		const isOver = this.queue.some(({ kind }) => kind === 'edit');
		return this.undone.at(-1)?.label ?? (isOver ? null : this.onServer.redo);
	}

	/** One edit; `next` is made from what is shown. False when it changes nothing. */
	edit(label: string, next: Doc): boolean {
		const forward = diffDocuments(this.shownDoc, next);
		if (isEmpty(forward)) return false;
		const editId = newId();
		this.done.push({ label, forward, inverse: diffDocuments(next, this.shownDoc), editId });
		// What is older the server knows.
		if (this.done.length > MOST_LINES) this.done.shift();
		this.undone = [];
		const made = madeOf(forward, this.shownDoc, next);
		this.shownDoc = next;
		this.push({ editId, kind: 'edit', label, changeset: forward, made });
		return true;
	}

	/** Takes the last edit back, or does it again. The label of what is shown at once; null when that waits or is none. */
	retrace(kind: 'undo' | 'redo'): string | null {
		const label = this[kind];
		if (label === null) return null;
		const [from, to] = kind === 'undo' ? [this.done, this.undone] : [this.undone, this.done];
		const line = from.pop();
		const changeset = line ? (kind === 'undo' ? line.inverse : line.forward) : null;
		const next = changeset && applyOwn(this.shownDoc, changeset);
		if (line && next) {
			to.push(line);
			this.shownDoc = next;
			this.events.onshown(next);
		} else {
			// From here on only the server knows the line.
			this.done = [];
			this.undone = [];
		}
		const step = { editId: newId(), kind, label };
		if (line && next && changeset) this.push({ ...step, changeset, of: line.editId, made: [] });
		else this.push({ ...step, changeset: null, made: [] });
		return next ? label : null;
	}

	/** What others did, as the server tells it unasked. */
	receive(rows: readonly Foreign[]): void {
		if (this.running) this.waiting.push(...rows);
		else void this.take(rows);
	}

	/** Resolves when everything has been answered. */
	flushed(): Promise<void> {
		if (!this.running && this.queue.length === 0) return Promise.resolve();
		return new Promise((resolve) => this.idle.push(resolve));
	}

	/** Chooses a side of a conflict; one's own is done as an edit. False where it does not fit any more. */
	settle(editId: string, side: 'mine' | 'theirs'): boolean {
		const conflict = this.conflicts.find((own) => own.editId === editId);
		if (!conflict) return true;
		if (side === 'mine') {
			const next = applyMine(this.shownDoc, conflict.mine);
			if (!next) return false;
			if (this.edit(conflict.label, next)) this.events.onshown(next);
		}
		this.conflicts = this.conflicts.filter((own) => own !== conflict);
		this.events.onchange();
		return true;
	}

	private push(step: Step): void {
		this.queue.push(step);
		if (this.state === 'saved') this.state = 'saving';
		this.events.onchange();
		void this.run();
	}

	private async run(): Promise<void> {
		if (this.running) return;
		this.running = true;
		while (this.queue.length > 0) {
			const step = this.queue[0];
			const answer = await sendStep(this.server, this.revision, step);
			if (answer.ok) this.accept(step, answer.value);
			else if (isPassing(answer.problem)) await this.waitForServer(answer.problem);
			else await this.refuse(step, answer.problem);
		}
		this.running = false;
		if (this.waiting.length > 0) await this.take(this.waiting.splice(0));
		for (const resolve of this.idle.splice(0)) resolve();
	}

	private async waitForServer(problem: ApiProblem): Promise<void> {
		this.state = 'away';
		this.away = problem;
		this.events.onchange();
		await this.server.wait();
	}

	private accept(step: Step, answered: Answered & Partial<Retraced>): void {
		const { missed, revision } = answered;
		this.queue.shift();
		this.follow(missed);
		this.overtaken(missed);
		const changeset = step.changeset ?? answered.changeset;
		// The server has checked it on the same document.
		if (changeset) this.base = applyOwn(this.base, changeset) ?? this.base;
		this.revision = revision;
		if (!step.changeset && changeset) {
			this.events.onretraced(step.kind as 'undo' | 'redo', answered.label ?? step.label);
			this.keep(splitClashing(this.queue, changeset, madeBefore(step.label)));
			this.showAgain();
		} else if (missed.length > 0) this.showAgain();
		// What is shown is the very same then, with the identities that everything is cached by.
		else if (this.queue.length === 0) this.base = this.shownDoc;
		this.onServer = { undo: answered.undo, redo: answered.redo };
		this.settled();
	}

	private async refuse(step: Step, problem: ApiProblem): Promise<void> {
		this.queue.shift();
		const missed = problem.missed ?? [];
		this.follow(missed);
		if (problem.status === 409 && step.kind !== 'edit')
			this.onServer = { ...this.onServer, [step.kind]: null };
		else this.tell(refusalOf(step, problem));
		if (step.changeset) this.keep(splitClashing(this.queue, step.changeset, builtOn(step.label)));
		this.overtaken(missed);
		this.done = [];
		this.undone = [];
		if (problem.undo !== undefined) this.onServer = { undo: problem.undo, redo: problem.redo ?? null };
		if (problem.missed === null) await this.reload();
		else this.showAgain();
		this.settled();
	}

	private settled(): void {
		this.state = this.queue.length === 0 ? 'saved' : 'saving';
		this.away = null;
		if (this.state === 'saved') this.savedAt = new Date();
		this.events.onchange();
	}

	/** Others' edits become part of what this window knows. */
	private follow(rows: readonly Foreign[]): void {
		for (const { revision, changeset } of rows) {
			if (revision <= this.revision) continue;
			this.revision = revision;
			this.base = applyOwn(this.base, changeset) ?? this.base;
		}
	}

	/** Others did something: of what is left to be sent, what touches the same is a conflict. */
	private overtaken(rows: readonly Foreign[]): void {
		if (rows.length === 0) return;
		this.done = this.done.filter(({ editId }) => this.queue.some((step) => step.editId === editId));
		this.undone = [];
		this.keep(splitOvertaken(this.queue, rows));
	}

	/** Goes on with what is left of the queue. */
	private keep({ kept, refused }: { kept: readonly Step[]; refused: readonly Refused[] }): void {
		this.queue = [...kept];
		if (refused.length === 0) return;
		for (const one of refused) this.tell(one);
		this.done = this.done.filter(({ editId }) => refused.every(({ step }) => step.editId !== editId));
		this.undone = [];
	}

	/** A step was not taken: nothing is lost without a word. */
	private tell(refused: Refused): void {
		const { step, theirs } = refused;
		const conflict = conflictOf(refused);
		if (conflict) this.conflicts = [...this.conflicts, conflict];
		else this.events.onovertaken(step.kind as Exclude<StepKind, 'edit'>, theirs);
	}

	private async take(rows: readonly Foreign[]): Promise<void> {
		const news = rows.filter(({ revision }) => revision > this.revision);
		if (news.length === 0) return;
		// A row that never came: everything anew, and nothing is sent meanwhile.
		if (news.some(({ revision }, i) => revision !== this.revision + 1 + i)) {
			this.running = true;
			await this.reload();
			this.running = false;
			this.events.onchange();
			await this.run();
			return;
		}
		this.follow(news);
		this.overtaken(news);
		const { undo = null, redo = null } = news.at(-1)!;
		this.onServer = { undo, redo };
		this.showAgain();
		this.events.onchange();
	}

	/** What is to be sent, once more on what is known now. */
	private showAgain(): void {
		let doc = this.base;
		const kept: Step[] = [];
		const refused: Refused[] = [];
		for (const step of this.queue) {
			const next = step.changeset ? applyStep(doc, step.changeset) : doc;
			if (next) {
				doc = next;
				kept.push(step);
			} else refused.push({ step, reason: 'It does not fit what another window did.', theirs: [] });
		}
		this.keep({ kept, refused });
		this.shownDoc = doc;
		this.events.onshown(doc);
	}

	/** Everything anew from the server, with what is to be sent on it. */
	private async reload(): Promise<void> {
		for (;;) {
			const answer = await this.server.load();
			if (!answer.ok) {
				if (!isPassing(answer.problem)) return;
				await this.waitForServer(answer.problem);
				continue;
			}
			const { doc, revision, undo, redo } = answer.value;
			this.base = doc;
			this.revision = revision;
			this.onServer = { undo, redo };
			// What was missed is not known: nothing may be put on top of it unseen.
			const reason = 'What other windows did before it is not known here.';
			this.keep({ kept: [], refused: this.queue.map((step) => ({ step, reason, theirs: [] })) });
			this.done = [];
			this.undone = [];
			this.showAgain();
			return;
		}
	}
}
