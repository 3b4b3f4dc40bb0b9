/** How far a sampler is off its source, as a float32 reader plays it. */
import { TICKS_PER_SECOND, ticksToSeconds } from '../time';
import { sampleAt, type Sampler } from './sampler';
import { distance, rotates, type Source } from './source';

export interface Measured {
	/** Largest error, in the path's units (degrees for rotations). */
	error: number;
	/** Seconds. */
	errorAt: number;
}

const LEAST_CELLS = 12;
const LEAST_SMOOTH_CELLS = 8;
const CELLS_A_SECOND = 160;
const MOST_CELLS = 400;

/** A cell is looked at closely when an end of it comes this near to the bound (or to the worst so far). */
const NEAR = 0.6;
/** A source is vertical where a step of float32 time changes it by this share of the bound. */
const UNFOLLOWABLE = 0.5;
/** Peaks this near to the bound are climbed, in so many steps that halve their surroundings. */
const CLIMBS_FROM = 0.9;
const CLIMBS = 4;
const EVENLY = [0.25, 0.5, 0.75];
const AFTER_CORNER = [0.05, 0.22, 0.55];
const BEFORE_CORNER = [0.45, 0.78, 0.95];

/** Where the parabola through three neighbouring places has its vertex. */
function vertexOf(x: Float64Array, y: Float64Array, i: number): number {
	const [a, b] = [x[i] - x[i - 1], x[i] - x[i + 1]];
	const [p, q] = [y[i] - y[i + 1], y[i] - y[i - 1]];
	const bottom = a * p - b * q;
	return bottom === 0 ? x[i] : x[i] - (0.5 * (a * a * p - b * b * q)) / bottom;
}

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

/** Shares of a stretch at which a cubic is taken: just inside its ends, since at a jump those show the other side. */
const NODES = [0.001, 0.334, 0.667, 0.999];

/** Where the cubic through the values at the nodes has its peaks, inside the stretch. */
function cubicPeaks(p0: number, p1: number, p2: number, p3: number): number[] {
	// Newton's divided differences; the nodes are evenly spaced but for rounding in the third digit.
	const [x0, x1, x2, x3] = NODES;
	const d01 = (p1 - p0) / (x1 - x0);
	const d12 = (p2 - p1) / (x2 - x1);
	const d23 = (p3 - p2) / (x3 - x2);
	const d012 = (d12 - d01) / (x2 - x0);
	const d123 = (d23 - d12) / (x3 - x1);
	const c = (d123 - d012) / (x3 - x0);
	const b = d012;
	const a = d01;
	// Derivative of p0 + a(x−x0) + b(x−x0)(x−x1) + c(x−x0)(x−x1)(x−x2).
	const second = 3 * c;
	const first = 2 * b - 2 * c * (x0 + x1 + x2);
	const zeroth = a - b * (x0 + x1) + c * (x0 * x1 + x0 * x2 + x1 * x2);
	const inside = (u: number) => u > 0 && u < 1;
	if (Math.abs(second) < 1e-12 * (Math.abs(first) + Math.abs(zeroth)))
		return [-zeroth / first].filter(inside);
	const discriminant = first * first - 4 * second * zeroth;
	if (!(discriminant > 0)) return [];
	const q = -0.5 * (first + Math.sign(first || 1) * Math.sqrt(discriminant));
	return [q / second, zeroth / q].filter(inside);
}

/** Says of a time in ticks whether the source, or what turns it, is cubic there. */
function cubicStretches({ pieces }: Source): (ticks: number) => boolean {
	let at = 0;
	return (ticks) => {
		if (pieces.length === 0 || ticks < pieces[0].t) return false;
		while (at + 1 < pieces.length && pieces[at + 1].t <= ticks) at++;
		return pieces[at].cubic ?? false;
	};
}

/**
 * Measures on every stretch between corners of the source and keys of the file, closely next to those and wherever the
 * residual comes near the bound, and at its extrema. `over` gets the ticks of every place that is worse than `bound`.
 * With `onlyWhether` it ends at the first stretch that exceeds the bound.
 */
export function measure(
	source: Source,
	sampler: Sampler,
	bound = Infinity,
	over?: (ticks: number) => void,
	onlyWhether = false,
): Measured {
	const { size } = source;
	const turns = rotates(source);
	const out = new Float32Array(size);
	const shown = new Float64Array(size);
	const truth = new Float64Array(size);
	const early = new Float64Array(size);
	const late = new Float64Array(size);
	const windows = jumpWindows(source);
	let error = 0;
	let errorAt = 0;
	let hint = 0;
	const residual = (seconds: number): number => {
		hint = sampleAt(sampler, seconds, out, hint);
		source.evaluate(Math.min(source.end, Math.max(source.start, seconds * TICKS_PER_SECOND)), truth);
		// Compared in arrays of one kind, which is what makes the comparison fast.
		for (let k = 0; k < size; k++) shown[k] = out[k];
		return distance(source, shown, truth);
	};
	/** How much the source itself changes within a step of float32 time: at a vertical tangent no key can follow. */
	const withinAStep = (seconds: number): number => {
		const step = 2 ** -23 * seconds * TICKS_PER_SECOND;
		const ticks = seconds * TICKS_PER_SECOND;
		source.evaluate(Math.max(source.start, ticks - step), early);
		source.evaluate(Math.min(source.end, Math.max(source.start, ticks)), truth);
		source.evaluate(Math.min(source.end, ticks + step), late);
		// A cusp rises and falls within the step: its two sides are alike, and its tip is far from both.
		return Math.max(
			distance(source, early, late),
			distance(source, early, truth),
			distance(source, truth, late),
		);
	};
	/** An error over the bound, less what no key could follow; only where a step of time is worth most of the bound. */
	const resolvable = (seconds: number, measured: number): number => {
		const blur = withinAStep(seconds);
		return blur > UNFOLLOWABLE * bound ? Math.max(0, measured - blur) : measured;
	};
	const note = (seconds: number, measured: number) => {
		if (measured <= error && measured <= bound) return;
		if (windows.some(({ from, to }) => seconds >= from && seconds <= to)) return;
		const value = measured > bound ? resolvable(seconds, measured) : measured;
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
	/** Places in a cell that is looked at closely: five with its ends. */
	const places = new Float64Array(5);
	const heights = new Float64Array(5);
	/** Notes the residual at its peak between two places: at the vertex (or half way), and where that counts, closing in on it. */
	const climb = (from: number, to: number, vertex: number): void => {
		let [low, high] = [from, to];
		let top = vertex > from && vertex < to ? vertex : (from + to) / 2;
		let height = residual(top);
		note(top, height);
		if (height < CLIMBS_FROM * Math.min(bound, error || Infinity)) return;
		for (let i = 0; i < CLIMBS; i++) {
			const [left, right] = [(low + top) / 2, (top + high) / 2];
			const [a, b] = [residual(left), residual(right)];
			note(left, a);
			note(right, b);
			if (a > height && a >= b) [high, top, height] = [top, left, a];
			else if (b > height) [low, top, height] = [top, right, b];
			else [low, high] = [left, right];
		}
	};
	const lookClosely = (
		from: number,
		fromHeight: number,
		to: number,
		toHeight: number,
		shares: readonly number[],
	) => {
		places[0] = from;
		heights[0] = fromHeight;
		places[4] = to;
		heights[4] = toHeight;
		for (let i = 1; i < 4; i++) {
			places[i] = from + (to - from) * shares[i - 1];
			heights[i] = residual(places[i]);
			note(places[i], heights[i]);
		}
		for (let i = 1; i < 4; i++) {
			if (heights[i] < heights[i - 1] || heights[i] < heights[i + 1]) continue;
			climb(places[i - 1], places[i + 1], vertexOf(places, heights, i));
		}
		// A peak just inside an end of the cell has that end as its highest place, and no neighbour to tell it by.
		const close = CLIMBS_FROM * Math.min(bound, error || Infinity);
		if (heights[0] > heights[1] && heights[0] > close) climb(places[0], places[1], NaN);
		if (heights[4] > heights[3] && heights[4] > close) climb(places[3], places[4], NaN);
	};
	const isCubic = cubicStretches(source);
	const nodes = Array.from({ length: NODES.length }, () => new Float64Array(size));
	/** Between two marks where the residual is a cubic in each component: its peaks are where the derivative is 0. */
	const measureCubic = (a: number, b: number): void => {
		NODES.forEach((u, i) => {
			const seconds = a + (b - a) * u;
			note(seconds, residual(seconds));
			for (let k = 0; k < size; k++) nodes[i][k] = out[k] - truth[k];
		});
		for (let k = 0; k < size; k++) {
			for (const u of cubicPeaks(nodes[0][k], nodes[1][k], nodes[2][k], nodes[3][k])) {
				const seconds = a + (b - a) * u;
				note(seconds, residual(seconds));
			}
		}
	};
	for (let m = 0; m + 1 < marks.length && !(onlyWhether && error > bound); m++) {
		const [a, b] = [marks[m], marks[m + 1]];
		let left = residual(a);
		note(a, left);
		if (b - a < 1e-9) continue;
		const cubic = isCubic(((a + b) / 2) * TICKS_PER_SECOND);
		if (cubic && !turns) {
			measureCubic(a, b);
			continue;
		}
		// Turned by cubics a rotation is no cubic itself, but as smooth: nothing hides in a short stretch of it.
		const least = cubic ? LEAST_SMOOTH_CELLS : LEAST_CELLS;
		const cells = Math.min(MOST_CELLS, Math.max(least, Math.ceil((b - a) * CELLS_A_SECOND)));
		const h = (b - a) / cells;
		let from = a;
		for (let i = 1; i <= cells; i++) {
			const to = i === cells ? b : a + i * h;
			const right = residual(to);
			note(to, right);
			// Next to corners curves can be steep; elsewhere a peak over the bound shows at the ends of its cell.
			if (i === 1) lookClosely(from, left, to, right, AFTER_CORNER);
			else if (i === cells) lookClosely(from, left, to, right, BEFORE_CORNER);
			else if (Math.max(left, right) > NEAR * Math.min(bound, error || Infinity)) {
				lookClosely(from, left, to, right, EVENLY);
			}
			from = to;
			left = right;
		}
	}
	note(end, residual(end));
	return { error, errorAt };
}
