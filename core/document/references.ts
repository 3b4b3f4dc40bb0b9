/** What entities say of each other: parents, clips and parts that are there, and no rings. */
import { orderByNeeds } from '../formula/order';
import { channelId, channelLabel, formulaId, type Doc, type Entity, type Formula } from './types';

/** A reference that leads nowhere, or round in a ring. */
export interface BadReference {
	entity: Entity;
	member: 'parent' | 'clip' | 'part' | 'property' | 'inputs' | 'from' | 'to';
	/** The id that is missing; null for a ring. */
	missing: string | null;
	message: string;
}

function ringOfParents(doc: Doc): string[] | null {
	const safe = new Set<string>();
	for (const start of Object.keys(doc.parts)) {
		const trail: string[] = [];
		for (let id: string | null = start; id !== null && !safe.has(id); id = doc.parts[id].parent) {
			if (trail.includes(id)) return trail.slice(trail.indexOf(id));
			trail.push(id);
		}
		for (const id of trail) safe.add(id);
	}
	return null;
}

/**
 * The references between entities: parents, clips and parts that are there, no ring of parents. A ring is told at
 * the first of its parts that is in `suspects`.
 */
export function badReferences(doc: Doc, suspects: { has(id: string): boolean }): BadReference[] {
	const found: BadReference[] = [];
	const check = (entity: Entity, member: BadReference['member'], map: 'parts' | 'clips', id: string) => {
		if (Object.hasOwn(doc[map], id)) return;
		const kind = map === 'parts' ? 'part' : 'clip';
		found.push({ entity, member, missing: id, message: `There is no ${kind} "${id}".` });
	};
	for (const part of Object.values(doc.parts))
		if (part.parent !== null) check(part, 'parent', 'parts', part.parent);
	if (found.length === 0) {
		const ring = ringOfParents(doc);
		if (ring) {
			const entity = doc.parts[ring.find((id) => suspects.has(id)) ?? ring[0]];
			found.push({
				entity,
				member: 'parent',
				missing: null,
				message: `"${entity.name}" would be its own ancestor.`,
			});
		}
	}
	for (const channel of Object.values(doc.channels)) {
		check(channel, 'clip', 'clips', channel.clip);
		check(channel, 'part', 'parts', channel.part);
		if (channel.property === 'orientation') {
			const euler = ['x', 'y', 'z'] as const;
			const other = euler
				.map((axis) => channelId(channel.clip, channel.part, 'rotation', axis))
				.find((id) => Object.hasOwn(doc.channels, id));
			if (other !== undefined) {
				const message = 'A part turns either by angles or by an orientation, not by both in one clip.';
				found.push({
					entity: suspects.has(other) ? doc.channels[other] : channel,
					member: 'property',
					missing: null,
					message,
				});
			}
		}
	}
	for (const formula of Object.values(doc.formulas)) {
		check(formula, 'clip', 'clips', formula.clip);
		check(formula, 'part', 'parts', formula.part);
		for (const input of Object.values(formula.inputs))
			if (!('value' in input)) check(formula, 'inputs', 'parts', input.part);
	}
	const ordered = orderByNeeds(Object.values(doc.formulas), (formula) => formulasRead(doc, formula));
	if (!ordered.ok) {
		const { cycle } = ordered;
		const names = cycle.map((formula) => {
			const part = doc.parts[formula.part];
			return `${part?.name ?? formula.part} ${channelLabel(formula.property, formula.component, part)}`;
		});
		const message = `These formulas need each other: ${[...names, names[0]].join(' ← ')}.`;
		const entity = cycle.find((formula) => suspects.has(formula.id)) ?? cycle[0];
		found.push({ entity, member: 'inputs', missing: null, message });
	}
	for (const cue of Object.values(doc.cues)) check(cue, 'clip', 'clips', cue.clip);
	for (const blend of Object.values(doc.blends)) {
		check(blend, 'from', 'clips', blend.from);
		check(blend, 'to', 'clips', blend.to);
	}
	return found;
}

/** The formulas whose results a formula reads. */
function formulasRead(doc: Doc, { clip, inputs }: Formula): Formula[] {
	return Object.values(inputs).flatMap((input) => {
		if ('value' in input) return [];
		const id = formulaId(clip, input.part, input.property, input.component);
		return Object.hasOwn(doc.formulas, id) ? [doc.formulas[id]] : [];
	});
}
