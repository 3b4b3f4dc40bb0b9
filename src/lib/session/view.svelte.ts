/** What of a project is shown and may be touched: a matter of looking, never of the document. */
import type { Doc } from '$core/document/types';
import { Arrangement } from './arrangement.svelte';
import { StageLook } from './stage-look.svelte';
import { keep, readKept } from '$lib/ui/kept';

const CUES_TOO = 'cues-too';

function toggled(set: ReadonlySet<string>, id: string): Set<string> {
	const next = new Set(set);
	if (!next.delete(id)) next.add(id);
	return next;
}

export class View {
	private hiddenParts = $state.raw<ReadonlySet<string>>(new Set());
	lockedParts = $state.raw<ReadonlySet<string>>(new Set());
	/** The part that is shown alone. */
	alonePart = $state<string | null>(null);
	/** The middle handle on the stage moves the pivot. */
	pivotMode = $state(false);
	/** Whether cues go along where all keys of a part are moved. */
	cuesToo = $state(readKept(CUES_TOO) !== false);
	/** Channels whose speed is drawn over their value. */
	speeds = $state.raw<ReadonlySet<string>>(new Set());
	private readonly speedsName: string;
	/** Parts that were there when the project was opened here. */
	private readonly known: ReadonlySet<string>;
	readonly look = new StageLook();
	readonly arrangement: Arrangement;

	constructor(
		private readonly docNow: () => Doc,
		opened: Doc,
	) {
		this.arrangement = new Arrangement(opened.project.id);
		this.speedsName = `speeds-${opened.project.id}`;
		const kept = readKept(this.speedsName);
		if (Array.isArray(kept)) this.speeds = new Set(kept.filter((id) => typeof id === 'string'));
		this.known = new Set(Object.keys(opened.parts));
	}

	setCuesToo(too: boolean): void {
		this.cuesToo = too;
		keep(CUES_TOO, too);
	}

	/** Draws the speed of channels, or no longer where all have it drawn. */
	toggleSpeeds(ids: readonly string[]): void {
		const speeds = new Set(this.speeds);
		const all = ids.every((id) => speeds.has(id));
		for (const id of ids)
			if (all) speeds.delete(id);
			else speeds.add(id);
		this.speeds = speeds;
		keep(this.speedsName, [...speeds]);
	}

	/** Whether a part was made since the project was opened here. */
	isNew(part: string): boolean {
		return !this.known.has(part);
	}

	toggleHidden(part: string): void {
		this.hiddenParts = toggled(this.hiddenParts, part);
	}
	toggleLocked(part: string): void {
		this.lockedParts = toggled(this.lockedParts, part);
	}
	toggleAlone(part: string): void {
		this.alonePart = this.alonePart === part ? null : part;
	}

	/** Whether a part itself is hidden, whatever its parents are. */
	hides(part: string): boolean {
		return this.hiddenParts.has(part);
	}

	/** Whether a part is not to be shown: it or a parent is hidden, or another is shown alone. */
	isHidden(part: string): boolean {
		const { parts } = this.docNow();
		let isAlone = this.alonePart === null;
		for (let at: string | null = part; at !== null; at = parts[at]?.parent ?? null) {
			if (this.alonePart === null && this.hiddenParts.has(at)) return true;
			isAlone ||= at === this.alonePart;
		}
		return !isAlone;
	}
}
