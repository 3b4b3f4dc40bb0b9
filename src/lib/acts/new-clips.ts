/** New clips, clips taken apart and put together, their order; what is put into a clip. */
import { shortName } from '$core/text';
import { generateKeyBetween } from 'fractional-indexing';
import type { Clip, Cue } from '$core/document/types';
import { duplicateClip, putClip, putCue, updateClip } from '$core/edits/clips';
import { joinClips, splitClip } from '$core/edits/whole-clips';
import { frameToTicks } from '$core/time';
import { newId } from '$lib/session/ids';
import { freeName, lastOrder } from './naming';
import { NO_KEYS } from '$lib/session/selection.svelte';
import type { Session } from '$lib/session/session.svelte';

/** A clip that is in no document yet, under a name that no other has, behind all others. */
export function newClip(session: Session, name: string): Clip {
	return {
		type: 'clip',
		id: newId(),
		name: freeName(
			name,
			session.project.clips.map((clip) => clip.name),
		),
		order: generateKeyBetween(lastOrder(session.project.clips.map((clip) => clip.order)), null),
		length: frameToTicks(2 * session.frameRate, session.frameRate),
		loop: { mode: 'once', count: null, pause: 0 },
		note: '',
	};
}

export function addClip(session: Session, name = 'clip'): string {
	const clip = newClip(session, name);
	session.edit('New clip', (doc) => putClip(doc, clip));
	return clip.id;
}

export function copyClip(session: Session, from: Clip): string {
	const { id, name, order } = newClip(session, shortName(`${from.name} copy`, 110));
	session.edit(`Duplicate ${from.name}`, (doc) =>
		duplicateClip(doc, from.id, { ...from, id, name, order }, newId),
	);
	return id;
}

/** Takes a clip apart at a tick; the second part becomes a clip right after it. */
export function splitAt(session: Session, clip: Clip, t: number): void {
	const { id, name } = newClip(session, shortName(`${clip.name} 2`, 110));
	const orders = session.project.clips.map((other) => other.order);
	const order = generateKeyBetween(clip.order, orders[orders.indexOf(clip.order) + 1] ?? null);
	session.edit(`Take ${clip.name} apart`, (doc) =>
		splitClip(doc, doc.clips[clip.id], t, { ...clip, id, name, order }),
	);
}

/** Moves a clip one place up or down in the list of all. */
export function moveClip(session: Session, clip: Clip, by: -1 | 1): void {
	const others = session.project.clips.filter((other) => other.id !== clip.id);
	const place = session.project.clips.findIndex((other) => other.id === clip.id) + by;
	if (place < 0 || place > others.length) return;
	const order = generateKeyBetween(others[place - 1]?.order ?? null, others[place]?.order ?? null);
	session.edit(`Move ${clip.name} in the list`, (doc) => updateClip(doc, clip.id, { order }));
}

/** Puts another clip after the open one. */
export function joinAfter(session: Session, other: Clip): void {
	const { clip } = session;
	if (!clip) return;
	session.edit(`Append to ${clip.name}`, (doc) => ({
		doc: joinClips(doc, doc.clips[clip.id], other, newId),
		keys: NO_KEYS,
	}));
}

/** A cue at the playhead: to be named before it is there, or, while the clip plays, there at once. */
export function addCue(session: Session): void {
	const { clip, transport } = session;
	if (!clip) return;
	const t = Math.round(transport.local);
	const cue: Cue = { type: 'cue', id: newId(), clip: clip.id, name: 'cue', t, payload: null };
	if (transport.playing) session.edit('Add cue', (doc) => putCue(doc, cue));
	else session.asks.newCue = cue;
}
