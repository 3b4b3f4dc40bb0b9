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
