/** Moving selected keys by an amount that was typed or nudged. */
import { toast } from 'svelte-sonner';
import { updateClip } from '$core/edits/clips';
import { cuesOfColumns, moveCues } from '$core/edits/cues-along';
import { extentOf, moveKeys, shiftSelection, type KeySelection } from '$core/edits/keys';
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

/** Moves the selected keys in time and value: by the whole amount, or not at all and with a word. */
export function moveSelected(session: Session, ticks: number, value = 0): boolean {
	const { clip, selection, frameRate } = session;
	const { keys } = selection;
	const extent = extentOf(keys);
	if (!clip || !extent) return false;
	const frame = (t: number) => writeNumber(ticksToFrame(t, frameRate), 2);
	const end = extent.last + ticks;
	const refuse = (description: string) => {
		toast('The keys cannot be moved that far', { id: 'move', description });
		return false;
	};
	if (extent.first + ticks < 0) return refuse(`The first stands at frame ${frame(extent.first)}.`);
	const passes = ticks > 0 && end > clip.length;
	if (end > MAX_CLIP_TICKS) return refuse('A clip is at most 600 s long.');
	if (passes && !clipGrows()) return refuse(`The clip ends at frame ${frame(clip.length)}.`);
	const cues = cuesAlong(session, keys);
	session.edit('Move keys', (doc) => {
		const moved = moveKeys(doc, keys, ticks, value);
		const longer = passes ? updateClip(moved, clip.id, { length: end }) : moved;
		return {
			doc: moveCues(longer, cues, ticks),
			keys: shiftSelection(keys, ticks),
		};
	});
	if (passes)
		toast(`The clip now ends at frame ${frame(end)}`, {
			id: 'move',
			description: 'Move by an amount (N) has the choice to keep its length.',
		});
	return true;
}

export const nudge = (session: Session, frames: number) =>
	moveSelected(session, frameToTicks(frames, session.frameRate));
