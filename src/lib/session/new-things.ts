/** Makes new clips and parts with fresh ids, in order after the others. */
import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing';
import type { Shape } from '$player/easing/shape';
import { duplicateClip, putClip, putCue, putSavedShape, updateClip } from '$core/edits/clips';
import { duplicatePart, putPart, removePart, REST } from '$core/edits/parts';
import { splitClip } from '$core/edits/whole-clips';
import { mergeDocument } from '$core/edits/merge';
import {
	clipsInOrder,
	type Clip,
	type Doc,
	type Drawing,
	type DrawingKind,
	type Part,
	type SavedShape,
} from '$core/document/types';
import type { Space } from '$core/pose/space';
import type { Vec3 } from '$player/maths/vector';
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

/** Kinds that need nothing from outside. */
export type PlainKind = Exclude<DrawingKind, 'image' | 'model'>;

const SOLID = ['box', 'ball', 'cylinder', 'cone', 'plane'] as const;
const FLAT = ['card', 'ellipse', 'path', 'label'] as const;

/** What a new part can be, the likeliest first. */
export function newPartKinds(space: Space): readonly PlainKind[] {
	return space === 'world' ? [...SOLID, ...FLAT, 'camera', 'empty'] : [...FLAT, 'empty', ...SOLID];
}
const COLOURS = ['#b88a2b', '#5c6b73', '#b5532f', '#3e6b4f', '#2f6f8f', '#7a5a86'];

function newDrawing(kind: PlainKind, flat: boolean): Drawing {
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
		case 'camera':
			return { kind, fieldOfView: 40, offset };
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

/** A drawing of lines, as icons are: hollow, with a stroke. */
export function addLinePart(session: Session, name: string, d: string, width: number): string {
	return addDrawn(session, name, '#22303a', {
		kind: 'path',
		d,
		depth: 0,
		filled: false,
		stroke: { width, colour: '#22303a', start: 0, end: 1 },
		offset: [0, 0, 0],
	});
}

/** Several drawings that belong together, hung on one part that is empty. */
export function addGroup(
	session: Session,
	name: string,
	drawn: readonly { name: string; colour: string; drawing: Drawing }[],
): string {
	const root = newPart(session, name, '#5c6b73', { kind: 'empty', offset: [0, 0, 0] });
	const orders = generateNKeysBetween(null, null, drawn.length);
	const children = drawn.map(({ name: own, colour, drawing }, i): Part => ({
		...root,
		id: newId(),
		name: own,
		parent: root.id,
		order: orders[i],
		colour,
		drawing,
		rest: REST,
	}));
	session.edit(`New ${root.name}`, (doc) => [root, ...children].reduce(putPart, doc));
	session.pickPart(root.id);
	return root.id;
}

/** Brings a document in that was read from a file: its parts under one of the file's name, its clips after the others. */
export function addDocument(session: Session, name: string, other: Doc): string {
	const root = newPart(session, name, '#5c6b73', { kind: 'empty', offset: [0, 0, 0] });
	const ids = new Map<string, string>();
	const idOf = (id: string) => {
		const known = ids.get(id) ?? newId();
		ids.set(id, known);
		return known;
	};
	const added = clipsInOrder(other);
	const last = lastOrder(session.clips.map((clip) => clip.order));
	const orders = generateNKeysBetween(last, null, added.length);
	const taken = session.clips.map((clip) => clip.name);
	const clips = new Map(
		added.map((clip, i) => {
			const free = freeName(clip.name, taken);
			taken.push(free);
			return [clip.id, { name: free, order: orders[i] }];
		}),
	);
	session.edit(`Bring in ${root.name}`, (doc) =>
		mergeDocument(doc, other, { root, idOf, clipAs: ({ id }) => clips.get(id)! }),
	);
	session.pickPart(root.id);
	return root.id;
}

export function addPart(session: Session, kind: PlainKind): string {
	const flat = session.doc.project.space === 'interface';
	const colour = COLOURS[Object.keys(session.doc.parts).length % COLOURS.length];
	return addDrawn(session, kind, colour, newDrawing(kind, flat));
}

function addDrawn(session: Session, name: string, colour: string, drawing: Drawing): string {
	const part = newPart(session, name, colour, drawing);
	session.edit(`New ${part.name}`, (doc) => putPart(doc, part));
	session.pickPart(part.id);
	return part.id;
}

/** A part after all others, hung on nothing; on a flat stage before them too. */
function newPart(session: Session, name: string, colour: string, drawing: Drawing): Part {
	const parts = Object.values(session.doc.parts);
	const flat = session.doc.project.space === 'interface';
	const nearest = parts.reduce(
		(z, other) => (other.parent === null ? Math.max(z, other.rest.translation[2]) : z),
		9,
	);
	return {
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
		rest: flat ? { ...REST, translation: [180, 320, nearest + 1] } : REST,
		eulerOrder: 'XYZ',
		visible: true,
	};
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
