/** Makes the clip file of a document away from the page. */
import { expose } from 'comlink';
import { partTree } from '$core/clip/compile';
import type { Changeset } from '$core/document/changeset';
import { clipsInOrder, type Doc } from '$core/document/types';
import { draftClips } from '$core/formats/clips/shipping';
import { runRehearsal, type Outcome } from '$core/rehearse/run';
import { DEFAULT_BOUNDS } from '$core/tracks/bounds';
import { strFromU8 } from 'fflate';
import { Mirror } from './mirror';

/** A clip file as text, with the ids of its parts and clips in their order; without clips there is none. */
export interface MadeClips {
	text: string;
	parts: string[];
	clips: string[];
}

const mirror = new Mirror();

const clips = {
	open: (whole: Doc): void => mirror.open(whole),
	/** The file after a change; null where the change does not fit what is known here. */
	make(change: Changeset | null): MadeClips | null {
		const doc = mirror.after(change);
		if (!doc) return null;
		const all = clipsInOrder(doc);
		return {
			text: all.length === 0 ? '' : strFromU8(draftClips(doc, all, DEFAULT_BOUNDS)),
			parts: partTree(doc).parts.map(({ id }) => id),
			clips: all.map(({ id }) => id),
		};
	},
	/** What comes of a rehearsal after a change; null where that does not fit, or the rehearsal is gone. */
	rehearse(change: Changeset | null, id: string): Outcome | null {
		const doc = mirror.after(change);
		const rehearsal = doc?.rehearsals[id];
		return doc && rehearsal ? runRehearsal(doc, rehearsal) : null;
	},
};
export type Clips = typeof clips;

expose(clips);
