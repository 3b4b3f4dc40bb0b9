/** How a lane's values map to its height. */
import { evaluateCurve } from '$player/curve/evaluate';
import type { FlatCurve } from '$player/curve/flat';

export interface ValueRange {
	low: number;
	high: number;
}

const SAMPLES = 96;
const ranges = new WeakMap<FlatCurve, { length: number; range: ValueRange }>();

/** Range of a curve over a clip, its keys included. */
export function rangeOf(curve: FlatCurve, length: number): ValueRange {
	const known = ranges.get(curve);
	if (known?.length === length) return known.range;
	let low = Infinity;
	let high = -Infinity;
	const take = (v: number) => {
		if (v < low) low = v;
		if (v > high) high = v;
	};
	for (let i = 0; i <= SAMPLES; i++) take(evaluateCurve(curve, (length * i) / SAMPLES));
	for (const v of curve.values) take(v);
	const range = { low, high };
	ranges.set(curve, { length, range });
	return range;
}

const NARROW = { top: 4, bottom: 1.5 } as const;
const WIDE = { top: 8, bottom: 5 } as const;

/** Room above and below the profile, in pixels: heads of keys must fit. */
export function padding(height: number): { readonly top: number; readonly bottom: number } {
	return height < 30 ? NARROW : WIDE;
}

/** Pixel below the lane's top for a value. A constant channel stands in the middle. */
export function valueY(value: number, range: ValueRange, height: number): number {
	const { top, bottom } = padding(height);
	const room = height - top - bottom;
	const span = range.high - range.low;
	if (span <= 1e-12) return top + room / 2;
	return top + room * (1 - (value - range.low) / span);
}

/** The value at a pixel below the lane's top. */
export function valueAt(y: number, range: ValueRange, height: number): number {
	return range.high - (y - padding(height).top) * valuePerPixel(range, height);
}

/** Value units a pixel. */
export function valuePerPixel(range: ValueRange, height: number): number {
	const { top, bottom } = padding(height);
	return Math.max(range.high - range.low, 1e-12) / Math.max(1, height - top - bottom);
}
