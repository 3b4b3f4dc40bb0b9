/** How far a span leaves the values of its two keys: past the one that it goes to, or back behind where it came from. */
import type { FlatCurve } from '../../player/curve/flat';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { Key } from './types';

const SAMPLES = 48;
/** Going back counts as a slip at first only: later it is an overshoot. */
const AT_FIRST = 1 / 3;

export interface Excess {
	/** In the channel's units; 0 where it keeps between its keys. */
	past: number;
	pastAt: number;
	pastValue: number;
	/** How far it first goes the wrong way. */
	back: number;
	backAt: number;
	backValue: number;
	/** Places along the span, each with how far it is beyond the values of the keys. */
	way: { t: number; v: number; out: number }[];
}

/** Null where overshoot is meant, as in springs and in families made for it, or cannot be. */
export function spanExcess(curve: FlatCurve, key: Key, next: Key): Excess | null {
	if (key.shape.kind !== 'handles' && key.shape.kind !== 'bezier') return null;
	const [low, high] = key.v < next.v ? [key.v, next.v] : [next.v, key.v];
	const direction = Math.sign(next.v - key.v);
	const found: Excess = {
		past: 0,
		pastAt: key.t,
		pastValue: key.v,
		back: 0,
		backAt: key.t,
		backValue: key.v,
		way: [],
	};
	for (let i = 1; i < SAMPLES; i++) {
		const t = key.t + ((next.t - key.t) * i) / SAMPLES;
		const v = evaluateCurve(curve, t);
		const out = Math.max(0, low - v, v - high);
		found.way.push({ t, v, out });
		if (out > found.past) [found.past, found.pastAt, found.pastValue] = [out, t, v];
		const back = direction * (key.v - v);
		if (i < SAMPLES * AT_FIRST && back > found.back)
			[found.back, found.backAt, found.backValue] = [back, t, v];
	}
	// What goes back first is not told as past too.
	if (found.back >= found.past) found.past = 0;
	return found;
}
