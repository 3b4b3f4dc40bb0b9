/** The open project: document, undo, saving, selection. One a window; components get it from context. */
import { getContext, setContext } from 'svelte';
import { toast } from 'svelte-sonner';
import { compileClip, evaluateClip, evaluateRound, type CompiledClip } from '$core/clip/compile';
import { applyOwn, diffDocuments, isEmpty } from '$core/document/changeset';
import type { CopiedChannel } from '$core/document/edits/clipboard';
import { restoreClip } from '$core/document/edits/clips';
import { countKeys, type KeySelection } from '$core/document/edits/keys';
import {
	clipsInOrder,
	partsInTree,
	type Channel,
	type Clip,
	type Doc,
	type Formula,
	type Part,
} from '$core/document/types';
import { StageLook } from '$lib/stage/stage-look.svelte';
import { api, type ApiProblem, type Loaded } from './api';
import { Saver } from './saver.svelte';
import { Transport } from './transport.svelte';

type Edit = (doc: Doc) => Doc;

/** What can lie over the screen, one at a time. */
export type SheetName = 'help' | 'finder' | 'tween' | 'nudge' | 'versions' | 'drop' | 'new part';

/** What the bench shows. */
export type BenchCard = 'span' | 'channel' | 'part' | 'clip';

const NO_KEYS: KeySelection = new Map();

/** A change that goes on while the pointer is down: always computed from where it began, one step of undo. */
export interface Drag {
	readonly start: Doc;
	update(edit: Edit): void;
	commit(label?: string): void;
	cancel(): void;
}

export class Session {
	/** What is shown: the saved document, or a drag's preview. */
	doc = $state.raw<Doc>(null as never);
	clipId = $state<string | null>(null);
	keys = $state.raw<KeySelection>(NO_KEYS);
	/** Part picked on the stage or in the lanes. */
	partId = $state<string | null>(null);
	/** Channel whose lane is picked. */
	channelId = $state<string | null>(null);
	autoKey = $state(false);
	/** Whether auto-key sets keys for all that is moved, or only for what moves in the clip already. */
	keyAll = $state(false);
	/** The middle handle on the stage moves the pivot. */
	pivotMode = $state(false);
	/** A field of the bench, by its label, that a command asks for. */
	benchField = $state.raw<{ card: BenchCard; label: string } | null>(null);
	/** A part that is being given another name in the lanes. */
	partToName = $state<string | null>(null);
	/** A cue that was just put and is to be named. */
	cueToName = $state<string | null>(null);
	/** Keys that were copied in this window. */
	copied = $state.raw<readonly CopiedChannel[]>([]);
	/** Parts not to be shown or touched: a matter of view, not of the document. */
	hiddenParts = $state.raw<ReadonlySet<string>>(new Set());
	lockedParts = $state.raw<ReadonlySet<string>>(new Set());
	soloPart = $state<string | null>(null);
	readonly look = new StageLook();
	/** The sheet that lies over the screen, if any. */
	sheet = $state<SheetName | null>(null);
	/** The first clip in five steps goes on beside the work. */
	isGuiding = $state(false);

	/** A clip as it was when it was pinned: shown beside what it is now. */
	pinned = $state.raw<{ clip: string; doc: Doc } | null>(null);

	readonly transport: Transport;
	readonly saver: Saver;
	readonly projectId: string;
	private committed: Doc;
	private drag: Drag | null = $state.raw(null);

	readonly clip: Clip | null = $derived(this.clipId === null ? null : (this.doc.clips[this.clipId] ?? null));
	readonly clips: Clip[] = $derived(clipsInOrder(this.doc));
	readonly compiled: CompiledClip | null = $derived(this.clip ? compileClip(this.doc, this.clip) : null);
	readonly part: Part | null = $derived(this.partId === null ? null : (this.doc.parts[this.partId] ?? null));
	readonly channel: Channel | null = $derived(
		this.channelId === null ? null : (this.doc.channels[this.channelId] ?? null),
	);
	/** The formula whose lane is picked. */
	readonly formula: Formula | null = $derived(
		this.channelId === null ? null : (this.doc.formulas[this.channelId] ?? null),
	);
	readonly pickedCount: number = $derived(countKeys(this.keys));
	/** Parts that the picked keys move. */
	readonly pickedParts: ReadonlySet<string> = $derived(
		new Set([...this.keys.keys()].flatMap((id) => this.doc.channels[id]?.part ?? [])),
	);
	/** The pinned version of the open clip, ready to play. */
	readonly pinnedClip: CompiledClip | null = $derived.by(() => {
		const { pinned } = this;
		return pinned && pinned.clip === this.clipId
			? compileClip(pinned.doc, pinned.doc.clips[pinned.clip])
			: null;
	});
	/** Pose of every part at the playhead, POSE_STRIDE numbers each, in tree order. */
	readonly pose: Float64Array = $derived(this.compiled ? this.poseOf(this.compiled) : new Float64Array(0));
	readonly tree = $derived(partsInTree(this.doc));

	constructor(loaded: Loaded) {
		this.doc = loaded.doc;
		this.committed = loaded.doc;
		this.projectId = loaded.doc.project.id;
		this.saver = new Saver(
			this.projectId,
			loaded,
			(problem, lost) => this.refused(problem, lost),
			() => void this.reload(),
		);
		this.transport = new Transport(() => this.clip);
		void this.sendUnsent();
	}

	get frameRate(): number {
		return this.doc.project.frameRate;
	}

	/** How moving by hand sets keys now. */
	get keying(): { autoKey: boolean; keyAll: boolean } {
		return { autoKey: this.autoKey, keyAll: this.keyAll };
	}

	get isDragging(): boolean {
		return this.drag !== null;
	}

	/** One edit, one step of undo. An edit that changes nothing is no edit. */
	edit(label: string, edit: Edit): void {
		this.drag?.cancel();
		this.commit(label, edit(this.committed));
	}

	private commit(label: string, next: Doc): void {
		const changeset = diffDocuments(this.committed, next);
		this.doc = next;
		if (isEmpty(changeset)) return;
		this.committed = next;
		this.saver.push(label, changeset);
	}

	startDrag(label: string): Drag {
		this.drag?.cancel();
		const start = this.committed;
		const end = () => {
			this.drag = null;
		};
		const drag: Drag = {
			start,
			update: (edit) => {
				if (this.drag === drag) this.doc = edit(start);
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
			},
		};
		this.drag = drag;
		return drag;
	}

	pickKeys(keys: KeySelection): void {
		this.keys = keys;
		const [first] = keys.keys();
		if (first !== undefined && this.doc.channels[first]) {
			this.channelId = first;
			this.partId = this.doc.channels[first].part;
		}
	}

	pickPart(id: string | null): void {
		this.partId = id;
		const laned = this.channel ?? this.formula;
		if (laned && laned.part !== id) this.channelId = null;
		this.keys = NO_KEYS;
	}

	pickChannel(id: string): void {
		this.takeInHand(id);
		this.keys = NO_KEYS;
	}

	/** A channel and its part are in hand; picked keys stay picked. */
	takeInHand(id: string): void {
		this.channelId = id;
		this.partId = (this.doc.channels[id] ?? this.doc.formulas[id])?.part ?? this.partId;
	}

	clearPicks(): void {
		this.keys = NO_KEYS;
		this.channelId = null;
		this.partId = null;
	}

	openClip(id: string): void {
		if (this.clipId === id) return;
		this.clipId = id;
		this.keys = NO_KEYS;
		this.channelId = null;
		this.transport.stop();
		this.transport.range = null;
		this.transport.seek(0);
	}

	/** The pose of a version of the open clip at the playhead. */
	poseOf(compiled: CompiledClip): Float64Array {
		const { playing, ticks, local } = this.transport;
		const out = new Float64Array(compiled.rest.length);
		if (playing) evaluateClip(compiled, ticks, out);
		else evaluateRound(compiled, local, 0, out);
		return out;
	}

	/** Keeps the open clip as it is for comparison, or lets go of it. */
	togglePin(): void {
		if (this.pinnedClip || !this.clip) this.pinned = null;
		else this.pinned = { clip: this.clip.id, doc: this.committed };
	}

	/** Pins the open clip as it is in another version of the project; false where that has no such clip. */
	pinVersion(doc: Doc): boolean {
		if (!this.clip || !doc.clips[this.clip.id]) return false;
		this.pinned = { clip: this.clip.id, doc };
		return true;
	}

	/** The pinned version becomes the clip, and what it was is pinned. */
	swapPinned(): void {
		const { pinned } = this;
		if (!pinned || pinned.clip !== this.clipId) return;
		const now = this.committed;
		this.edit('Swap with the pinned version', (doc) => restoreClip(doc, pinned.doc, pinned.clip));
		this.pinned = { clip: pinned.clip, doc: now };
		this.keys = prunedKeys(this.doc, this.keys);
	}

	isHidden(id: string): boolean {
		if (this.soloPart !== null) {
			for (let at: string | null = id; at !== null; at = this.doc.parts[at]?.parent ?? null) {
				if (at === this.soloPart) return false;
			}
			return true;
		}
		for (let at: string | null = id; at !== null; at = this.doc.parts[at]?.parent ?? null) {
			if (this.hiddenParts.has(at)) return true;
		}
		return false;
	}

	async undo(): Promise<void> {
		await this.travel('undo');
	}

	async redo(): Promise<void> {
		await this.travel('redo');
	}

	private async travel(kind: 'undo' | 'redo'): Promise<void> {
		this.drag?.cancel();
		await this.saver.flushed();
		const label = kind === 'undo' ? this.saver.undo : this.saver.redo;
		if (label === null) return;
		const answer = await this.saver.travel(kind);
		if (!answer.ok) {
			toast.error(answer.problem.title, { description: answer.problem.detail });
			if (answer.problem.status === 412) await this.reload();
			return;
		}
		const next = answer.value.changeset ? applyOwn(this.committed, answer.value.changeset) : null;
		if (next) this.take(next);
		else await this.reload();
		toast(`${kind === 'undo' ? 'Undone' : 'Done again'}: ${label}`, { duration: 1800 });
	}

	/** A document from the server; picks of what is gone go with it. */
	private take(doc: Doc): void {
		this.committed = doc;
		this.doc = doc;
		this.keys = prunedKeys(doc, this.keys);
	}

	private async reload(): Promise<void> {
		const answer = await api.load(this.projectId);
		if (!answer.ok) return;
		this.saver.revision = answer.value.revision;
		this.saver.undo = answer.value.undo;
		this.saver.redo = answer.value.redo;
		this.saver.state = 'saved';
		this.take(answer.value.doc);
	}

	private refused(problem: ApiProblem, lost: string[]): void {
		toast.error(problem.title, {
			description: `${problem.detail} Not saved: ${lost.join(', ')}. The project was loaded again.`,
			duration: 12_000,
		});
		void this.reload();
	}

	/** Edits that were made while the server was away and the page was closed. */
	private async sendUnsent(): Promise<void> {
		const unsent = this.saver.takeUnsent();
		if (unsent.length === 0) return;
		// With the whole schema behind it: fetched where there is something to look at.
		const { applyChecked } = await import('$core/document/checked-changeset');
		for (const { label, changeset, editId } of unsent) {
			const applied = applyChecked(this.committed, changeset);
			if (!applied.ok) continue;
			this.take(applied.value);
			this.saver.push(label, changeset, editId);
		}
	}
}

function prunedKeys(doc: Doc, keys: KeySelection): KeySelection {
	const pruned = new Map<string, Set<number>>();
	for (const [id, times] of keys) {
		const there = new Set(doc.channels[id]?.keys.map((key) => key.t));
		const kept = new Set([...times].filter((t) => there.has(t)));
		if (kept.size > 0) pruned.set(id, kept);
	}
	return pruned;
}

const CONTEXT = Symbol('session');

export function provideSession(session: Session): Session {
	return setContext(CONTEXT, session);
}

export function useSession(): Session {
	return getContext<Session>(CONTEXT);
}
