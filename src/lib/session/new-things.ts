/** Makes new clips and parts with fresh ids, in order after the others. */
import { generateKeyBetween } from 'fractional-indexing';
import type { Shape } from '$core/curve/types';
import { duplicateClip, putClip, putCue, putSavedShape, updateClip } from '$core/document/edits/clips';
import { duplicatePart, putPart, removePart, REST } from '$core/document/edits/parts';
import { splitClip } from '$core/document/edits/whole-clips';
import type { Clip, Drawing, DrawingKind, Part, SavedShape, Vec3 } from '$core/document/types';
import { frameToTicks } from '$core/time';
import { toast } from 'svelte-sonner';
import { newId } from './ids';
import type { Session } from './session.svelte';

/** A name with a number that nobody has yet. */
function freeName(base: string, taken: readonly string[]): string {
	if (!taken.includes(base)) return base;
	for (let n = 2; ; n++) if (!taken.includes(`${base} ${n}`)) return `${base} ${n}`;
}

function lastOrder(orders: readonly string[]): string | null {
	return orders.reduce<string | null>((last, order) => (last === null || order > last ? order : last), null);
}

function newClip(session: Session, name: string): Clip {
	return {
		type: 'clip',
		id: newId(),
		name: freeName(
			name,
			session.clips.map((clip) => clip.name),
		),
		order: generateKeyBetween(lastOrder(session.clips.map((clip) => clip.order)), null),
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
	const { id, name, order } = newClip(session, `${from.name} copy`.slice(0, 110));
	session.edit(`Duplicate ${from.name}`, (doc) =>
		duplicateClip(doc, from.id, { ...from, id, name, order }, newId),
	);
	return id;
}

/** Takes a clip apart at a tick; the second part becomes a clip right after it. */
export function splitAt(session: Session, clip: Clip, t: number): void {
	const { id, name } = newClip(session, `${clip.name} 2`.slice(0, 110));
	const orders = session.clips.map((other) => other.order);
	const order = generateKeyBetween(clip.order, orders[orders.indexOf(clip.order) + 1] ?? null);
	session.edit(`Take ${clip.name} apart`, (doc) =>
		splitClip(doc, doc.clips[clip.id], t, { ...clip, id, name, order }),
	);
}

/** Keeps a shape in the sheet under a name. */
export function keepShape(session: Session, name: string, shape: Shape): void {
	const shapes = Object.values(session.doc.shapes);
	const saved: SavedShape = {
		type: 'savedShape',
		id: newId(),
		name: freeName(
			name,
			shapes.map((other) => other.name),
		),
		order: generateKeyBetween(lastOrder(shapes.map((other) => other.order)), null),
		shape,
	};
	session.edit(`Keep the shape ${saved.name}`, (doc) => putSavedShape(doc, saved));
}

/** Moves a clip one place up or down in the list of all. */
export function moveClip(session: Session, clip: Clip, by: -1 | 1): void {
	const others = session.clips.filter((other) => other.id !== clip.id);
	const place = session.clips.findIndex((other) => other.id === clip.id) + by;
	if (place < 0 || place > others.length) return;
	const order = generateKeyBetween(others[place - 1]?.order ?? null, others[place]?.order ?? null);
	session.edit(`Move ${clip.name} in the list`, (doc) => updateClip(doc, clip.id, { order }));
}

/** Puts a cue at the playhead, to be named. */
export function addCue(session: Session): void {
	const { clip } = session;
	if (!clip) return;
	const id = newId();
	const t = Math.round(session.transport.local);
	session.edit('New cue', (doc) =>
		putCue(doc, { type: 'cue', id, clip: clip.id, name: 'cue', t, payload: null }),
	);
	session.cueToName = id;
}

export const NEW_PARTS: readonly Exclude<DrawingKind, 'image'>[] = [
	'box',
	'ball',
	'cylinder',
	'cone',
	'plane',
	'card',
	'ellipse',
	'path',
	'label',
	'empty',
];
const COLOURS = ['#b88a2b', '#5c6b73', '#b5532f', '#3e6b4f', '#2f6f8f', '#7a5a86'];

function newDrawing(kind: Exclude<DrawingKind, 'image'>, flat: boolean): Drawing {
	const unit = flat ? 80 : 1;
	const offset: Vec3 = [0, 0, 0];
	const size: Vec3 =
		kind === 'label'
			? [2 * unit, 0.5 * unit, 0]
			: [unit, unit, flat || kind === 'card' || kind === 'ellipse' ? 0 : unit];
	switch (kind) {
		case 'card':
			return { kind, size, radius: 0.15 * unit, offset };
		case 'label':
			return { kind, size, text: 'Label', offset };
		case 'empty':
			return { kind, offset };
		case 'path':
			return { kind, d: `M ${-unit / 2} 0 L ${unit / 2} 0 L 0 ${-unit} Z`, depth: 0, offset };
		default:
			return { kind, size, offset };
	}
}

/** A part that shows a picture, as wide as others are and as high as the picture asks for. */
export function addImagePart(session: Session, asset: string, name: string, ratio: number): string {
	const unit = session.doc.project.space === 'interface' ? 80 : 1;
	const height = unit / Math.min(20, Math.max(0.05, ratio));
	return addDrawn(session, name, '#ffffff', {
		kind: 'image',
		asset,
		size: [unit, height, 0],
		offset: [0, 0, 0],
	});
}

export function addPart(session: Session, kind: Exclude<DrawingKind, 'image'>): string {
	const flat = session.doc.project.space === 'interface';
	const colour = COLOURS[Object.keys(session.doc.parts).length % COLOURS.length];
	return addDrawn(session, kind, colour, newDrawing(kind, flat));
}

function addDrawn(session: Session, name: string, colour: string, drawing: Drawing): string {
	const parts = Object.values(session.doc.parts);
	const flat = session.doc.project.space === 'interface';
	const part: Part = {
		type: 'part',
		id: newId(),
		name: freeName(
			name,
			parts.map((other) => other.name),
		),
		parent: null,
		order: generateKeyBetween(lastOrder(parts.map((other) => other.order)), null),
		drawing,
		colour,
		rest: flat ? { ...REST, translation: [180, 320, 10] } : REST,
		eulerOrder: 'XYZ',
		visible: true,
	};
	session.edit(`New ${part.name}`, (doc) => putPart(doc, part));
	session.pickPart(part.id);
	return part.id;
}

/** A copy of a part beside it, with what hangs on it; with or without their keys in all clips. */
export function copyPart(session: Session, part: Part, withKeys: boolean): void {
	const siblings = session.tree
		.filter((entry) => entry.part.parent === part.parent)
		.map((entry) => entry.part.order);
	const order = generateKeyBetween(part.order, siblings[siblings.indexOf(part.order) + 1] ?? null);
	const ids = new Map<string, string>();
	const idOf = (old: string) => {
		const made = ids.get(old) ?? newId();
		ids.set(old, made);
		return made;
	};
	const copy = { name: `${part.name} copy`.slice(0, 120), order, idOf, withKeys };
	session.edit(`Duplicate ${part.name}`, (doc) => duplicatePart(doc, part.id, copy));
	session.pickPart(idOf(part.id));
}

export function deletePart(session: Session, { id, name }: Part): void {
	session.edit(`Delete ${name}`, (doc) => removePart(doc, id));
	session.clearPicks();
	toast(`${name} deleted`, { action: { label: 'Undo', onClick: () => void session.undo() } });
}
