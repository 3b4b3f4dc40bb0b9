/** What entities say of each other: parents, clips and parts that are there, and no rings. */
import { orderByNeeds } from '../formula/order';
import { AXES, channelId, formulaId, type Doc, type Entity, type Formula } from './types';
import { channelLabel } from './labels';
import { layerNamed, partNamed } from './triggers';

/** A reference that leads nowhere, or round in a ring. */
export interface BadReference {
	entity: Entity;
	member:
		| 'parent'
		| 'clip'
		| 'part'
		| 'property'
		| 'inputs'
		| 'from'
		| 'to'
		| 'when'
		| 'then'
		| 'parts'
		| 'stops'
		| 'clips'
		| 'limits';
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

type Suspects = { has(id: string): boolean };

const KINDS = { parts: 'part', clips: 'clip', layers: 'layer' } as const;

/** References to what is not there. */
function missingReferences(doc: Doc): BadReference[] {
	const found: BadReference[] = [];
	const check = (entity: Entity, member: BadReference['member'], map: keyof typeof KINDS, id: string) => {
		if (Object.hasOwn(doc[map], id)) return;
		found.push({ entity, member, missing: id, message: `There is no ${KINDS[map]} "${id}".` });
	};
	for (const part of Object.values(doc.parts))
		if (part.parent !== null) check(part, 'parent', 'parts', part.parent);
	for (const own of [...Object.values(doc.channels), ...Object.values(doc.formulas)]) {
		check(own, 'clip', 'clips', own.clip);
		check(own, 'part', 'parts', own.part);
	}
	for (const formula of Object.values(doc.formulas))
		for (const input of Object.values(formula.inputs))
			if (!('value' in input)) check(formula, 'inputs', 'parts', input.part);
	for (const cue of Object.values(doc.cues)) check(cue, 'clip', 'clips', cue.clip);
	for (const blend of Object.values(doc.blends)) {
		check(blend, 'from', 'clips', blend.from);
		check(blend, 'to', 'clips', blend.to);
	}
	for (const layer of Object.values(doc.layers))
		for (const part of layer.parts ?? []) check(layer, 'parts', 'parts', part);
	for (const mix of Object.values(doc.mixes))
		for (const { clip } of mix.stops) check(mix, 'stops', 'clips', clip);
	for (const profile of Object.values(doc.profiles))
		for (const clip of profile.clips ?? []) check(profile, 'clips', 'clips', clip);
	for (const take of Object.values(doc.takes)) check(take, 'clip', 'clips', take.clip);
	for (const rehearsal of Object.values(doc.rehearsals)) {
		for (const { what } of rehearsal.inputs)
			if ('part' in what) check(rehearsal, 'inputs', 'parts', what.part);
		for (const { clip } of rehearsal.limits.cues ?? []) check(rehearsal, 'limits', 'clips', clip);
	}
	for (const trigger of Object.values(doc.triggers)) {
		const { when, then } = trigger;
		const [part, layer] = [partNamed(trigger), layerNamed(trigger)];
		if (part !== null) check(trigger, 'when', 'parts', part);
		if (layer !== null) check(trigger, 'then', 'layers', layer);
		if ('clip' in when) check(trigger, 'when', 'clips', when.clip);
		const played =
			then.kind === 'toggle' ? [then.clip, then.other] : [then.kind === 'play' ? then.clip : null];
		for (const id of played)
			if (id !== null && !Object.hasOwn(doc.mixes, id)) check(trigger, 'then', 'clips', id);
	}
	return found;
}

/** A part that is its own ancestor. */
function ringOfParts(doc: Doc, suspects: Suspects): BadReference[] {
	const ring = ringOfParents(doc);
	if (!ring) return [];
	const entity = doc.parts[ring.find((id) => suspects.has(id)) ?? ring[0]];
	const message = `"${entity.name}" would be its own ancestor.`;
	return [{ entity, member: 'parent', missing: null, message }];
}

/** Parts that one clip turns both by angles and by an orientation. */
function turnedTwice(doc: Doc, suspects: Suspects): BadReference[] {
	return Object.values(doc.channels).flatMap((channel) => {
		if (channel.property !== 'orientation') return [];
		const other = AXES.map((axis) => channelId(channel.clip, channel.part, 'rotation', axis)).find((id) =>
			Object.hasOwn(doc.channels, id),
		);
		if (other === undefined) return [];
		const message = 'A part turns either by angles or by an orientation, not by both in one clip.';
		const entity = suspects.has(other) ? doc.channels[other] : channel;
		return [{ entity, member: 'property' as const, missing: null, message }];
	});
}

/** Formulas that need each other. */
function ringOfFormulas(doc: Doc, suspects: Suspects): BadReference[] {
	const ordered = orderByNeeds(Object.values(doc.formulas), (formula) => formulasRead(doc, formula));
	if (ordered.ok) return [];
	const { cycle } = ordered;
	const names = cycle.map((formula) => {
		const part = doc.parts[formula.part];
		return `${part?.name ?? formula.part} ${channelLabel(formula.property, formula.component, part)}`;
	});
	const message = `These formulas need each other: ${[...names, names[0]].join(' ← ')}.`;
	const entity = cycle.find((formula) => suspects.has(formula.id)) ?? cycle[0];
	return [{ entity, member: 'inputs', missing: null, message }];
}

/**
 * What is wrong with the references between entities: what they name is not there, rings of parents and of formulas. A
 * ring is told at the first of its members that is in `suspects`.
 */
export function badReferences(doc: Doc, suspects: Suspects): BadReference[] {
	const missing = missingReferences(doc);
	// With a parent that is not there no ring can be told.
	const parents = missing.some(({ member }) => member === 'parent') ? [] : ringOfParts(doc, suspects);
	return [...missing, ...parents, ...turnedTwice(doc, suspects), ...ringOfFormulas(doc, suspects)];
}

/** The formulas whose results a formula reads. */
function formulasRead(doc: Doc, { clip, inputs }: Formula): Formula[] {
	return Object.values(inputs).flatMap((input) => {
		if ('value' in input) return [];
		const id = formulaId(clip, input.part, input.property, input.component);
		return Object.hasOwn(doc.formulas, id) ? [doc.formulas[id]] : [];
	});
}
