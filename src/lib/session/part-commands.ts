/** What can be done with parts, for the finder, the menu of a part and the help. */
import { keyRestPose } from '$core/edits/keys';
import { restFromPose, stillPart } from '$core/edits/parts';
import { channelsOfClip, formulasOfClip, type Part } from '$core/document/types';
import { commandsOf, type Command, type CommandTargets } from './command';
import { hangPart, stepInTree } from './hang-part';
import { pickKeysOf } from './key-actions';
import { addPart, copyPart, deletePart, newPartKinds } from './new-things';
import type { Session } from './session.svelte';

/** Those that the menu of a part shows, in this order. */
export const PART_MENU = [
	'part-rename',
	'part-pick',
	'part-copy',
	'part-copy-keys',
	'part-earlier',
	'part-later',
	'part-unhang',
	'part-alone',
	'part-hide',
	'part-lock',
	'part-key-rest',
	'part-rest-here',
	'part-still',
	'part-drop',
	'part-delete',
] as const;

function toggled(set: ReadonlySet<string>, id: string): Set<string> {
	const next = new Set(set);
	if (!next.delete(id)) next.add(id);
	return next;
}

export function toggleHidden(session: Session, part: string): void {
	session.hiddenParts = toggled(session.hiddenParts, part);
}
export function toggleLocked(session: Session, part: string): void {
	session.lockedParts = toggled(session.lockedParts, part);
}
export function toggleAlone(session: Session, part: string): void {
	session.soloPart = session.soloPart === part ? null : part;
}

/** Picks all keys of a part in the open clip beside those that are picked; the part is in hand then. */
export function addKeysOf(session: Session, part: string): void {
	const before = session.keys;
	pickKeysOf(session, (channel) => channel.part === part);
	session.keys = new Map([...before, ...session.keys]);
	session.partId = part;
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
	session.edit(`Let ${part.name} rest in ${clip.name}`, (doc) => stillPart(doc, clip.id, part.id));
	session.pickPart(part.id);
}

export function partCommands({ session }: CommandTargets): Command[] {
	const command = commandsOf('Parts');
	/** A command on the picked part. */
	const onPart = (
		id: string,
		label: string,
		keys: string,
		run: (part: Part) => void,
		can: (part: Part) => boolean = () => true,
	) =>
		command(
			id,
			label,
			keys,
			() => session.part && run(session.part),
			() => session.part !== null && can(session.part),
		);
	const kinds = newPartKinds(session.doc.project.space);
	return [
		command('part-new', 'A new part', 'Shift+N', () => (session.sheet = 'new part')),
		...kinds.map((kind) =>
			command(`part-new-${kind}`, `A new part: ${kind}`, '', () => addPart(session, kind)),
		),
		onPart('part-rename', 'Rename the part', 'F2', (part) => (session.partToName = part.id)),
		onPart('part-earlier', 'The part earlier among its like', 'Alt+ArrowUp', (part) =>
			stepInTree(session, part.id, -1),
		),
		onPart('part-later', 'The part later among its like', 'Alt+ArrowDown', (part) =>
			stepInTree(session, part.id, 1),
		),
		onPart('part-pick', 'Pick all keys of the part', '', (part) =>
			pickKeysOf(session, (channel) => channel.part === part.id),
		),
		onPart('part-copy', 'Duplicate the part without keys', '', (part) => copyPart(session, part, false)),
		onPart('part-copy-keys', 'Duplicate the part with its keys', 'Shift+D', (part) =>
			copyPart(session, part, true),
		),
		onPart(
			'part-unhang',
			'Hang the part on nothing',
			'',
			(part) => hangPart(session, part.id, null, 'now'),
			(part) => part.parent !== null,
		),
		onPart('part-alone', 'Show the part alone, or all again', '', (part) => toggleAlone(session, part.id)),
		onPart('part-hide', 'Hide the part, or show it', '', (part) => toggleHidden(session, part.id)),
		onPart('part-lock', 'Lock the part, or unlock it', '', (part) => toggleLocked(session, part.id)),
		onPart(
			'part-key-rest',
			'Key the rest pose of the part',
			'',
			(part) => keyRest(session, part),
			(part) => hasChannels(session, part),
		),
		onPart(
			'part-rest-here',
			'Rest the part as it is now',
			'',
			(part) => restHere(session, part),
			() => session.compiled !== null,
		),
		onPart(
			'part-still',
			'Let the part rest: all that moves it out of this clip',
			'',
			(part) => letRest(session, part),
			(part) => isMoved(session, part),
		),
		onPart('part-drop', 'Drop the part and let it bounce', '', () => (session.sheet = 'drop')),
		onPart('part-delete', 'Delete the part and what hangs on it', '', (part) => deletePart(session, part)),
	];
}
