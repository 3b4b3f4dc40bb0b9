/** Bringing a whole document into another one. */
import {
	blendId,
	channelId,
	formulaId,
	type Channel,
	type Clip,
	type Cue,
	type Doc,
	type Formula,
	type FormulaInput,
	type Part,
} from '../document/types';

export interface Merge {
	/** Carries the parts that hang on nothing in the other document. */
	root: Part;
	/** A new id for each of the other document's ids; the same one each time. */
	idOf: (id: string) => string;
	/** What a clip of the other document is called here, and where it stands among the others. */
	clipAs: (clip: Clip) => { name: string; order: string };
}

/** Parts, clips, channels, formulas, cues, takes and blends of `other` as new entities of `doc`; its triggers and layers stay behind. */
export function mergeDocument(doc: Doc, other: Doc, { root, idOf, clipAs }: Merge): Doc {
	const parts: Record<string, Part> = { ...doc.parts, [root.id]: root };
	for (const part of Object.values(other.parts)) {
		const id = idOf(part.id);
		parts[id] = { ...part, id, parent: part.parent === null ? root.id : idOf(part.parent) };
	}
	const clips: Record<string, Clip> = { ...doc.clips };
	for (const clip of Object.values(other.clips)) {
		const id = idOf(clip.id);
		clips[id] = { ...clip, id, ...clipAs(clip) };
		// Marks are on channels by their ids, which are others here.
		delete clips[id].intended;
	}
	const place = <E extends Channel | Formula>(entity: E): E => ({
		...entity,
		clip: idOf(entity.clip),
		part: idOf(entity.part),
	});
	const channels: Record<string, Channel> = { ...doc.channels };
	for (const channel of Object.values(other.channels).map(place)) {
		const id = channelId(channel.clip, channel.part, channel.property, channel.component);
		channels[id] = { ...channel, id };
	}
	const inputOf = (input: FormulaInput): FormulaInput =>
		'value' in input ? input : { ...input, part: idOf(input.part) };
	const formulas: Record<string, Formula> = { ...doc.formulas };
	for (const formula of Object.values(other.formulas).map(place)) {
		const id = formulaId(formula.clip, formula.part, formula.property, formula.component);
		const inputs = Object.entries(formula.inputs).map(([name, input]) => [name, inputOf(input)]);
		formulas[id] = { ...formula, id, inputs: Object.fromEntries(inputs) as Formula['inputs'] };
	}
	const cues: Record<string, Cue> = { ...doc.cues };
	for (const cue of Object.values(other.cues)) {
		const id = idOf(cue.id);
		cues[id] = { ...cue, id, clip: idOf(cue.clip) };
	}
	const blends = { ...doc.blends };
	for (const blend of Object.values(other.blends)) {
		const [from, to] = [idOf(blend.from), idOf(blend.to)];
		const id = blendId(from, to);
		blends[id] = { ...blend, id, from, to };
	}
	const takes = { ...doc.takes };
	for (const take of Object.values(other.takes)) {
		const id = idOf(take.id);
		const columns = take.columns.map((column) => ({ ...column, part: idOf(column.part) }));
		takes[id] = { ...take, id, clip: idOf(take.clip), columns };
	}
	return { ...doc, parts, clips, channels, formulas, cues, takes, blends };
}
