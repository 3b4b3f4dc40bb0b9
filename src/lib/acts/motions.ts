/** Motions: kept from selected keys, put on parts, carried to other projects. */
import { shortName } from '$core/text';
import { generateKeyBetween } from 'fractional-indexing';
import { toast } from 'svelte-sonner';
import type { Motion } from '$core/document/motions';
import { readMotions, writeMotions } from '$core/motions/file';
import { amountsOf, putMotion, type MotionAmounts } from '$core/motions/put';
import { keepMotion, removeMotion, takeMotion } from '$core/motions/take';
import { frameToTicks, ticksToFrame } from '$core/time';
import { newId } from '$lib/session/ids';
import type { Session } from '$lib/session/session.svelte';
import { writeNumber } from '$lib/ui/number-text';
import { freeName, lastOrder } from './naming';
import { pickedParts } from './part-acts';

const placeFor = (motions: readonly Motion[], name: string) => ({
	id: newId(),
	name: freeName(
		name,
		motions.map((other) => other.name),
	),
	order: generateKeyBetween(lastOrder(motions.map((other) => other.order)), null),
});

/** Keeps what the selected keys do under a name. */
export function keepPickedAsMotion(session: Session, name: string): void {
	const own = Object.values(session.doc.motions);
	const taken = takeMotion(session.doc, session.selection.keys, placeFor(own, shortName(name, 120)));
	if ('why' in taken) {
		toast.error(taken.why);
		return;
	}
	session.edit(`Save the motion ${taken.name}`, (doc) => keepMotion(doc, taken));
	toast(`Saved as a motion: ${taken.name}`);
}

export function deleteMotion(session: Session, { id, name }: Motion): void {
	session.edit(`Delete the motion ${name}`, (doc) => removeMotion(doc, id));
}

/** What putting a motion at a tick makes of the document. */
export function withMotion(session: Session, motion: Motion, amounts: MotionAmounts, t: number) {
	const { clip } = session;
	const parts = pickedParts(session);
	return (doc: Session['doc']) =>
		clip
			? putMotion(
					doc,
					clip.id,
					parts.filter((id) => doc.parts[id]),
					motion,
					amounts,
					t,
				).doc
			: doc;
}

/** Puts a motion as it is on the picked parts, at the playhead. */
export function putMotionHere(session: Session, motion: Motion): void {
	const t = Math.round(session.transport.local);
	const before = session.doc;
	session.edit(
		`Put the motion ${motion.name}`,
		withMotion(session, motion, amountsOf(motion, frameToTicks(1, session.frameRate)), t),
	);
	tellPut(session, motion, before);
}

/** Says what a motion was put on; or why nothing happened. */
export function tellPut(session: Session, motion: Motion, before: Session['doc']): void {
	const parts = pickedParts(session).map((id) => session.doc.parts[id]?.name);
	if (session.doc === before || session.doc.channels === before.channels)
		toast.error(`The motion ${motion.name} moves nothing that ${parts.join(', ')} has`);
	else {
		const { clip } = session;
		const isLonger = clip !== null && clip.length !== before.clips[clip.id]?.length;
		const frames = clip && writeNumber(ticksToFrame(clip.length, session.frameRate), 1);
		toast(`Put on ${parts.join(', ')}: ${motion.name}`, {
			description: isLonger ? `The clip is ${frames} frames long now.` : undefined,
		});
	}
}

/** The motions of this project as a file. */
export function motionsFile(session: Session): Blob {
	return new Blob([writeMotions(Object.values(session.doc.motions))], { type: 'application/json' });
}

/** Takes the motions of a file into this project. */
export async function takeMotionsFile(session: Session, file: File): Promise<void> {
	const read = readMotions(await file.text());
	if (!read.ok) {
		const [{ message, pointer }] = read.problems;
		toast.error(`${file.name}: ${message}`, { description: pointer });
		return;
	}
	const count = read.value.length;
	if (count === 0) {
		toast.error(`${file.name}: there is no motion in it`);
		return;
	}
	session.edit(`Take in ${count} ${count === 1 ? 'motion' : 'motions'}`, (doc) =>
		read.value.reduce((next, motion) => {
			const place = placeFor(Object.values(next.motions), motion.name);
			return keepMotion(next, { ...motion, ...place });
		}, doc),
	);
	toast(count === 1 ? `Taken in: ${read.value[0].name}` : `${count} motions taken in`);
}
