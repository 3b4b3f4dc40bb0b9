/** What is done with parts in the open clip. */
import { AXES, channelId, channelsOfClip, formulaId, formulasOfClip, type Part } from '$core/document/types';
import { cutAt, livesOf, putLives, type Life } from '$core/edits/life';
import { freeNumberKey, putNumber } from '$core/edits/own-numbers';
import { freeName } from './naming';
import { keepsVolume, keepVolume, letVolumeChange, whyVolumeChanges } from '$core/edits/formulas';
import { keyRestPose } from '$core/edits/keys';
import { restFromPose, stillPart } from '$core/edits/parts';
import { toast } from 'svelte-sonner';
import { vectorIn } from '$core/clip/layout';
import { alignMoves, type Alignment } from '$core/edits/align';
import { decide, writeByHand } from '$core/edits/by-hand';
import { sentence } from '$lib/ui/sentence';
import { pickKeysOf } from './key-actions';
import type { Session } from '$lib/session/session.svelte';

/** Picks all keys of a part in the open clip beside those that are picked; the part is in hand then. */
export function addKeysOf(session: Session, part: string): void {
	const { selection } = session;
	const before = selection.keys;
	const parts = pickedParts(session);
	pickKeysOf(session, (channel) => channel.part === part);
	selection.keys = new Map([...before, ...selection.keys]);
	selection.partId = part;
	selection.alsoPick(parts);
}

/** All parts that are picked, the one in hand first. */
export function pickedParts({ selection }: Session): string[] {
	return selection.part ? [selection.part.id, ...selection.otherParts] : selection.otherParts.slice();
}

/** What a way to align parts is called. */
export function alignmentName(how: Alignment): string {
	return how.startsWith('distribute') ? sentence(how) : `Align ${how}`;
}

/** Puts the picked parts in line, or apart by even gaps, as they stand now: all of them by hand, or none. */
export function alignParts(session: Session, how: Alignment): void {
	const { compiled, doc, posed } = session;
	if (!compiled) return;
	const moves = alignMoves(compiled, posed, doc.project.space, pickedParts(session), how);
	let next = doc;
	for (const [part, by] of moves) {
		const changed = AXES.flatMap((component, axis) =>
			Math.abs(by[axis]) > 1e-9 ? [{ component, axis }] : [],
		);
		const targets = changed.map(({ component }) => ({ property: 'translation' as const, component }));
		const decided = decide(doc, session.handOn(part)!, targets);
		if (!decided.ok) {
			toast(`${doc.parts[part].name} cannot be moved here`, { description: decided.why });
			return;
		}
		const from = vectorIn(posed, doc.parts[part], 'translation');
		changed.forEach(({ axis }, i) => {
			const value = Number((from[axis] + by[axis]).toPrecision(7));
			next = writeByHand(next, decided, targets[i], value);
		});
	}
	session.edit(alignmentName(how), () => next);
}
/** Keys the rest pose at the playhead, on all that moves of a part in the open clip. */
export function keyRest(session: Session, part: Part): void {
	const { clip } = session;
	const t = Math.round(session.transport.local);
	if (!clip) return;
	const before = session.doc;
	session.edit(`Key the rest pose of ${part.name}`, (doc) => keyRestPose(doc, clip.id, part.id, t));
	if (session.doc === before) toast(`${part.name} has keys of its rest pose here`);
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

/** Shows a part from the playhead on, or until it, in the open clip. */
export function cutLife(session: Session, part: Part, end: keyof Life): void {
	const { clip, doc, transport } = session;
	if (!clip) return;
	const id = channelId(clip.id, part.id, 'visible', 'value');
	if (doc.formulas[formulaId(clip.id, part.id, 'visible', 'value')]) {
		toast('A formula says when it is shown', { description: 'Its lane is below the part.' });
		return;
	}
	const lives = livesOf(doc.channels[id], part, clip);
	const next = cutAt(lives, end, Math.round(transport.local), clip.length);
	if (!next) {
		const what = end === 'from' ? 'The clip ends here' : `${part.name} is not shown before this frame`;
		toast(`Nothing to ${end === 'from' ? 'show' : 'hide'} from here`, { description: `${what}.` });
		return;
	}
	session.edit(end === 'from' ? `Show ${part.name} from here` : `Hide ${part.name} from here`, (now) =>
		putLives(now, clip, part.id, next),
	);
}

/** Gives a part a number of one's own; where it has as many as there may be, that is said. */
export function addNumber(session: Session, part: Part): void {
	const key = freeNumberKey(part);
	if (!key) {
		toast(`${part.name} has eight numbers`, { description: 'No part can have more.' });
		return;
	}
	const taken = (part.numbers ?? []).map((own) => own.name);
	const number = { key, name: freeName('number', taken), unit: '', low: 0, high: 1, value: 0 };
	session.edit(`Add a number to ${part.name}`, (doc) => putNumber(doc, part.id, number));
}

/** Whether formulas keep the volume of a part in the open clip, on a screen its area; and what stands in their way. */
export function volumeOf({ doc, clip }: Session, part: Part): { isKept: boolean; why: string | null } {
	if (!clip) return { isKept: false, why: 'There is no clip.' };
	return { isKept: keepsVolume(doc, clip.id, part.id), why: whyVolumeChanges(doc, clip.id, part.id) };
}
export function toggleVolume(session: Session, part: Part): void {
	const { clip } = session;
	if (!clip) return;
	const word = session.doc.project.space === 'interface' ? 'area' : 'volume';
	if (volumeOf(session, part).isKept)
		session.edit(`Let ${word} change`, (doc) => letVolumeChange(doc, clip.id, part.id));
	else session.edit(`Keep ${word}`, (doc) => keepVolume(doc, clip.id, part.id));
}
