/** Gives a part another place in the tree, and keeps it where it is seen if that is wanted and can be. */
import { generateKeyBetween } from 'fractional-indexing';
import { toast } from 'svelte-sonner';
import { updatePart } from '$core/edits/parts';
import { reparent, reparentBaked } from '$core/edits/reparent';
import { childrenOf, type Doc } from '$core/document/types';
import type { Session } from '$lib/session/session.svelte';

/** Kept where it is at the playhead, all through the clip as keys, or not at all. */
export type Keeping = 'now' | 'clip' | 'no';

export function hangPart(session: Session, id: string, parent: string | null, keeps: Keeping): void {
	const { doc } = session;
	if (!doc.parts[id] || doc.parts[id].parent === parent) return;
	const hung = hungOn(session, id, parent, keeps);
	if (hung) session.edit('Change parent', () => hung);
}

/** The document with another parent for a part; null, and told, where it cannot stay in its place there. */
function hungOn(
	{ clip, doc, transport }: Session,
	id: string,
	parent: string | null,
	keeps: Keeping,
): Doc | null {
	if (doc.parts[id].parent === parent) return doc;
	if (!clip || keeps === 'no') return updatePart(doc, id, { parent });
	const place = { clip, local: Math.round(transport.local) };
	const hung = (keeps === 'now' ? reparent : reparentBaked)(doc, id, parent, place);
	if (hung.ok) return hung.value;
	toast.error('It cannot hang there and stay where it is', { description: hung.problems[0].message });
	return null;
}

/** Puts a part beside another one in the tree: with the same parent, and where it is in the world. */
export function putBeside(session: Session, id: string, other: string, side: 'before' | 'after'): void {
	const { parent } = session.doc.parts[other];
	const siblings = childrenOf(session.doc, parent).filter((part) => part.id !== id);
	const at = siblings.findIndex((part) => part.id === other) + (side === 'after' ? 1 : 0);
	const order = generateKeyBetween(siblings[at - 1]?.order ?? null, siblings[at]?.order ?? null);
	const hung = hungOn(session, id, parent, 'now');
	if (hung)
		session.edit(`Move ${session.doc.parts[id].name} in the tree`, () => updatePart(hung, id, { order }));
}

/** Moves a part one place up or down among those that hang on the same. */
export function stepInTree(session: Session, id: string, by: -1 | 1): void {
	const siblings = childrenOf(session.doc, session.doc.parts[id].parent);
	const other = siblings[siblings.findIndex((part) => part.id === id) + by];
	if (other) putBeside(session, id, other.id, by < 0 ? 'before' : 'after');
}
