/** Edits on parts. Ids and orders of new ones are passed in. */
import { numberIn, type Posed } from '../clip/layout';
import { numbersOf, partWithRest, restValue } from '../document/rest';
import {
	channelId,
	formulaId,
	kindOf,
	type Doc,
	type Formula,
	type FormulaInput,
	type Part,
	type RestPose,
	type Component,
	type Property,
} from '../document/types';
import { withoutTriggersOf } from './triggers';

export const REST: RestPose = { translation: [0, 0, 0], rotation: [0, 0, 0], scale: [1, 1, 1], opacity: 1 };

export function putPart(doc: Doc, part: Part): Doc {
	return { ...doc, parts: { ...doc.parts, [part.id]: part } };
}

export function updatePart(doc: Doc, id: string, change: Partial<Omit<Part, 'id' | 'type'>>): Doc {
	const part = doc.parts[id];
	return part ? putPart(doc, { ...part, ...change }) : doc;
}

/** Changes one rest value of a part. */
export function setRestValue(
	doc: Doc,
	id: string,
	property: Property,
	component: Component,
	value: number,
): Doc {
	const part = doc.parts[id];
	return part ? putPart(doc, partWithRest(part, property, component, value)) : doc;
}

/** Makes what a part shows in a pose its rest pose. */
export function restFromPose(doc: Doc, id: string, posed: Posed): Doc {
	const part = doc.parts[id];
	if (!part) return doc;
	const next = numbersOf(part)
		.filter(({ property }) => kindOf(property) === 'number')
		.reduce(
			(made, { property, component }) =>
				partWithRest(made, property, component, numberIn(posed, part, property, component)),
			part,
		);
	return putPart(doc, next);
}

/** Takes all that moves a part out of a clip, keys and formulas: it rests there from then on. */
export function stillPart(doc: Doc, clip: string, part: string): Doc {
	const others = <E extends { clip: string; part: string }>(entities: Readonly<Record<string, E>>) =>
		Object.fromEntries(Object.entries(entities).filter(([, own]) => own.clip !== clip || own.part !== part));
	return { ...doc, channels: others(doc.channels), formulas: others(doc.formulas) };
}

/** A part and all that hangs below it. */
export function withDescendants(doc: Doc, id: string): Set<string> {
	const found = new Set([id]);
	for (let grew = true; grew;) {
		grew = false;
		for (const part of Object.values(doc.parts)) {
			if (part.parent !== null && found.has(part.parent) && !found.has(part.id)) {
				found.add(part.id);
				grew = true;
			}
		}
	}
	return found;
}

/**
 * A copy of a part with all that hangs below it: `idOf` gives each a new id, the copy gets a name and an order. With
 * `withKeys` channels and formulas come along in every clip, and formulas of the copy read the copy.
 */
export function duplicatePart(
	doc: Doc,
	id: string,
	copy: { name: string; order: string; idOf: (old: string) => string; withKeys: boolean },
): Doc {
	const ids = new Map([...withDescendants(doc, id)].map((old) => [old, copy.idOf(old)]));
	const parts = { ...doc.parts };
	for (const [old, made] of ids) {
		const part = doc.parts[old];
		const own = old === id ? { name: copy.name, order: copy.order } : { parent: ids.get(part.parent!)! };
		parts[made] = { ...part, id: made, ...own };
	}
	if (!copy.withKeys) return { ...doc, parts };
	const channels = { ...doc.channels };
	const formulas = { ...doc.formulas };
	for (const channel of Object.values(doc.channels)) {
		const part = ids.get(channel.part);
		if (part === undefined) continue;
		const made = channelId(channel.clip, part, channel.property, channel.component);
		channels[made] = { ...channel, id: made, part };
	}
	for (const formula of Object.values(doc.formulas)) {
		const part = ids.get(formula.part);
		if (part === undefined) continue;
		const made = formulaId(formula.clip, part, formula.property, formula.component);
		const inputs = Object.entries(formula.inputs).map(([name, input]) => [
			name,
			'value' in input ? input : { ...input, part: ids.get(input.part) ?? input.part },
		]);
		formulas[made] = { ...formula, id: made, part, inputs: Object.fromEntries(inputs) as Formula['inputs'] };
	}
	return { ...doc, parts, channels, formulas };
}

/** What a channel moves, a formula computes, or a formula reads. */
type Moved = Extract<FormulaInput, { part: string }>;

/**
 * Removes the channels and formulas of what is gone, in every clip. Formulas of others that read it go on with its rest
 * values, which the parts of `doc` still have.
 */
export function withoutMoved(doc: Doc, isGone: (moved: Moved) => boolean): Doc {
	const keep = <E extends Moved>(map: Readonly<Record<string, E>>) =>
		Object.fromEntries(Object.entries(map).filter(([, entity]) => !isGone(entity)));
	const isRead = (input: FormulaInput): input is Moved => !('value' in input) && isGone(input);
	const reading = (formula: Formula): Formula => {
		const inputs = Object.entries(formula.inputs);
		if (!inputs.some(([, input]) => isRead(input))) return formula;
		const kept = inputs.map(([name, input]) => [
			name,
			isRead(input) ? { value: restValue(doc.parts[input.part], input.property, input.component) } : input,
		]);
		return { ...formula, inputs: Object.fromEntries(kept) as Formula['inputs'] };
	};
	const formulas = Object.entries(keep(doc.formulas)).map(([id, formula]) => [id, reading(formula)]);
	return {
		...doc,
		channels: keep(doc.channels),
		formulas: Object.fromEntries(formulas) as Doc['formulas'],
	};
}

/**
 * Removes a part with its descendants and their channels and formulas in every clip. Formulas of other parts that
 * read them go on with their rest values.
 */
export function removePart(doc: Doc, id: string): Doc {
	const gone = withDescendants(doc, id);
	const parts = Object.entries(doc.parts).filter(([part]) => !gone.has(part));
	const left = withoutTriggersOf(
		withoutMoved(doc, ({ part }) => gone.has(part)),
		gone,
	);
	return { ...left, parts: Object.fromEntries(parts) };
}
