/** Edits on formulas. */
import { compileClip } from '../clip/compile';
import { numberPlace } from '../clip/layout';
import { traceOf } from '../clip/trace';
import { keysWithin } from '../fit/to-keys';
import { makeChannel } from './keys';
import {
	formulaId,
	type Channel,
	type Component,
	type Doc,
	type Formula,
	type FormulaInput,
	type Property,
} from '../document/types';
import { badReferences } from '../document/references';

export function putFormula(doc: Doc, formula: Formula): Doc {
	return { ...doc, formulas: { ...doc.formulas, [formula.id]: formula } };
}

/** A formula that keeps to the rest value until something is written. */
export function newFormula(clip: string, part: string, property: Property, component: Component): Formula {
	const id = formulaId(clip, part, property, component);
	return { type: 'formula', id, clip, part, property, component, text: 'rest', inputs: {} };
}

export function setFormulaInput(doc: Doc, id: string, name: string, input: FormulaInput): Doc {
	const formula = doc.formulas[id];
	return formula ? putFormula(doc, { ...formula, inputs: { ...formula.inputs, [name]: input } }) : doc;
}

export function removeFormula(doc: Doc, id: string): Doc {
	const formulas = { ...doc.formulas };
	delete formulas[id];
	return { ...doc, formulas };
}

const plain = (value: number) => String(Number(value.toPrecision(9)));

/**
 * The formulas by which a part keeps its volume (of an interface, its area) while it is stretched along y: what it loses
 * there it gains across, and at rest it has its own scale.
 */
function volumeFormulas(doc: Doc, clip: string, part: string): Formula[] {
	const { scale } = doc.parts[part].rest;
	const isFlat = doc.project.space === 'interface';
	const [, along] = scale;
	const share = `${plain(along)} / sy`;
	return (isFlat ? (['x'] as const) : (['x', 'z'] as const)).map((axis) => {
		const across = plain(scale[axis === 'x' ? 0 : 2]);
		const own = across === '1' ? '' : `${across} * `;
		const root = along === 1 ? `${across} / sqrt(sy)` : `${own}sqrt(${share})`;
		return {
			...newFormula(clip, part, 'scale', axis),
			text: isFlat ? `${own}${share}` : root,
			inputs: { sy: { part, property: 'scale', component: 'y' } },
		};
	});
}

/** Whether what a part's volume is kept by is there as it was written. */
export function keepsVolume(doc: Doc, clip: string, part: string): boolean {
	return volumeFormulas(doc, clip, part).every(({ id, text }) => doc.formulas[id]?.text === text);
}

/** Why a part cannot keep its volume in a clip; null when it can. */
export function whyVolumeChanges(doc: Doc, clip: string, part: string): string | null {
	if (keepsVolume(doc, clip, part)) return null;
	const others = volumeFormulas(doc, clip, part).filter(
		({ id, text }) => doc.formulas[id] && doc.formulas[id].text !== text,
	);
	if (others.length > 0) return `A formula computes scale ${others[0].component} already.`;
	const kept = keepVolume(doc, clip, part);
	return (
		volumeFormulas(doc, clip, part)
			.map(({ id }) => whyRefused(kept, id))
			.find((why) => why !== null) ?? null
	);
}

/** Lets a part keep its volume in a clip; keys of what is computed then stay below. */
export function keepVolume(doc: Doc, clip: string, part: string): Doc {
	return volumeFormulas(doc, clip, part).reduce(putFormula, doc);
}

export function letVolumeChange(doc: Doc, clip: string, part: string): Doc {
	return volumeFormulas(doc, clip, part).reduce((next, { id }) => removeFormula(next, id), doc);
}

/** Why a document with a changed formula would be refused; null when it would not. */
export function whyRefused(doc: Doc, id: string): string | null {
	const bad = badReferences(doc, { has: (own) => own === id }).find(({ entity }) => entity.id === id);
	return bad?.message ?? null;
}

/** How far the keys may leave the formula, as a share of its range. */
const BOUND = 0.001;

/** Replaces a formula by keys that follow it; keys that stood below it are gone. */
export function formulaIntoKeys(doc: Doc, id: string): Doc {
	const formula = doc.formulas[id];
	const clip = doc.clips[formula.clip];
	const compiled = compileClip(doc, clip);
	const { part, property, component } = formula;
	const place = numberPlace(compiled.layout, part, property, component);
	const { read, pieces } = traceOf(compiled, place);
	const values = Array.from({ length: 257 }, (_, i) => read((clip.length * i) / 256));
	const range = Math.max(...values) - Math.min(...values);
	const source = {
		size: 1,
		start: 0,
		end: clip.length,
		pieces,
		evaluate(t: number, out: Float64Array) {
			out[0] = read(t);
		},
	};
	const keys: Channel['keys'] =
		range < 1e-9 ? [{ t: 0, v: values[0], shape: { kind: 'hold' } }] : keysWithin(source, BOUND * range).keys;
	const channel = makeChannel(formula, keys);
	return { ...removeFormula(doc, id), channels: { ...doc.channels, [channel.id]: channel } };
}
