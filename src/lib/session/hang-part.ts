/** Gives a part another parent, and keeps it in its place if that is wanted and can be. */
import { toast } from 'svelte-sonner';
import { updatePart } from '$core/document/edits/parts';
import { reparent, reparentBaked } from '$core/document/edits/reparent';
import type { Session } from './session.svelte';

/** Kept where it is at the playhead, all through the clip as keys, or not at all. */
export type Keeping = 'now' | 'clip' | 'no';

export function hangPart(session: Session, id: string, parent: string | null, keeps: Keeping): void {
	const { clip, doc } = session;
	if (!doc.parts[id] || doc.parts[id].parent === parent) return;
	if (!clip || keeps === 'no') {
		session.edit('Change parent', (d) => updatePart(d, id, { parent }));
		return;
	}
	const place = { clip, local: Math.round(session.transport.local) };
	const hung = (keeps === 'now' ? reparent : reparentBaked)(doc, id, parent, place);
	if (hung.ok) session.edit('Change parent', () => hung.value);
	else toast.error('It cannot hang there and stay where it is', { description: hung.problems[0].message });
}
