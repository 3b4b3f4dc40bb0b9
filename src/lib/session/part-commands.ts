/** What can be done with parts, for the finder, the menu of a part and the help. */
import type { Command, CommandTargets } from './command';
import { hangPart } from './hang-part';
import { addPart, copyPart, deletePart, NEW_PARTS } from './new-things';
import type { Session } from './session.svelte';

/** Those that the menu of a part shows, in this order. */
export const PART_MENU = [
	'part-pick',
	'part-copy',
	'part-copy-keys',
	'part-unhang',
	'part-alone',
	'part-hide',
	'part-lock',
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

/** Picks the keys of channels of the open clip. */
function pickKeysOf(
	session: Session,
	isWanted: (channel: { part: string; property: string }) => boolean,
): void {
	const { clip, doc } = session;
	const found = Object.values(doc.channels).filter(
		(channel) => channel.clip === clip?.id && isWanted(channel),
	);
	session.pickKeys(new Map(found.map(({ id, keys }) => [id, new Set(keys.map((key) => key.t))])));
}

export function partCommands({ session, openNewPart }: CommandTargets): Command[] {
	/** A command on the picked part; without one it does nothing. */
	const onPart = (
		id: string,
		label: string,
		run: (part: NonNullable<Session['part']>) => void,
		shortcut: { keys: string[]; shown: string } = { keys: [], shown: '' },
	): Command => ({
		id,
		group: 'Parts',
		label,
		...shortcut,
		run: () => {
			if (session.part) run(session.part);
		},
	});
	const kinds = NEW_PARTS.filter((kind) => kind !== 'camera' || session.doc.project.space === 'world');
	return [
		{
			id: 'part-new',
			group: 'Parts',
			label: 'A new part',
			keys: ['Shift+N'],
			shown: 'Shift+N',
			run: openNewPart,
		},
		...kinds.map((kind): Command => ({
			id: `part-new-${kind}`,
			group: 'Parts',
			label: `A new part: ${kind}`,
			keys: [],
			shown: '',
			run: () => addPart(session, kind),
		})),
		onPart('part-pick', 'Pick all keys of the part', (part) =>
			pickKeysOf(session, (channel) => channel.part === part.id),
		),
		{
			id: 'property-pick',
			group: 'Keys',
			label: 'Pick all keys of the property: x, y and z',
			keys: ['Shift+A'],
			shown: 'Shift+A',
			run: () => {
				const { channel: own } = session;
				if (own) pickKeysOf(session, ({ part, property }) => part === own.part && property === own.property);
			},
		},
		onPart('part-copy', 'Duplicate the part without keys', (part) => copyPart(session, part, false)),
		onPart('part-copy-keys', 'Duplicate the part with its keys', (part) => copyPart(session, part, true), {
			keys: ['Shift+D'],
			shown: 'Shift+D',
		}),
		onPart('part-unhang', 'Hang the part on nothing', (part) => {
			if (part.parent !== null) hangPart(session, part.id, null, 'now');
		}),
		onPart('part-alone', 'Show the part alone, or all again', (part) => toggleAlone(session, part.id)),
		onPart('part-hide', 'Hide the part, or show it', (part) => toggleHidden(session, part.id)),
		onPart('part-lock', 'Lock the part, or unlock it', (part) => toggleLocked(session, part.id)),
		onPart('part-delete', 'Delete the part and what hangs on it', (part) => deletePart(session, part)),
	];
}
