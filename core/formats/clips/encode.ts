/** Curves as the clip file has them: whole numbers of a quantum that is chosen by the bound. */
import { isThird, type Span } from '../../../player/curve/build';
import { evaluateCurve } from '../../../player/curve/evaluate';
import type { Ends, FlatCurve } from '../../../player/curve/flat';
import {
	FILE_BEZIER,
	FILE_CUBIC,
	FILE_HOLD,
	FILE_LINEAR,
	FILE_SHAPE,
	REACH,
	type FileCurve,
	type FileShape,
} from '../../../player/file/format';
import { curveIn } from '../../../player/file/read';

/** Keys and what is between them, ready to be written. */
export interface Spanned {
	times: readonly number[];
	values: readonly number[];
	spans: readonly Span[];
	ends: Ends;
}

/** The shapes that a file's spans refer to, each once. */
export class ShapeTable {
	readonly shapes: FileShape[] = [];
	private readonly places = new Map<string, number>();

	codeOf(shape: FileShape): number {
		const key = JSON.stringify(shape);
		const known = this.places.get(key);
		if (known !== undefined) return FILE_SHAPE + known;
		this.places.set(key, this.shapes.length);
		return FILE_SHAPE + this.shapes.push(shape) - 1;
	}
}

/** The largest of 1, 2 and 5 times a power of ten that is not above a limit: what people type is a multiple of it. */
export function quantumWithin(limit: number): number {
	const power = Math.floor(Math.log10(limit) + 1e-9);
	const step = [5, 2, 1].find((candidate) => candidate * 10 ** power <= limit * (1 + 1e-9))!;
	// Through its text, so that it is the number that JSON says.
	return Number(`${step}e${power}`);
}

export function differences(numbers: readonly number[], stride = 1): number[] {
	return numbers.map((n, i) => (i < stride ? n : n - numbers[i - stride]));
}

/** Spans as numbers; `values` are the rounded ones, in value units. */
export function writeSpans(
	spans: Spanned['spans'],
	values: ArrayLike<number>,
	given: ArrayLike<number>,
	quantum: number,
	table: ShapeTable,
): number[] | number {
	const codes = spans.flatMap((span, i): number[] => {
		if (!('outReach' in span)) {
			if (span.kind === 'hold') return [FILE_HOLD];
			return [span.kind === 'linear' ? FILE_LINEAR : table.codeOf(span)];
		}
		const { outReach, inReach, outRise, inRise } = span;
		// The ends of the handles stay where they are, as near as the quantum allows, though their keys were rounded.
		const rises = [
			Math.round((given[i] + outRise - values[i]) / quantum),
			Math.round((given[i + 1] + inRise - values[i + 1]) / quantum),
		];
		if (isThird(outReach) && isThird(inReach)) return [FILE_CUBIC, ...rises];
		return [FILE_BEZIER, Math.round(outReach * REACH), Math.round(inReach * REACH), ...rises];
	});
	const isAlike =
		codes.length > 1 && codes.length === spans.length && codes.every((code) => code === codes[0]);
	return isAlike ? codes[0] : codes;
}

export type WrittenCurve = Omit<FileCurve, 'part' | 'path'>;

function writeCurve(own: Spanned, endSlopes: Float64Array, quantum: number, table: ShapeTable): WrittenCurve {
	const { times, ends } = own;
	const counts = own.values.map((v) => Math.round(v / quantum));
	const values = counts.map((n) => n * quantum);
	const file: WrittenCurve = {
		times: differences(times),
		quantum,
		values: differences(counts),
		spans: writeSpans(own.spans, values, own.values, quantum, table),
	};
	if (ends.before !== 'hold') file.before = ends.before;
	if (ends.after !== 'hold') file.after = ends.after;
	if (ends.before === 'straight' || ends.after === 'straight') file.slopes = [...endSlopes];
	return file;
}

/** What a curve is to be: read at any time, with the places where it may bend or jump. In ticks. */
export interface Truth {
	read: (t: number) => number;
	marks: Iterable<number>;
	/** Near which, within two ticks, nobody tells values apart. */
	jumps?: readonly number[];
	/** Of ends that go straight on, in value units a tick. */
	endSlopes?: Float64Array;
}

/** Places between two marks at which a written curve is compared with its own, and ticks between two at most. */
const LOOKS = 48;
const LOOK_TICKS = 150;
/** What of a bound is used, so that nothing between the places goes over it. */
const SHARE = 0.98;
/** Ticks about a jump of a formula within which nobody tells values apart. */
export const NEAR_A_JUMP = 2;

function differenceOf({ read, marks, jumps = [] }: Truth, curve: FlatCurve, length: number): number {
	let worst = 0;
	const look = (t: number) => {
		if (jumps.some((jump) => Math.abs(jump - t) <= NEAR_A_JUMP)) return;
		worst = Math.max(worst, Math.abs(read(t) - evaluateCurve(curve, t)));
	};
	const places = [...new Set([0, ...marks, ...curve.times, length])]
		.filter((t) => t >= 0 && t <= length)
		.sort((a, b) => a - b);
	places.forEach((t, i) => {
		look(t);
		const next = places[i + 1] ?? t;
		const count = next > t ? Math.max(LOOKS, Math.ceil((next - t) / LOOK_TICKS)) : 0;
		for (let k = 0; k < count; k++) look(t + ((next - t) * (k + 0.5)) / count);
	});
	return worst;
}

/** Quanta that are coarser than the bound asks for, and of which every value is a multiple all the same: typed ones are. */
function coarserQuanta(values: readonly number[], limit: number): number[] {
	const quanta: number[] = [];
	const largest = Math.max(...values.map(Math.abs));
	for (
		let quantum = quantumWithin(Math.max(largest, limit));
		quantum > limit;
		quantum = quantumWithin(quantum / 1.9)
	)
		if (values.every((v) => Math.abs(v / quantum - Math.round(v / quantum)) < 1e-9)) quanta.push(quantum);
	return quanta;
}

/** How often the quantum is made smaller before a curve is said not to fit. */
const TRIES = 24;
const STILL = new Float64Array(2);

/**
 * A curve in whole numbers that stays within `bound` of the truth over `length` ticks, with the difference that was
 * found. Throws a RangeError where no quantum does.
 */
export function encodeCurve(
	own: Spanned,
	truth: Truth,
	bound: number,
	length: number,
	table: ShapeTable,
): { curve: WrittenCurve; error: number } {
	const finer = Array.from({ length: TRIES }, (_, i) => quantumWithin((2 * bound) / 2 ** i));
	for (const quantum of [...coarserQuanta(own.values, 2 * bound), ...finer]) {
		const curve = writeCurve(own, truth.endSlopes ?? STILL, quantum, table);
		const read = curveIn({ ...curve, part: 0, path: '' }, table.shapes);
		const error = differenceOf(truth, read, length);
		if (error <= SHARE * bound) return { curve, error };
	}
	throw new RangeError('a curve cannot be written within its bound');
}
