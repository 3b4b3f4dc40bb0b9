/** Triggers, layers and mixes made and removed by hand. */
import { generateKeyBetween } from 'fractional-indexing';
import type { Layer, Mix, MixStop, Trigger } from '$core/document/triggers';
import { inOrder, type Doc } from '$core/document/types';
import { putLayer, putMix, putTrigger } from '$core/edits/triggers';
import { newId } from '$lib/session/ids';
import type { Session } from '$lib/session/session.svelte';
import { newDeed, newMoment } from './trigger-choices';

const orderAfter = (all: readonly { order: string }[]) => generateKeyBetween(all.at(-1)?.order ?? null, null);

/** A new trigger at the end; its id, or null where there is nothing to play yet. */
export function addTrigger(session: Session): string | null {
	const { doc, selection } = session;
	const then = newDeed(doc, 'play', null);
	const when = newMoment(doc, 'tap', selection.partId) ?? newMoment(doc, 'start', null);
	if (!then || !when) return null;
	const order = orderAfter(inOrder(doc.triggers));
	const trigger: Trigger = { type: 'trigger', id: newId(), order, when, then, delay: 0 };
	session.edit('New trigger', (old) => putTrigger(old, trigger));
	return trigger.id;
}

/** A copy behind the trigger itself; its id. */
export function duplicateTrigger(session: Session, trigger: Trigger): string {
	const all = inOrder(session.doc.triggers);
	const next = all[all.findIndex(({ id }) => id === trigger.id) + 1];
	const copy = { ...trigger, id: newId(), order: generateKeyBetween(trigger.order, next?.order ?? null) };
	session.edit('Duplicate trigger', (doc) => putTrigger(doc, copy));
	return copy.id;
}

/** Moves a trigger up (−1) or down (1). */
export function moveTrigger(session: Session, trigger: Trigger, by: -1 | 1): void {
	const others = inOrder(session.doc.triggers).filter(({ id }) => id !== trigger.id);
	const at = inOrder(session.doc.triggers).findIndex(({ id }) => id === trigger.id) + by;
	if (at < 0 || at > others.length) return;
	const order = generateKeyBetween(others[at - 1]?.order ?? null, others[at]?.order ?? null);
	session.edit('Move trigger', (doc) => putTrigger(doc, { ...trigger, order }));
}

function freeName(map: Readonly<Record<string, { name: string }>>, stem: string): string {
	const taken = new Set(Object.values(map).map(({ name }) => name));
	let n = 1;
	while (taken.has(`${stem} ${n}`)) n++;
	return `${stem} ${n}`;
}

/** A new layer on top, for the selected parts or for all. */
export function addLayer(session: Session): void {
	const { doc, selection } = session;
	const parts = selection.partId === null ? null : [selection.partId, ...selection.otherParts];
	const layer: Layer = {
		type: 'layer',
		id: newId(),
		order: orderAfter(inOrder(doc.layers)),
		name: freeName(doc.layers, 'layer'),
		mode: 'replace',
		weight: 1,
		parts,
		parameter: null,
	};
	session.edit('New layer', (old) => putLayer(old, layer));
}

/** Clips that go round come first: they are what is mixed. */
function clipsToMix({ clips }: Doc): string[] {
	const all = inOrder(clips);
	const goesRound = all.filter(({ loop }) => loop.mode !== 'once');
	return [...goesRound, ...all.filter((clip) => !goesRound.includes(clip))].map(({ id }) => id);
}

/** Another clip for a mix, behind its last; null where all are in it. */
export function nextStop(doc: Doc, { stops }: Pick<Mix, 'stops'>): MixStop | null {
	const clip = clipsToMix(doc).find((id) => stops.every((own) => own.clip !== id));
	return clip === undefined ? null : { clip, at: (stops.at(-1)?.at ?? -1) + 1 };
}

/** A new mix of two clips, from 0 to 1 of a parameter. */
export function addMix(session: Session): void {
	const { doc } = session;
	const first = nextStop(doc, { stops: [] });
	const second = first && nextStop(doc, { stops: [first] });
	if (!second) return;
	const mix: Mix = {
		type: 'mix',
		id: newId(),
		order: orderAfter(inOrder(doc.mixes)),
		name: freeName(doc.mixes, 'mix'),
		parameter: 'stick y',
		seconds: 0.2,
		stops: [first, second],
	};
	session.edit('New mix', (old) => putMix(old, mix));
}
