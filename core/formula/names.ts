/** All that a formula may name. */
import { BUILT_IN_NAMES, CONSTANTS } from './expression';
import { FUNCTIONS } from './functions';

export interface FormulaName {
	name: string;
	/** The arguments of a function in words; null for the name of a number. */
	words: string | null;
}

/** `inputs` are the names that the formula has of its own; they come first. */
export function namesOf(inputs: readonly string[]): FormulaName[] {
	return [
		...[...inputs, ...BUILT_IN_NAMES, ...Object.keys(CONSTANTS)].map((name) => ({ name, words: null })),
		...Object.entries(FUNCTIONS).map(([name, { words }]) => ({ name, words })),
	];
}
