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
	/** From where to where each parameter is of interest: at least from 0 to 1. */
	ranges: ReadonlyMap<string, readonly [low: number, high: number]>;
}

const unique = <T>(values: readonly T[]) => [...new Set(values)];

export function inputsOf(doc: Doc): Inputs {
	const moments = Object.values(doc.triggers).map(({ when }) => when);
	const parameters = unique([
		...moments.flatMap((when) => (when.kind === 'parameter' ? when.name : [])),
		...Object.values(doc.layers).flatMap(({ parameter }) => parameter ?? []),
		...Object.values(doc.mixes).map(({ parameter }) => parameter),
	]);
	const ranges = new Map(
		parameters.map((name): [string, [number, number]] => {
			const places = [
				...moments.flatMap((when) => (when.kind === 'parameter' && when.name === name ? when.value : [])),
				...Object.values(doc.mixes).flatMap((mix) =>
					mix.parameter === name ? mix.stops.map(({ at }) => at) : [],
				),
			];
			return [name, [Math.min(0, ...places), Math.max(1, ...places)]];
		}),
	);
	const ofStick = (name: string) => (STICK as readonly string[]).includes(name);
	return {
		calls: unique(moments.flatMap((when) => (when.kind === 'call' ? when.name : []))),
		keys: unique(moments.flatMap((when) => (when.kind === 'key' ? when.key : []))),
		buttons: unique(moments.flatMap((when) => (when.kind === 'button' ? when.button : []))).sort(
			(a, b) => a - b,
		),
		parameters: parameters.filter((name) => !ofStick(name)).sort(),
		hasStick: parameters.some(ofStick),
		ranges,
	};
}

/** What a key press is called in triggers. */
export function keyOf({ key }: KeyboardEvent): string {
	return key === ' ' ? 'Space' : key.length === 1 ? key.toLowerCase() : key;
}
