import { generateKeyBetween } from 'fractional-indexing';
import type { SavedShape } from '$core/document/types';
import { putSavedShape } from '$core/edits/clips';
import type { Shape } from '$player/easing/shape';
import { newId } from '$lib/session/ids';
import { freeName, lastOrder } from './naming';
import type { Session } from '$lib/session/session.svelte';

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
