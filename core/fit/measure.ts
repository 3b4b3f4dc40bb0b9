/** How far a sampler is off its source, as a float32 reader plays it. */
import { TICKS_PER_SECOND, ticksToSeconds } from '../time';
import { sampleAt, type Sampler } from './sampler';
import { distance, type Source } from './source';

export interface Measured {
	/** Largest error, in the path's units (degrees for rotations). */
	error: number;
	/** Seconds. */
	errorAt: number;
}

const LEAST_CELLS = 8;
const CELLS_A_SECOND = 160;
const MOST_CELLS = 400;

/** Around a jump readers may show either side, within a few steps of float32. */
function jumpWindows(source: Source): { from: number; to: number }[] {
	return source.pieces
		.filter((piece) => piece.jump)
		.map((piece) => {
			const seconds = ticksToSeconds(piece.t);
			const reach = 4 * 2 ** -24 * Math.max(1, seconds);
			return { from: seconds - reach, to: seconds + reach };
		});
}

/**
 * Measures on every stretch between corners of the source and keys of the file, and at the extrema of the residual
 * in it. `over` gets the ticks of every place that is worse than `bound`.
 */
export function measure(
	source: Source,
	sampler: Sampler,
	bound = Infinity,
	over?: (ticks: number) => void,
): Measured {
	const { size } = source;
	const out = new Float32Array(size);
	const truth = new Float64Array(size);
	const windows = jumpWindows(source);
	let error = 0;
	let errorAt = 0;
	let hint = 0;
	const residual = (seconds: number): number => {
		hint = sampleAt(sampler, seconds, out, hint);
		source.evaluate(Math.min(source.end, Math.max(source.start, seconds * TICKS_PER_SECOND)), truth);
		return distance(size, out, truth);
	};
	const note = (seconds: number, value: number) => {
		if (value <= error && value <= bound) return;
		if (windows.some(({ from, to }) => seconds >= from && seconds <= to)) return;
		if (!(value <= error)) {
			error = value;
			errorAt = seconds;
		}
		if (!(value <= bound)) over?.(seconds * TICKS_PER_SECOND);
	};
	const start = ticksToSeconds(source.start);
	const end = ticksToSeconds(source.end);
	const marks = [start, end, ...source.pieces.map((p) => ticksToSeconds(p.t)), ...sampler.times]
		.filter((t) => t >= start && t <= end)
		.sort((a, b) => a - b);
	for (let m = 0; m + 1 < marks.length; m++) {
		const [a, b] = [marks[m], marks[m + 1]];
		let left = residual(a);
		note(a, left);
		if (b - a < 1e-9) continue;
		const cells = Math.min(MOST_CELLS, Math.max(LEAST_CELLS, Math.ceil((b - a) * CELLS_A_SECOND)));
		const h = (b - a) / cells;
		let here = residual(a + h);
		for (let i = 1; i < cells; i++) {
			const right = residual(a + (i + 1) * h);
			note(a + i * h, here);
			if (here >= left && here >= right && here > 0.5 * Math.min(bound, error || Infinity)) {
				// The residual peaks near here: a parabola through three points finds where.
				const curve = left - 2 * here + right;
				const shift = curve < 0 ? (0.5 * (left - right)) / curve : 0;
				const peak = a + (i + Math.max(-1, Math.min(1, shift))) * h;
				note(peak, residual(peak));
			}
			left = here;
			here = right;
		}
	}
	note(end, residual(end));
	return { error, errorAt };
}
