/** Acts that leave keys between frames offer to put them back on frames. */
import { toast } from 'svelte-sonner';
import { moveCues } from '$core/edits/cues-along';
import { countKeys, type KeySelection } from '$core/edits/keys';
import { keysOffFrames, toWholeFrames } from '$core/edits/whole-frames';
import type { Doc } from '$core/document/types';
import { isOnFrame, snapToFrame } from '$core/time';
import type { Session } from '$lib/session/session.svelte';
import { cuesAlong } from './move-keys';

const TOAST = 'whole-frames';
const told = (count: number) => `${count} ${count === 1 ? 'key stands' : 'keys stand'} between frames`;

/** Moves keys to whole frames, and cues that go along with them. */
export function putOnFrames(session: Session, keys: KeySelection): void {
	const { clip, frameRate } = session;
	if (!clip) return;
	const cues = cuesAlong(session, keys);
	/** Of those that were to be moved. */
	let left = 0;
	session.edit('Move to whole frames', (doc) => {
		const made = toWholeFrames(doc, keys);
		for (const times of made.keys.values()) for (const t of times) if (!isOnFrame(t, frameRate)) left++;
		const settled = cues.reduce((next, id) => {
			const { t } = next.cues[id];
			return moveCues(next, [id], snapToFrame(t, frameRate) - t);
		}, made.doc);
		return { ...made, doc: settled };
	});
	if (left > 0) toast(told(left), { id: TOAST, description: 'Other keys have their frames.' });
	else toast.dismiss(TOAST);
}

/** Offers to put keys on whole frames that an act has left between frames: those that were not there before. */
export function offerWholeFrames(session: Session, before: Doc): void {
	const { clip, doc } = session;
	if (!clip) return;
	const old = keysOffFrames(before, clip.id);
	const keys = new Map(
		[...keysOffFrames(doc, clip.id)].flatMap(([id, times]) => {
			const own = [...times].filter((t) => !old.get(id)?.has(t));
			return own.length > 0 ? [[id, new Set(own)] as const] : [];
		}),
	);
	if (keys.size === 0) return;
	toast(told(countKeys(keys)), {
		id: TOAST,
		duration: 8000,
		action: {
			label: 'To whole frames',
			// By then another clip may be open.
			onClick: () => session.clip?.id === clip.id && putOnFrames(session, keys),
		},
	});
}
