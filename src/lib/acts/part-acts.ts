/** What is done with parts in the open clip. */
import { channelsOfClip, formulasOfClip, type Part } from '$core/document/types';
import { keyRestPose } from '$core/edits/keys';
import { restFromPose, stillPart } from '$core/edits/parts';
import { pickKeysOf } from './key-actions';
import type { Session } from '$lib/session/session.svelte';

/** Picks all keys of a part in the open clip beside those that are picked; the part is in hand then. */
export function addKeysOf(session: Session, part: string): void {
	const before = session.selection.keys;
	pickKeysOf(session, (channel) => channel.part === part);
	session.selection.keys = new Map([...before, ...session.selection.keys]);
	session.selection.partId = part;
}
/** Keys the rest pose at the playhead, on all that moves of a part in the open clip. */
export function keyRest(session: Session, part: Part): void {
	const { clip } = session;
	const t = Math.round(session.transport.local);
	if (clip) session.edit(`Key the rest pose of ${part.name}`, (doc) => keyRestPose(doc, clip.id, part.id, t));
}
/** What a part shows now becomes its rest pose. */
export function restHere(session: Session, part: Part): void {
	// Without a clip nothing is shown.
	if (!session.compiled) return;
	const { posed } = session;
	session.edit(`Rest ${part.name} here`, (doc) => restFromPose(doc, part.id, posed));
}
export function hasChannels({ doc, clip }: Session, part: Part): boolean {
	return clip !== null && channelsOfClip(doc, clip.id).some((channel) => channel.part === part.id);
}

/** Whether keys or formulas move a part in the open clip. */
export function isMoved(session: Session, part: Part): boolean {
	const { doc, clip } = session;
	return (
		hasChannels(session, part) ||
		(clip !== null && formulasOfClip(doc, clip.id).some((formula) => formula.part === part.id))
	);
}
/** Back to rest: takes all that moves a part out of the open clip. */
export function letRest(session: Session, part: Part): void {
	const { clip } = session;
	if (!clip) return;
	session.edit(`Let ${part.name} rest in ${clip.name}`, (doc) => ({
		doc: stillPart(doc, clip.id, part.id),
		part: part.id,
	}));
}
