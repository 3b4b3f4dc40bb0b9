/** What a project's triggers and layers listen to: names for buttons, keys, pads and sliders. */
import type { Doc } from '$core/document/types';

export const STICK = ['stick x', 'stick y'] as const;

export interface Inputs {
	/** Named triggers. */
	calls: string[];
	keys: string[];
	/** Buttons of a pad, from 0. */
	buttons: number[];
	/** Parameters, without those of the stick. */
	parameters: string[];
	hasStick: boolean;
}

const unique = <T>(values: readonly T[]) => [...new Set(values)];

export function inputsOf(doc: Doc): Inputs {
	const moments = Object.values(doc.triggers).map(({ when }) => when);
	const parameters = unique([
		...moments.flatMap((when) => (when.kind === 'parameter' ? when.name : [])),
		...Object.values(doc.layers).flatMap(({ parameter }) => parameter ?? []),
	]);
	const ofStick = (name: string) => (STICK as readonly string[]).includes(name);
	return {
		calls: unique(moments.flatMap((when) => (when.kind === 'call' ? when.name : []))),
		keys: unique(moments.flatMap((when) => (when.kind === 'key' ? when.key : []))),
		buttons: unique(moments.flatMap((when) => (when.kind === 'button' ? when.button : []))).sort(
			(a, b) => a - b,
		),
		parameters: parameters.filter((name) => !ofStick(name)).sort(),
		hasStick: parameters.some(ofStick),
	};
}

/** What a key press is called in triggers. */
export function keyOf({ key }: KeyboardEvent): string {
	return key === ' ' ? 'Space' : key.length === 1 ? key.toLowerCase() : key;
}
