/** The open project: document, undo, saving, selection. One a window; components get it from context. */
import { getContext, setContext } from 'svelte';
import { toast } from 'svelte-sonner';
import { compileClip, type CompiledClip } from '$core/clip/compile';
import { evaluateClip, evaluateRound } from '$player/motion';
import type { Posed } from '$core/clip/layout';
import type { Hand } from '$core/edits/by-hand';
import { makeLayout } from '$player/layout';
import type { CopiedChannel } from '$core/edits/clipboard';
import { restoreClip } from '$core/edits/clips';
import { countKeys, type KeySelection } from '$core/edits/keys';
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
import type { Loaded } from './api';
import type { BenchField } from './fields';
import type { Conflict } from './steps';
import { Saver } from './saver.svelte';
import { Transport } from './transport.svelte';

type Edit = (doc: Doc) => Doc;

/** What can lie over the screen, one at a time. */
export type SheetName = 'help' | 'finder' | 'tween' | 'nudge' | 'versions' | 'drop' | 'new part';

const NO_KEYS: KeySelection = new Map();
/** Without a clip nothing moves. */
const AT_REST: Posed = { layout: makeLayout([]), pose: new Float64Array(0) };

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
	/** Whether what is changed by hand gets keys. */
	isAutoKey = $state(false);
	/** Whether auto-key keys everything that is changed, or refuses what has no channel yet. */
	autoKeyScope = $state<'everything' | 'existing'>('everything');
	/** The middle handle on the stage moves the pivot. */
	pivotMode = $state(false);
	/** A field of the bench that a command asks for. */
	benchField = $state<BenchField | null>(null);
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

	/** Edits that clash with another window's are looked at, to choose. */
	isChoosing = $state(false);

	/** A clip as it was when it was pinned: shown beside what it is now. */
	pinned = $state.raw<{ clip: string; doc: Doc } | null>(null);

	readonly transport: Transport;
	readonly saver: Saver;
	readonly projectId: string;
	private drag: Drag | null = $state.raw(null);
	/** Computes the drag that goes on anew, from another start. */
	private dragAgain: ((start: Doc) => void) | null = null;

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
	/** What the open clip shows at the playhead. */
	readonly posed: Posed = $derived(
		this.compiled ? { layout: this.compiled.layout, pose: this.poseOf(this.compiled) } : AT_REST,
	);
	readonly tree = $derived(partsInTree(this.doc));

	constructor(loaded: Loaded, conflicts: readonly Conflict[] = []) {
		this.doc = loaded.doc;
		this.projectId = loaded.doc.project.id;
		this.saver = new Saver(
			this.projectId,
			loaded,
			{
				onshown: (doc) => this.take(doc),
				ontravelled: (kind, label) => tellTravel(kind, label),
				onovertaken: (kind, theirs) => tellOvertaken(kind, theirs),
			},
			conflicts,
		);
		this.transport = new Transport(
			() => this.clip,
			() => this.frameRate,
		);
	}

	/** The document without a drag that goes on. */
	private get committed(): Doc {
		return this.saver.sync.shown;
	}

	get frameRate(): number {
		return this.doc.project.frameRate;
	}

	/** Where changes of a part by hand go now; null without a clip. */
	handOn(part: string, keysExisting = false): Hand | null {
		const { clip, isAutoKey, autoKeyScope } = this;
		const t = Math.round(this.transport.local);
		return clip && { clip: clip.id, part, t, autoKey: isAutoKey ? autoKeyScope : 'off', keysExisting };
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
		this.doc = next;
		this.saver.sync.edit(label, next);
	}

	startDrag(label: string): Drag {
		this.drag?.cancel();
		let start = this.committed;
		let last: Edit = (doc) => doc;
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
				this.doc = edit(start);
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
		this.dragAgain = (now) => {
			start = now;
			this.doc = last(now);
		};
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
		const out = new Float64Array(compiled.layout.rest.length);
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

	/** Resolves when the server has it; it is shown before. */
	undo(): Promise<void> {
		return this.travel('undo');
	}
	redo(): Promise<void> {
		return this.travel('redo');
	}

	private travel(kind: 'undo' | 'redo'): Promise<void> {
		this.drag?.cancel();
		const label = this.saver.sync.travel(kind);
		if (label !== null) tellTravel(kind, label);
		return this.saver.flushed();
	}

	/** A document that no edit here made; picks of what is gone go with it, and a drag goes on from it. */
	private take(doc: Doc): void {
		this.keys = prunedKeys(doc, this.keys);
		if (this.dragAgain) this.dragAgain(doc);
		else this.doc = doc;
	}
}

/** One message for all presses in a row. */
function tellTravel(kind: 'undo' | 'redo', label: string): void {
	toast(`${kind === 'undo' ? 'Undone' : 'Redone'}: ${label}`, { id: 'travel', duration: 1800 });
}

function tellOvertaken(kind: 'undo' | 'redo', theirs: readonly string[]): void {
	const what = theirs.length > 0 ? `“${theirs.join('”, “')}”` : 'something';
	toast(`Not ${kind === 'undo' ? 'undone' : 'redone'}: another window did ${what} since`, {
		id: 'travel',
		description: 'Undo takes back the last edit of all windows: press it again to take that one back.',
		duration: 8000,
	});
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
