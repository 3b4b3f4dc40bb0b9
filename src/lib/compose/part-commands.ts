/** What can be done with parts, for the finder, the menu of a part and the help. */
import type { Session } from '$lib/session/session.svelte';
import { hasProperty } from '$core/document/rest';
import type { Part } from '$core/document/types';
import { STARTER_MOTIONS } from '$core/motions/starter';
import type { BenchField } from '$lib/session/fields';
import { DRAWING_NAMES } from '$core/document/labels';
import { commandsOf, type Command } from '$lib/ui/command';
import { type CommandTargets } from './targets';
import { hangPart, stepInTree } from '$lib/acts/hang-part';
import { pickKeysOf } from '$lib/acts/key-actions';
import { putMotionHere } from '$lib/acts/motions';
import { filesForParts } from '$lib/acts/part-files';
import { addPart, copyPart, deletePart, newPartKinds } from '$lib/acts/new-parts';
import { ALIGNMENTS } from '$core/edits/align';
import {
	addNumber,
	alignmentName,
	alignParts,
	cutLife,
	hasChannels,
	isMoved,
	keyRest,
	letRest,
	pickedParts,
	restHere,
	toggleVolume,
	volumeOf,
} from '$lib/acts/part-acts';

/** Makes commands on the selected part. */
function onPartOf(session: Session) {
	const command = commandsOf('Parts');
	return (
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
			() => session.selection.part && run(session.selection.part),
			() => session.selection.part !== null && can(session.selection.part),
		);
}

/** New parts. */
function makingParts(session: Session): Command[] {
	const command = commandsOf('Parts');
	const kinds = newPartKinds(session.doc.project.space);
	return [
		command('part-new', 'New part', 'Shift+N', () => (session.asks.sheet = 'new part')),
		...kinds.map((kind) =>
			command(`part-new-${kind}`, `New part: ${DRAWING_NAMES[kind]}`, '', () => addPart(session, kind)),
		),
		command('part-new-icon', 'New part: icon', '', () => (session.asks.newPart = 'icon')),
		...filesForParts(session.doc.project.space).map(({ kind, label }) =>
			command(`part-new-${kind}`, `New part from a file: ${label}`, '', () => (session.asks.newPart = kind)),
		),
	];
}

/** Several parts at once. */
function partsTogether(session: Session): Command[] {
	const command = commandsOf('Parts');
	return ALIGNMENTS.map((how) => {
		const spreads = how.startsWith('distribute');
		const id = `align-${how.replace(' ', '-')}`;
		return command(
			id,
			`${alignmentName(how)}: selected parts`,
			'',
			() => alignParts(session, how),
			() => session.clip !== null && pickedParts(session).length > (spreads ? 2 : 1),
		);
	});
}

/** A part as one among others: its name, its place in the tree, copies, what is shown and may be touched. */
function partsInTree(session: Session): Command[] {
	const onPart = onPartOf(session);
	return [
		onPart('part-rename', 'Rename the part', 'F2', (part) => (session.asks.partName = part.id)),
		onPart('part-earlier', 'Move the part up among its siblings', 'Alt+ArrowUp', (part) =>
			stepInTree(session, part.id, -1),
		),
		onPart('part-later', 'Move the part down among its siblings', 'Alt+ArrowDown', (part) =>
			stepInTree(session, part.id, 1),
		),
		onPart('part-pick', 'Select all keys of the part', '', (part) =>
			pickKeysOf(session, (channel) => channel.part === part.id),
		),
		onPart('part-copy', 'Duplicate the part without keys', '', (part) => copyPart(session, part, false)),
		onPart('part-copy-keys', 'Duplicate the part with its keys', 'Shift+D', (part) =>
			copyPart(session, part, true),
		),
		onPart(
			'part-unhang',
			'Unparent the part',
			'',
			(part) => hangPart(session, part.id, null, 'now'),
			(part) => part.parent !== null,
		),
		onPart('part-alone', 'Show the part alone, or all again', '', (part) =>
			session.view.toggleAlone(part.id),
		),
		onPart('part-hide', 'Hide the part, or show it', '', (part) => session.view.toggleHidden(part.id)),
		onPart('part-lock', 'Lock the part, or unlock it', '', (part) => session.view.toggleLocked(part.id)),
	];
}

/** Fields of the part's card. */
function partsOnBench(session: Session): Command[] {
	const onPart = onPartOf(session);
	const toField = (
		id: Exclude<BenchField, 'part-numbers'> & `part-${string}`,
		label: string,
		can?: (part: Part) => boolean,
	) => onPart(id, label, '', () => (session.asks.field = id), can);
	return [
		toField('part-translation', 'Translation of the part'),
		toField('part-rotation', 'Rotation of the part'),
		toField('part-scale', 'Scale of the part'),
		toField('part-size', 'Size of the part', (part) => hasProperty(part, 'size')),
		toField('part-opacity', 'Opacity of the part', (part) => hasProperty(part, 'opacity')),
		toField('part-colour', 'Colour of the part'),
		toField('part-reveal', 'Reveal: uncover the part from its edges', (part) => hasProperty(part, 'reveal')),
		toField('part-parent', 'Parent of the part'),
		toField('part-euler', 'Euler order of the part', () => session.doc.project.space === 'world'),
		toField('part-pivot', 'Pivot of the part: one of nine places, or typed'),
		onPart('part-pivot-drag', 'Pivot: drag it on the stage, or the part again', '', () => {
			session.view.pivotMode = !session.view.pivotMode;
		}),
		onPart(
			'part-volume',
			'Keep the volume of the part, on a screen its area, or let it change',
			'',
			(part) => toggleVolume(session, part),
			(part) => volumeOf(session, part).why === null,
		),
	];
}

/** What a part does, and its end. */
function partsAtRest(session: Session): Command[] {
	const onPart = onPartOf(session);
	return [
		onPart(
			'part-key-rest',
			'Key rest pose of the part',
			'',
			(part) => keyRest(session, part),
			(part) => hasChannels(session, part),
		),
		onPart(
			'part-rest-here',
			'Set as rest pose what the part shows now',
			'',
			(part) => restHere(session, part),
			() => session.compiled !== null,
		),
		onPart(
			'part-still',
			'Remove animation of the part from this clip',
			'',
			(part) => letRest(session, part),
			(part) => isMoved(session, part),
		),
		onPart(
			'part-life-from',
			'In point of the part at the playhead: shown from here',
			'',
			(part) => cutLife(session, part, 'from'),
			() => session.clip !== null,
		),
		onPart(
			'part-life-to',
			'Out point of the part at the playhead: hidden from here',
			'',
			(part) => cutLife(session, part, 'to'),
			() => session.clip !== null,
		),
		onPart('part-number', 'Add an own number to the part', '', (part) => {
			addNumber(session, part);
			session.asks.field = 'part-numbers';
		}),
		onPart(
			'part-motions',
			'Motions: ready-made, and your own',
			'',
			() => (session.asks.field = 'motion-find'),
		),
		...STARTER_MOTIONS.map(({ motion }) =>
			onPart(`motion-${motion.id}`, `Motion: ${motion.name}`, '', () => putMotionHere(session, motion)),
		),
		onPart('part-bounce', 'Drop and bounce the part', '', () => (session.asks.sheet = 'bounce')),
		onPart('part-delete', 'Delete the part and its children', '', (part) => deletePart(session, part)),
	];
}

export function partCommands({ session }: CommandTargets): Command[] {
	return [
		...makingParts(session),
		...partsInTree(session),
		...partsOnBench(session),
		...partsTogether(session),
		...partsAtRest(session),
	];
}
