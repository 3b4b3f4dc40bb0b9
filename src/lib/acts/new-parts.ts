/** New parts, after all others, hung on nothing; copies, and parts that go. */
import { shortName } from '$core/text';
import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing';
import type { Drawing, DrawingKind, Part, RestPose } from '$core/document/types';
import { DRAWING_NAMES } from '$core/document/labels';
import { duplicatePart, putPart, removePart, REST } from '$core/edits/parts';
import type { Space } from '$core/pose/space';
import { toEuler } from '$player/maths/quaternion';
import type { Vec3 } from '$player/maths/vector';
import { toast } from 'svelte-sonner';
import { newId } from '$lib/session/ids';
import { freeName, lastOrder } from './naming';
import { NO_KEYS } from '$lib/session/selection.svelte';
import type { Session } from '$lib/session/session.svelte';

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
export function addImagePart(
	session: Session,
	asset: string,
	name: string,
	ratio: number,
	at?: Vec3,
): string {
	const unit = session.doc.project.space === 'interface' ? 80 : 1;
	const height = unit / Math.min(20, Math.max(0.05, ratio));
	return addDrawn(
		session,
		name,
		'#ffffff',
		{
			kind: 'image',
			asset,
			size: [unit, height, 0],
			offset: [0, 0, 0],
		},
		at,
	);
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
	at?: Vec3,
): string {
	const root = newPart(session, name, '#5c6b73', { kind: 'empty', offset: [0, 0, 0] }, at);
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
	session.edit(`New ${root.name}`, (doc) => ({
		doc: [root, ...children].reduce(putPart, doc),
		part: root.id,
	}));
	return root.id;
}

export function addPart(session: Session, kind: PlainKind): string {
	const flat = session.doc.project.space === 'interface';
	const colour = COLOURS[Object.keys(session.doc.parts).length % COLOURS.length];
	return addDrawn(session, DRAWING_NAMES[kind], colour, newDrawing(kind, flat));
}

function addDrawn(session: Session, name: string, colour: string, drawing: Drawing, at?: Vec3): string {
	const part = newPart(session, name, colour, drawing, at);
	session.edit(`New ${part.name}`, (doc) => ({ doc: putPart(doc, part), part: part.id }));
	return part.id;
}

/** Where a new part stands: where it was dropped, or in the middle of the stage, before all else there; a camera where the eye is. */
function restInView({ doc, view }: Session, kind: DrawingKind, nearest: number, at?: Vec3): RestPose {
	const flat = doc.project.space === 'interface';
	const seen = view.look.standpoint();
	if (!seen) return flat ? { ...REST, translation: [180, 320, nearest] } : REST;
	const steps = flat ? 1 : 10;
	const even = (place: readonly number[]) => place.map((v) => Math.round(v * steps) / steps) as Vec3;
	if (kind === 'camera') {
		const rotation = toEuler(seen.eye.orientation, 'XYZ').map((angle) => Number(angle.toFixed(1))) as Vec3;
		return { ...REST, translation: even(seen.eye.at), rotation };
	}
	const [x, y, z] = even(at ?? seen.middle);
	return { ...REST, translation: [x, y, flat ? nearest : z] };
}

/** A part after all others, hung on nothing; on a flat stage before them too. */
export function newPart(session: Session, name: string, colour: string, drawing: Drawing, at?: Vec3): Part {
	const parts = Object.values(session.doc.parts);
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
		rest: restInView(session, drawing.kind, nearest + 1, at),
		eulerOrder: 'XYZ',
		visible: true,
	};
}

/** A copy of a part beside it, with its children; with or without their keys in all clips. */
export function copyPart(session: Session, part: Part, withKeys: boolean): void {
	const siblings = session.project.tree
		.filter((entry) => entry.part.parent === part.parent)
		.map((entry) => entry.part.order);
	const order = generateKeyBetween(part.order, siblings[siblings.indexOf(part.order) + 1] ?? null);
	const ids = new Map<string, string>();
	const idOf = (old: string) => {
		const made = ids.get(old) ?? newId();
		ids.set(old, made);
		return made;
	};
	const copy = { name: shortName(`${part.name} copy`, 120), order, idOf, withKeys };
	session.edit(`Duplicate ${part.name}`, (doc) => ({
		doc: duplicatePart(doc, part.id, copy),
		part: idOf(part.id),
	}));
}

export function deletePart(session: Session, { id, name }: Part): void {
	session.edit(`Delete ${name}`, (doc) => ({
		doc: removePart(doc, id),
		keys: NO_KEYS,
		part: null,
		channel: null,
	}));
	toast(`${name} deleted`, { action: { label: 'Undo', onClick: () => void session.project.undo() } });
}
