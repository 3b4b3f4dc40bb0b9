import { generateNKeysBetween } from 'fractional-indexing';
import { clipsInOrder, type Doc } from '$core/document/types';
import { mergeDocument } from '$core/edits/merge';
import type { Vec3 } from '$player/maths/vector';
import { newId } from '$lib/session/ids';
import { freeName, lastOrder } from './naming';
import { newPart } from './new-parts';
import type { Session } from '$lib/session/session.svelte';

/** Brings a document in that was read from a file: its parts under one of the file's name, its clips after the others. */
export function addDocument(session: Session, name: string, other: Doc, at?: Vec3): void {
	const root = newPart(session, name, '#5c6b73', { kind: 'empty', offset: [0, 0, 0] }, at);
	const ids = new Map<string, string>();
	const idOf = (id: string) => {
		const known = ids.get(id) ?? newId();
		ids.set(id, known);
		return known;
	};
	const added = clipsInOrder(other);
	const last = lastOrder(session.project.clips.map((clip) => clip.order));
	const orders = generateNKeysBetween(last, null, added.length);
	const taken = session.project.clips.map((clip) => clip.name);
	const clips = new Map(
		added.map((clip, i) => {
			const free = freeName(clip.name, taken);
			taken.push(free);
			return [clip.id, { name: free, order: orders[i] }];
		}),
	);
	session.edit(`Bring in ${root.name}`, (doc) => ({
		doc: mergeDocument(doc, other, { root, idOf, clipAs: ({ id }) => clips.get(id)! }),
		part: root.id,
	}));
}
