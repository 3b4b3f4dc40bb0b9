/**
 * Sends edits to the server one after the other. The screen says "saved" only when the server has said so; while the
 * server is away edits wait here and in the browser's storage, and are sent when it is back.
 */
import type { Changeset } from '$core/document/changeset';
import { api, type Answer, type ApiProblem, type Saved } from './api';
import { newId } from './ids';

interface Edit {
	editId: string;
	label: string;
	changeset: Changeset;
}

export type SaveState = 'saved' | 'saving' | 'away' | 'refused';

const RETRY_MS = 1500;

export class Saver {
	state = $state<SaveState>('saved');
	savedAt = $state<Date | null>(null);
	/** Labels of what undo and redo would do. */
	undo = $state<string | null>(null);
	redo = $state<string | null>(null);
	revision: number;

	private queue: Edit[] = [];
	private running = false;
	private behind = false;
	private idle: (() => void)[] = [];
	private readonly storageKey: string;

	constructor(
		private readonly project: string,
		loaded: Saved,
		private readonly onRefused: (problem: ApiProblem, lost: string[]) => void,
		/** Another window edited in between: its changes are still to be fetched. */
		private readonly onBehind: () => void,
	) {
		this.revision = loaded.revision;
		this.undo = loaded.undo;
		this.redo = loaded.redo;
		this.storageKey = `hillock-unsent-${project}`;
	}

	get pending(): number {
		return this.queue.length;
	}

	/** Edits that an earlier visit could not send. */
	takeUnsent(): { label: string; changeset: Changeset; editId: string }[] {
		try {
			const text = localStorage.getItem(this.storageKey);
			return text ? (JSON.parse(text) as Edit[]) : [];
		} catch {
			return [];
		}
	}

	push(label: string, changeset: Changeset, editId: string = newId()): void {
		this.queue.push({ editId, label, changeset });
		this.undo = label;
		this.redo = null;
		this.state = this.state === 'away' ? 'away' : 'saving';
		this.keep();
		void this.run();
	}

	/** Resolves when everything has been answered. */
	flushed(): Promise<void> {
		if (!this.running && this.queue.length === 0) return Promise.resolve();
		return new Promise((resolve) => this.idle.push(resolve));
	}

	/** Asks the server to undo or redo; call it after `flushed`. */
	async travel(kind: 'undo' | 'redo'): Promise<Answer<Saved & { changeset: Changeset | null }>> {
		this.state = 'saving';
		// An edit made meanwhile waits: it is based on what undo leaves behind.
		this.running = true;
		const answer = await api.travel(this.project, this.revision, newId(), kind);
		this.running = false;
		if (answer.ok) this.accept(answer.value);
		else this.state = answer.problem.status === 0 ? 'away' : 'saved';
		void this.run();
		return answer;
	}

	private accept(saved: Saved): void {
		this.behind ||= saved.revision > this.revision + 1;
		this.revision = saved.revision;
		if (this.queue.length === 0) {
			if (this.behind) this.onBehind();
			this.behind = false;
			this.undo = saved.undo;
			this.redo = saved.redo;
			this.state = 'saved';
			this.savedAt = new Date();
		}
	}

	private keep(): void {
		try {
			if (this.queue.length === 0) localStorage.removeItem(this.storageKey);
			else localStorage.setItem(this.storageKey, JSON.stringify(this.queue));
		} catch {
			// A full storage only means that unsent edits do not outlive this page.
		}
	}

	private async run(): Promise<void> {
		if (this.running) return;
		this.running = true;
		while (this.queue.length > 0) {
			const edit = this.queue[0];
			const answer = await api.save(this.project, this.revision, edit);
			if (answer.ok) {
				this.queue.shift();
				this.keep();
				this.accept(answer.value);
			} else if (answer.problem.status === 0 || answer.problem.status >= 500) {
				this.state = 'away';
				await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
			} else {
				const lost = this.queue.map((entry) => entry.label);
				this.queue = [];
				this.keep();
				this.state = 'refused';
				this.onRefused(answer.problem, lost);
			}
		}
		this.running = false;
		for (const resolve of this.idle.splice(0)) resolve();
	}
}
