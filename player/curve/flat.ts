/** A curve as flat typed arrays (a structure of arrays), which `evaluate.ts` reads. Times in ticks. */

export const END_KINDS = ['hold', 'straight', 'repeat', 'accumulate', 'alternate'] as const;
/** What a curve does outside its keys. */
export type EndKind = (typeof END_KINDS)[number];

export interface Ends {
	before: EndKind;
	after: EndKind;
}

// What a span computes from its value v0 at its start and its row of `coefficients`, as said at each. Plain constants,
// since the evaluator's inner loop reads them. The first three kinds are one formula: v0 + ((a·x + b)·x + c)·x.
/** [1/D, 0, 0, 0] */
export const SPAN_HOLD = 0;
/** [1, 0, 0, slope a tick], x in ticks */
export const SPAN_LINEAR = 1;
/** [1/D, a, b, c], x in 0…1 */
export const SPAN_CUBIC = 2;
/** [1/D, ax, bx, cx, ay, by, cy]: the same cubic in u, where u solves the time cubic */
export const SPAN_BEZIER = 3;
/** [1/D, Δ]: v0 + Δ·ease(x) */
export const SPAN_EASE = 4;
/** [1/D]: ease(x) is the value itself */
export const SPAN_VALUE = 5;
export const STRIDE = 7;

/** A channel ready to evaluate. Times in ticks; spans lie between neighbouring keys. */
export interface FlatCurve {
	readonly count: number;
	/** Of the keys, and Infinity after the last. */
	readonly times: Float64Array;
	readonly values: Float64Array;
	readonly kinds: Uint8Array;
	/** A row of STRIDE numbers a span. */
	readonly coefficients: Float64Array;
	readonly eases: (((x: number) => number) | null)[];
	readonly before: EndKind;
	readonly after: EndKind;
	/** Value units a tick at the start and at the end, for ends that go straight on. */
	readonly endSlopes: Float64Array;
	/** The span found last: evaluation in order of time does not search. */
	cursor: number;
}
