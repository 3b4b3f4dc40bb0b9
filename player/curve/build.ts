/** Makes flat curves of keys and of what each span does between two of them. */
import { easeOf, springValue } from '../easing/ease';
import type { Shape, SpringShape } from '../easing/shape';
import type { SpringParameters } from '../easing/spring';
import { ticksToSeconds } from '../time';
import {
	SPAN_BEZIER,
	SPAN_CUBIC,
	SPAN_EASE,
	SPAN_LINEAR,
	SPAN_VALUE,
	STRIDE,
	type Ends,
	type FlatCurve,
} from './flat';

/** The two handles of a span as offsets from their keys: `reach` as a fraction of the span, `rise` in value units. */
export interface SpanHandles {
	outReach: number;
	outRise: number;
	inReach: number;
	inRise: number;
}

/** A spring in a span: so many seconds of it, or without them as many as the span has. */
export interface SpringSpan extends SpringParameters {
	kind: 'spring';
	/** Value units a second at the start. */
	velocity: number;
	seconds?: number;
}

/** What a span does between its two keys. */
export type Span = SpanHandles | SpringSpan | Exclude<Shape, SpringShape>;

export const THIRD = 1 / 3;

/** Handles that reach a third of their span make it a cubic polynomial in time. */
export function isThird(reach: number): boolean {
	return Math.abs(reach - THIRD) < 1e-12;
}

/** The handles that give a shape's single Bezier over a change of value, or null where it is none. */
export function shapeHandles(shape: Exclude<Span, SpanHandles> | Shape, change: number): SpanHandles | null {
	const between = (outReach: number, outRise: number, inReach: number, inRise: number) => ({
		outReach,
		outRise: change * outRise,
		inReach,
		inRise: -change * inRise,
	});
	switch (shape.kind) {
		case 'linear':
			return between(THIRD, THIRD, THIRD, THIRD);
		case 'eased':
			return between(shape.start, 0, shape.finish, 0);
		case 'fall':
			return between(THIRD, 0, THIRD, 2 * THIRD);
		case 'rise':
			return between(THIRD, 2 * THIRD, THIRD, 0);
		case 'bezier':
			return between(shape.x1, shape.y1, 1 - shape.x2, 1 - shape.y2);
		default:
			return null;
	}
}

function writeBezier(handles: SpanHandles, change: number, out: Float64Array, at: number): number {
	const { outReach, outRise, inReach, inRise } = handles;
	const p2 = change + inRise;
	const ay = change - 3 * p2 + 3 * outRise;
	const by = 3 * p2 - 6 * outRise;
	const cy = 3 * outRise;
	if (isThird(outReach) && isThird(inReach)) {
		out[at + 1] = ay;
		out[at + 2] = by;
		out[at + 3] = cy;
		return SPAN_CUBIC;
	}
	const x1 = outReach;
	const x2 = 1 - inReach;
	out[at + 1] = 1 - 3 * x2 + 3 * x1;
	out[at + 2] = 3 * x2 - 6 * x1;
	out[at + 3] = 3 * x1;
	out[at + 4] = ay;
	out[at + 5] = by;
	out[at + 6] = cy;
	return SPAN_BEZIER;
}

/**
 * A curve through `values` at `times` (ticks, strictly increasing, one at least); `spanOf` says what each span does. The
 * slopes of its ends are 0 until they are set.
 */
export function buildCurve(
	times: ArrayLike<number>,
	values: ArrayLike<number>,
	ends: Ends,
	spanOf: (span: number) => Span,
): FlatCurve {
	const count = times.length;
	const last = count - 1;
	// One time more than keys, so that the evaluator may look at the end of any span; a lone key has a span that holds.
	const curve: FlatCurve = {
		count,
		times: new Float64Array(count + 1).fill(Infinity),
		values: Float64Array.from(values),
		kinds: new Uint8Array(Math.max(1, last)),
		coefficients: new Float64Array(Math.max(1, last) * STRIDE),
		eases: new Array(last).fill(null),
		before: ends.before,
		after: ends.after,
		// Numbers that may or may not be whole stay out of the object: curves of one hidden class evaluate faster.
		endSlopes: new Float64Array(2),
		cursor: 0,
	};
	curve.times.set(times);
	for (let i = 0; i < last; i++) writeSpan(curve, i, spanOf(i));
	return curve;
}

function writeSpan(curve: FlatCurve, span: number, own: Span): void {
	const { times, values, kinds, coefficients, eases } = curve;
	const at = span * STRIDE;
	const ticks = times[span + 1] - times[span];
	const change = values[span + 1] - values[span];
	coefficients[at] = 1 / ticks;
	const shape = 'kind' in own ? own : null;
	const handles = 'kind' in own ? shapeHandles(own, change) : own;
	if (shape?.kind === 'linear') {
		kinds[span] = SPAN_LINEAR;
		coefficients[at] = 1;
		coefficients[at + 3] = change / ticks;
	} else if (handles) kinds[span] = writeBezier(handles, change, coefficients, at);
	else if (shape?.kind === 'spring') {
		kinds[span] = SPAN_VALUE;
		eases[span] = springValue(shape, values[span], values[span + 1], shape.seconds ?? ticksToSeconds(ticks));
	} else if (shape && shape.kind !== 'hold') {
		kinds[span] = SPAN_EASE;
		coefficients[at + 1] = change;
		eases[span] = easeOf(shape);
	}
}
