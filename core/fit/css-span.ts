/** The CSS easing of a span, whatever its shape: exact where CSS has the words, else `linear()` within a bound. */
import { cssEasing } from '../easing/css';
import { linearStops } from './css-stops';
import { compileCurve, curvePieces } from '../curve/compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import { spanHandles, type CurveContext } from '../curve/handles';
import type { Key } from '../curve/types';
import type { Shape } from '../../player/easing/shape';

export interface SpanEasing {
	text: string;
	/** Whether the text is the span itself. */
	exact: boolean;
	stops: number;
}

const HOLDS = { before: 'hold', after: 'hold' } as const;

/**
 * A span's shape as one that fits any other span: handles become the cubic Bezier that they are over the change. Null
 * where nothing follows, where the value does not change, or where the shape is of its own two keys alone.
 */
export function portableShape(keys: readonly Key[], index: number, context: CurveContext): Shape | null {
	const [from, to] = [keys[index], keys[index + 1]];
	if (!to || from.shape.kind === 'tangents') return null;
	if (from.shape.kind !== 'handles') return from.shape;
	const change = to.v - from.v;
	if (change === 0) return null;
	const { outReach, outRise, inReach, inRise } = spanHandles(keys, index, context);
	// A handle longer than its span belongs to these two keys.
	if (outReach > 1 || inReach > 1) return null;
	return { kind: 'bezier', x1: outReach, y1: outRise / change, x2: 1 - inReach, y2: 1 + inRise / change };
}

/**
 * CSS for the span that starts at key `index`; `bound` is a share of its change. Null where nothing follows, or where
 * the value comes back to where it was, which no easing can say.
 */
export function spanEasing(
	keys: readonly Key[],
	index: number,
	context: CurveContext,
	bound: number,
): SpanEasing | null {
	const [from, to] = [keys[index], keys[index + 1]];
	if (!to) return null;
	const exact = cssEasing(portableShape(keys, index, context) ?? from.shape);
	if (exact !== null) return { text: exact, exact: true, stops: 0 };
	const change = to.v - from.v;
	if (change === 0) return null;
	const curve = compileCurve(keys, HOLDS, context);
	const length = to.t - from.t;
	const pieces = curvePieces([from, to])
		.map(({ t, jump }) => ({ x: (t - from.t) / length, jump }))
		.filter(({ x }) => x > 0 && x < 1);
	const ease = (x: number) => (evaluateCurve(curve, Math.min(from.t + x * length, to.t)) - from.v) / change;
	const stops = linearStops(ease, bound, pieces);
	return { text: cssEasing({ kind: 'stops', stops })!, exact: false, stops: stops.length };
}
