/** The formulas of a clip bound to places in its poses, in the order in which they are computed. */
import { BUILT_IN_NAMES, compileExpression, type Evaluate } from '../formula/expression';
import { orderByNeeds } from '../formula/order';
import { restValue } from '../document/rest';
import type { Clip, Doc, Formula } from '../document/types';
import type { PoseLayout } from '../../player/layout';
import { ticksToSeconds, TICKS_PER_SECOND } from '../../player/time';
import { numberPlace } from './layout';

export interface CompiledFormula {
	formula: Formula;
	/** Index into a pose. */
	place: number;
	rest: number;
	/** For each input its place, or −1 for what does not change, whose value then stands in `numbers`. */
	inputs: readonly number[];
	evaluate: Evaluate;
	/** time, frame, length, rest, then the inputs. */
	numbers: Float64Array;
}

export interface CompiledFormulas {
	order: readonly CompiledFormula[];
	places: ReadonlySet<number>;
	/** Frames a tick. */
	framesPerTick: number;
}

const FIRST_INPUT = BUILT_IN_NAMES.length;

function bind(doc: Doc, clip: Clip, layout: PoseLayout, formula: Formula): CompiledFormula | null {
	const { part, property, component, text } = formula;
	const place = numberPlace(layout, part, property, component);
	const compiled = compileExpression(text, Object.keys(formula.inputs));
	if (place < 0 || !compiled.ok) return null;
	const list = Object.values(formula.inputs);
	const numbers = new Float64Array(FIRST_INPUT + list.length);
	const rest = layout.rest[place];
	numbers[2] = ticksToSeconds(clip.length);
	numbers[3] = rest;
	const inputs = list.map((input, i) => {
		if ('value' in input) {
			numbers[FIRST_INPUT + i] = input.value;
			return -1;
		}
		const source = doc.parts[input.part];
		if (source) numbers[FIRST_INPUT + i] = restValue(source, input.property, input.component);
		return numberPlace(layout, input.part, input.property, input.component);
	});
	return { formula, place, rest, inputs, evaluate: compiled.evaluate, numbers };
}

/**
 * Compiles the formulas of a clip. What cannot be compiled, or stands in a ring, is left out: the document's rules
 * refuse such formulas before they get here.
 */
export function compileFormulas(
	doc: Doc,
	clip: Clip,
	layout: PoseLayout,
	formulas: readonly Formula[],
): CompiledFormulas {
	const bound = formulas.flatMap((formula) => bind(doc, clip, layout, formula) ?? []);
	const byPlace = new Map(bound.map((formula) => [formula.place, formula]));
	const ordered = orderByNeeds(bound, ({ inputs }) => inputs.flatMap((place) => byPlace.get(place) ?? []));
	const order = ordered.ok ? ordered.order : [];
	return {
		order,
		places: new Set(order.map(({ place }) => place)),
		framesPerTick: doc.project.frameRate / TICKS_PER_SECOND,
	};
}

/** What a formula gives from a pose, not finite where it fails. */
export function formulaResult(compiled: CompiledFormula, pose: Float64Array): number {
	const { inputs, numbers, evaluate } = compiled;
	for (let i = 0; i < inputs.length; i++) if (inputs[i] >= 0) numbers[FIRST_INPUT + i] = pose[inputs[i]];
	return evaluate(numbers);
}

function setTime({ numbers }: CompiledFormula, local: number, framesPerTick: number): void {
	numbers[0] = ticksToSeconds(local);
	numbers[1] = local * framesPerTick;
}

/** Computes formulas of a pose at a local time (ticks), each written where it belongs; what is not finite rests. */
export function runFormulas(
	{ order, framesPerTick }: Pick<CompiledFormulas, 'order' | 'framesPerTick'>,
	local: number,
	pose: Float64Array,
): void {
	for (const formula of order) {
		setTime(formula, local, framesPerTick);
		const value = formulaResult(formula, pose);
		pose[formula.place] = Number.isFinite(value) ? value : formula.rest;
	}
}
