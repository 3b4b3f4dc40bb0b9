/** The document of the open project: what is shown, edits and drags, undo, saving. */
import { toast } from 'svelte-sonner';
import { clipsInOrder, partsInTree, type Clip, type Doc } from '$core/document/types';
import type { Loaded } from '$lib/api/client';
import { Saver } from './saver.svelte';
import type { Picks, Selection } from './selection.svelte';
import type { Conflict } from './steps';

/** What an edit makes: a document, or one with what is picked in it then. */
export interface Edited extends Picks {
	doc: Doc;
}
export type Edit = (doc: Doc) => Doc | Edited;

/** A change that goes on while the pointer is down: always computed from where it began, one step of undo. */
export interface Drag {
	readonly start: Doc;
	update(edit: Edit): void;
	commit(label?: string): void;
	/** Document and picks are what they were before. */
	cancel(): void;
}

const editedOf = (made: Doc | Edited): Edited => ('doc' in made ? made : { doc: made });

export class Project {
	/** What is shown: the saved document, or a drag's preview. */
	doc = $state.raw<Doc>(null as never);
	readonly id: string;
	readonly saver: Saver;
	readonly clips: Clip[] = $derived(clipsInOrder(this.doc));
	readonly tree = $derived(partsInTree(this.doc));
	private drag: Drag | null = $state.raw(null);
	/** Computes the drag that goes on anew, from another start. */
	private dragAgain: ((start: Doc) => void) | null = null;

	constructor(
		loaded: Loaded,
		conflicts: readonly Conflict[],
		private readonly selectionNow: () => Selection,
	) {
		this.doc = loaded.doc;
		this.id = loaded.doc.project.id;
		this.saver = new Saver(
			this.id,
			loaded,
			{
				onshown: (doc) => this.take(doc),
				onretraced: (kind, label) => tellRetraced(kind, label),
				onovertaken: (kind, theirs) => tellOvertaken(kind, theirs),
			},
			conflicts,
		);
	}

	/** What was done last in this window, anew each time. */
	done = $state.raw<{ label: string } | null>(null);

	get frameRate(): number {
		return this.doc.project.frameRate;
	}

	/** The document without a drag that goes on. */
	get committed(): Doc {
		return this.saver.sync.shown;
	}

	get isDragging(): boolean {
		return this.drag !== null;
	}

	/** One edit, one step of undo. An edit that changes nothing is no edit. */
	edit(label: string, edit: Edit): void {
		this.drag?.cancel();
		const { doc, ...picks } = editedOf(edit(this.committed));
		this.commit(label, doc);
		this.selectionNow().take(picks);
	}

	private commit(label: string, next: Doc): void {
		this.doc = next;
		if (this.saver.sync.edit(label, next)) this.done = { label };
	}

	startDrag(label: string): Drag {
		this.drag?.cancel();
		let start = this.committed;
		let last: Edit = (doc) => doc;
		const { picks } = this.selectionNow();
		const show = () => {
			const { doc, ...then } = editedOf(last(start));
			this.doc = doc;
			this.selectionNow().take(then);
		};
		const end = () => {
			this.drag = null;
			this.dragAgain = null;
		};
		const drag: Drag = {
			get start() {
				return start;
			},
			update: (edit) => {
				if (this.drag !== drag) return;
				last = edit;
				show();
			},
			commit: (final = label) => {
				if (this.drag !== drag) return;
				end();
				this.commit(final, this.doc);
			},
			cancel: () => {
				if (this.drag !== drag) return;
				end();
				this.doc = start;
				this.selectionNow().restore(picks);
				// Another window may have taken away what was picked as the drag began.
				this.selectionNow().prune(start);
			},
		};
		this.drag = drag;
		this.dragAgain = (now) => {
			start = now;
			show();
		};
		return drag;
	}

	/** Resolves when the server has it; it is shown before. */
	undo(): Promise<void> {
		return this.retrace('undo');
	}
	redo(): Promise<void> {
		return this.retrace('redo');
	}

	private retrace(kind: 'undo' | 'redo'): Promise<void> {
		this.drag?.cancel();
		const label = this.saver.sync.retrace(kind);
		if (label !== null) tellRetraced(kind, label);
		return this.saver.flushed();
	}

	/** A document that no edit here made; picks of what is gone go with it, and a drag goes on from it. */
	private take(doc: Doc): void {
		this.selectionNow().prune(doc);
		if (this.dragAgain) this.dragAgain(doc);
		else this.doc = doc;
	}
}

/** One message for all presses in a row. */
function tellRetraced(kind: 'undo' | 'redo', label: string): void {
	toast(`${kind === 'undo' ? 'Undone' : 'Redone'}: ${label}`, { id: 'retrace', duration: 1800 });
}

function tellOvertaken(kind: 'undo' | 'redo', theirs: readonly string[]): void {
	const what = theirs.length > 0 ? `“${theirs.join('”, “')}”` : 'something';
	toast(`Not ${kind === 'undo' ? 'undone' : 'redone'}: another window did ${what} since`, {
		id: 'retrace',
		description: 'Undo takes back the last edit of all windows: press it again to take that one back.',
		duration: 8000,
	});
}
