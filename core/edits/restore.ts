/** Brings back what was in an earlier version: a clip, or the whole project. */
import equal from 'fast-deep-equal';
import { MAPS, type Clip, type Doc, type Entity, type Formula } from '../document/types';

/** Another version with what is the same in both taken from the first: only what differs is changed by it. */
function keepingSame(doc: Doc, from: Doc): Doc {
	const kept = (own: Readonly<Record<string, Entity>>, other: Readonly<Record<string, Entity>>) =>
		Object.fromEntries(
			Object.entries(other).map(([id, entity]) => [id, equal(own[id], entity) ? own[id] : entity]),
		);
	return {
		project: equal(doc.project, from.project) ? doc.project : from.project,
		...Object.fromEntries(MAPS.map((map) => [map, kept(doc[map], from[map])])),
	} as Doc;
}

export function restoreProject(doc: Doc, from: Doc): Doc {
	return keepingSame(doc, from);
}

/**
 * A clip as it is in another version of the document: itself, its channels, formulas and cues. Parts stay as they are
 * now; what moves a part that is gone, or is computed from one, is left out.
 */
export function restoreClip(doc: Doc, from: Doc, id: string): Doc {
	const other = keepingSame(doc, from);
	const isThere = ({ part }: { part: string }) => doc.parts[part] !== undefined;
	const canCompute = (formula: Formula) =>
		isThere(formula) && Object.values(formula.inputs).every((input) => 'value' in input || isThere(input));
	const own = <T extends { clip: string }>(
		map: Readonly<Record<string, T>>,
		restored: Readonly<Record<string, T>>,
		isKept: (entity: T) => boolean,
	) => ({
		...Object.fromEntries(Object.entries(map).filter(([, entity]) => entity.clip !== id)),
		...Object.fromEntries(
			Object.entries(restored).filter(([, entity]) => entity.clip === id && isKept(entity)),
		),
	});
	const clip: Clip = other.clips[id];
	return {
		...doc,
		clips: { ...doc.clips, [id]: clip },
		channels: own(doc.channels, other.channels, isThere),
		formulas: own(doc.formulas, other.formulas, canCompute),
		cues: own(doc.cues, other.cues, () => true),
	};
}
