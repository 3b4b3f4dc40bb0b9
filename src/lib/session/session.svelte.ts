/** The open project with what this window does with it. One a window; components get it from context. */
import { getContext, setContext } from 'svelte';
import { compileClip, type CompiledClip } from '$core/clip/compile';
import type { Posed } from '$core/clip/layout';
import { diffDocuments, isEmpty } from '$core/document/changeset';
import type { Blend, Clip, Doc } from '$core/document/types';
import type { Hand } from '$core/edits/by-hand';
import type { CopiedChannel } from '$core/edits/clipboard';
import { restoreClip, restoreProject } from '$core/edits/restore';
import { makeLayout } from '$player/layout';
import { evaluateClip, evaluateRound } from '$player/motion';
import type { Loaded } from '$lib/api/client';
import { Across } from './across.svelte';
import { Asks } from './asks.svelte';
import { Project, type Drag, type Edit } from './project.svelte';
import type { Saver } from './saver.svelte';
import { NO_KEYS, Selection } from './selection.svelte';
import type { Conflict } from './steps';
import { Transport } from './transport.svelte';
import { View } from './view.svelte';

/** Without a clip nothing moves. */
const AT_REST: Posed = { layout: makeLayout([]), pose: new Float64Array(0) };

export class Session {
	readonly project: Project;
	readonly selection: Selection;
	readonly transport: Transport;
	readonly view: View;
	readonly asks = new Asks();
	/** The open clip. */
	clipId = $state<string | null>(null);
	/** Whether what is changed by hand gets keys. */
	isAutoKey = $state(false);
	/** Whether auto-key keys everything that is changed, or refuses what has no channel yet. */
	autoKeyScope = $state<'everything' | 'existing'>('everything');
	/** Files that were exported in this window. */
	exported = $state(0);
	/** Keys that were copied in this window. */
	copied = $state.raw<readonly CopiedChannel[]>([]);
	/** The same as the system's clipboard has them. */
	copiedText = '';
	/** A clip as it was when it was pinned: shown beside what it is now. */
	private pinned = $state.raw<{ clip: string; doc: Doc } | null>(null);

	readonly clip: Clip | null = $derived.by(() =>
		this.clipId === null ? null : (this.doc.clips[this.clipId] ?? null),
	);
	readonly compiled: CompiledClip | null = $derived.by(() =>
		this.clip ? compileClip(this.doc, this.clip) : null,
	);
	/** The pinned version of the open clip, ready to play. */
	readonly pinnedClip: CompiledClip | null = $derived.by(() => {
		const { pinned } = this;
		return pinned && pinned.clip === this.clipId
			? compileClip(pinned.doc, pinned.doc.clips[pinned.clip])
			: null;
	});
	/** What is shown: the open clip at the playhead, or what a blend makes of two while it is played. */
	readonly posed: Posed = $derived.by(() => {
		if (this.across.posed) return this.across.posed;
		return this.compiled ? { layout: this.compiled.layout, pose: this.poseOf(this.compiled) } : AT_REST;
	});

	readonly across = new Across(() => this.transport.speed);

	constructor(loaded: Loaded, conflicts: readonly Conflict[] = []) {
		const docNow = () => this.project.doc;
		this.selection = new Selection(docNow);
		this.view = new View(docNow, loaded.doc);
		this.project = new Project(loaded, conflicts, () => this.selection);
		this.transport = new Transport(
			() => this.clip,
			() => this.project.frameRate,
		);
	}

	get doc(): Doc {
		return this.project.doc;
	}

	get saver(): Saver {
		return this.project.saver;
	}

	get frameRate(): number {
		return this.project.frameRate;
	}

	edit(label: string, edit: Edit): void {
		this.project.edit(label, edit);
	}

	startDrag(label: string): Drag {
		return this.project.startDrag(label);
	}

	/** Where changes of a part by hand go now; null without a clip. */
	handOn(part: string, keysExisting = false): Hand | null {
		const { clip, isAutoKey, autoKeyScope } = this;
		const t = Math.round(this.transport.local);
		return clip && { clip: clip.id, part, t, autoKey: isAutoKey ? autoKeyScope : 'off', keysExisting };
	}

	openClip(id: string): void {
		if (this.clipId === id) return;
		this.clipId = id;
		this.selection.take({ keys: NO_KEYS, channel: null });
		this.across.stop();
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

	/** Plays the end of the open clip over into another. */
	playAcross(blend: Blend): void {
		this.transport.stop();
		this.across.play(this.doc, blend);
	}

	/** Plays or pauses, whatever is played. */
	togglePlaying(fromStart = false): void {
		if (this.across.blend !== null) this.across.stop();
		else if (fromStart) this.transport.play(true);
		else this.transport.toggle();
	}

	/** Keeps the open clip as it is for comparison, or lets go of it. */
	togglePin(): void {
		if (this.pinnedClip || !this.clip) this.pinned = null;
		else this.pinned = { clip: this.clip.id, doc: this.project.committed };
	}

	/** Pins the open clip as it is in another version of the project; false where that has no such clip. */
	pinVersion(doc: Doc): boolean {
		if (!this.clip || !doc.clips[this.clip.id]) return false;
		this.pinned = { clip: this.clip.id, doc };
		return true;
	}

	/** Brings the open clip or the whole project back as it is in another version, as one edit. */
	restoreVersion(version: Doc, what: 'clip' | 'project', label: string): 'restored' | 'same' | 'absent' {
		const { clip } = this;
		if (what === 'clip' && (!clip || !version.clips[clip.id])) return 'absent';
		const now = this.project.committed;
		const restored = what === 'project' ? restoreProject(now, version) : restoreClip(now, version, clip!.id);
		if (isEmpty(diffDocuments(now, restored))) return 'same';
		this.edit(label, () => restored);
		this.selection.prune(this.doc);
		return 'restored';
	}

	/** The pinned version becomes the clip, and what it was is pinned. */
	swapPinned(): void {
		const { pinned } = this;
		if (!pinned || pinned.clip !== this.clipId) return;
		const now = this.project.committed;
		this.edit('Swap with the pinned version', (doc) => restoreClip(doc, pinned.doc, pinned.clip));
		this.pinned = { clip: pinned.clip, doc: now };
		this.selection.prune(this.doc);
	}
}

const CONTEXT = Symbol('session');

export function provideSession(session: Session): Session {
	return setContext(CONTEXT, session);
}

export function useSession(): Session {
	return getContext<Session>(CONTEXT);
}
