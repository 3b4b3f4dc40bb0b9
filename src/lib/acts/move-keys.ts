/** Moving selected keys by an amount that was typed or nudged. */
import { toast } from 'svelte-sonner';
import { updateClip } from '$core/edits/clips';
import { cuesOfColumns, moveCues } from '$core/edits/cues-along';
import type { Doc } from '$core/document/types';
import { duplicateKeys, extentOf, moveKeys, shiftSelection, type KeySelection } from '$core/edits/keys';
import { frameToTicks, MAX_CLIP_TICKS, ticksToFrame } from '$core/time';
import type { Session } from '$lib/session/session.svelte';
import { keep, readKept } from '$lib/ui/kept';
import { writeNumber } from '$lib/ui/number-text';

/** Whether the clip grows when selected keys are moved past its end; else such a move is refused. */
const GROWS = 'clip-grows';
export const clipGrows = () => readKept(GROWS) !== false;
export const setClipGrows = (grows: boolean) => keep(GROWS, grows);

/** The cues that go along when keys are moved, as was chosen. */
export function cuesAlong({ doc, clip, view }: Session, keys: KeySelection): string[] {
	return clip && view.cuesToo ? cuesOfColumns(doc, clip.id, keys) : [];
}

const frameOf = ({ frameRate }: Session, t: number) => writeNumber(ticksToFrame(t, frameRate), 2);

function refuse(title: string, description: string): null {
	toast(title, { id: 'move', description });
	return null;
}

/**
 * Makes room in a clip for keys of which the last is to stand at a tick: the change that lengthens the clip, if it has
 * to be. Null where they cannot be there, with a word.
 */
export function roomFor(
	session: Session,
	clipId: string,
	end: number,
	refusal: string,
): ((doc: Doc) => Doc) | null {
	const { length } = session.doc.clips[clipId];
	if (end <= length) return (doc) => doc;
	if (end > MAX_CLIP_TICKS) return refuse(refusal, 'A clip is at most 600 s long.');
	if (!clipGrows()) return refuse(refusal, `The clip ends at frame ${frameOf(session, length)}.`);
	toast(`The clip now ends at frame ${frameOf(session, end)}`, {
		id: 'move',
		description: 'Move by an amount (N) has the choice to keep its length.',
	});
	return (doc) => updateClip(doc, clipId, { length: end });
}

const TOO_FAR = 'The keys cannot be moved that far';

/** Moves the selected keys in time and value: by the whole amount, or not at all and with a word. */
export function moveSelected(session: Session, ticks: number, value = 0): boolean {
	const { clip, selection } = session;
	const { keys } = selection;
	const extent = extentOf(keys);
	if (!clip || !extent) return false;
	if (extent.first + ticks < 0) {
		refuse(TOO_FAR, `The first stands at frame ${frameOf(session, extent.first)}.`);
		return false;
	}
	// Keys that are past the end already may go back towards it.
	const lengthen = roomFor(session, clip.id, ticks > 0 ? extent.last + ticks : 0, TOO_FAR);
	if (!lengthen) return false;
	const cues = cuesAlong(session, keys);
	session.edit('Move keys', (doc) => ({
		doc: moveCues(lengthen(moveKeys(doc, keys, ticks, value)), cues, ticks),
		keys: shiftSelection(keys, ticks),
	}));
	return true;
}

/** Copies of the selected keys at the playhead, selected then. */
export function duplicateHere(session: Session): void {
	const { clip, selection, transport } = session;
	const { keys } = selection;
	const extent = extentOf(keys);
	if (!clip || !extent) return;
	const t = Math.round(transport.local);
	const end = t + extent.last - extent.first;
	const lengthen = roomFor(session, clip.id, end, 'The keys cannot be duplicated here');
	if (!lengthen) return;
	session.edit('Duplicate keys', (doc) => ({
		doc: duplicateKeys(lengthen(doc), keys, t),
		keys: shiftSelection(keys, t - extent.first),
	}));
}

export const nudge = (session: Session, frames: number) =>
	moveSelected(session, frameToTicks(frames, session.frameRate));
