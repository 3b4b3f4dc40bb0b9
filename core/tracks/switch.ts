/** When a part is to be seen: what formats of places and turns alone have to tell by its scale. */
import type { Piece } from '../curve/piece';
import type { CompiledClip } from '../clip/compile';
import { numberPlace } from '../clip/layout';
import { findJumps, mergePieces, traceOf } from '../clip/trace';
import type { Property } from '../document/types';

export interface Switch {
	isOn(ticks: number): boolean;
	/** Where it turns on or off. */
	pieces: readonly Piece[];
	/** Whether a formula turns it: places between those that were looked at may be missed. */
	isComputed: boolean;
}

/** Below this `visible` is off. */
const ON = 0.5;

function one(
	compiled: CompiledClip,
	part: string,
	property: Property,
	isOn: (value: number) => boolean,
): Switch | null {
	const place = numberPlace(compiled.layout, part, property, 'value');
	const trace = place < 0 ? null : traceOf(compiled, place);
	if (!trace?.channel && !trace?.formula) return null;
	const on = (t: number) => isOn(trace.read(t));
	// A curve crosses a threshold where no key is.
	const isKeyed = trace.formula === null && property === 'visible';
	const crossed = isKeyed ? [] : findJumps((t) => Number(on(t)), compiled.clip.length, trace.pieces);
	return {
		isOn: on,
		pieces: mergePieces([trace.pieces.map(({ t, jump }) => ({ t, jump })), crossed]),
		isComputed: trace.formula !== null,
	};
}

/** What switches a part on and off in a clip, with `fades` also where its opacity is none. Null where nothing does. */
export function switchOf(compiled: CompiledClip, part: string, fades = false): Switch | null {
	const visible = one(compiled, part, 'visible', (value) => value >= ON);
	const fade = fades ? one(compiled, part, 'opacity', (value) => value > 0) : null;
	if (!visible || !fade) return visible ?? fade;
	return {
		isOn: (t) => visible.isOn(t) && fade.isOn(t),
		pieces: mergePieces([visible.pieces, fade.pieces]),
		isComputed: visible.isComputed || fade.isComputed,
	};
}
