/** The formulas of a clip bound to the slots of its pose buffer, in the order in which they are computed. */
import { BUILT_IN_NAMES, compileExpression, type Evaluate } from '../formula/expression';
import { orderByNeeds } from '../formula/order';
import {
	formulasOfClip,
	type Clip,
	type Component,
	type Doc,
	type Formula,
	type Property,
} from '../document/types';
import { ticksToSeconds, TICKS_PER_SECOND } from '../time';

export interface CompiledFormula {
	formula: Formula;
	/** Index into the pose buffer. */
	slot: number;
	rest: number;
	/** For each input its slot, or −1 for a constant, whose value then stands in `numbers`. */
	inputs: readonly number[];
	evaluate: Evaluate;
	/** time, frame, length, rest, then the inputs. */
	numbers: Float64Array;
}

export interface CompiledFormulas {
	order: readonly CompiledFormula[];
	slots: ReadonlySet<number>;
	/** Frames a tick. */
	framesPerTick: number;
}

const FIRST_INPUT = BUILT_IN_NAMES.length;

function bind(
	formula: Formula,
	clip: Clip,
	rest: Float64Array,
	slotOf: (part: string, property: Property, component: Component) => number | null,
): CompiledFormula | null {
	const slot = slotOf(formula.part, formula.property, formula.component);
	const compiled = compileExpression(formula.text, Object.keys(formula.inputs));
	if (slot === null || !compiled.ok) return null;
	const list = Object.values(formula.inputs);
	const numbers = new Float64Array(FIRST_INPUT + list.length);
	numbers[2] = ticksToSeconds(clip.length);
	numbers[3] = rest[slot];
	const inputs = list.map((input, i) => {
		if ('value' in input) {
			numbers[FIRST_INPUT + i] = input.value;
			return -1;
		}
		return slotOf(input.part, input.property, input.component) ?? -1;
	});
	return { formula, slot, rest: rest[slot], inputs, evaluate: compiled.evaluate, numbers };
}

/**
 * Compiles the formulas of a clip. What cannot be compiled, or stands in a ring, is left out: the document's rules
 * refuse such formulas before they get here.
 */
export function compileFormulas(
	doc: Doc,
	clip: Clip,
	rest: Float64Array,
	slotOf: (part: string, property: Property, component: Component) => number | null,
): CompiledFormulas {
	const bound = formulasOfClip(doc, clip.id).flatMap((formula) => bind(formula, clip, rest, slotOf) ?? []);
	const bySlot = new Map(bound.map((formula) => [formula.slot, formula]));
	const ordered = orderByNeeds(bound, ({ inputs }) => inputs.flatMap((slot) => bySlot.get(slot) ?? []));
	const order = ordered.ok ? ordered.order : [];
	return {
		order,
		slots: new Set(order.map(({ slot }) => slot)),
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
		pose[formula.slot] = Number.isFinite(value) ? value : formula.rest;
	}
}
