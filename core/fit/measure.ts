/** How far a sampler is off its source at most, as a float32 reader plays it. */
import { TICKS_PER_SECOND, ticksToSeconds } from '../../player/time';
import { cubicPeaks, NODES } from './cubic-peaks';
import { jumpWindows, Residual } from './residual';
import type { Sampler } from './sampler';
import { degreesOf, rotates, type Source } from './source';

export interface Measured {
	/** Largest error, in the path's units (degrees for rotations). */
	error: number;
	/** Seconds. */
	errorAt: number;
}

const LEAST_CELLS = 12;
const LEAST_SMOOTH_CELLS = 8;
const CELLS_A_SECOND = 160;
const MOST_CELLS = 32;
/** Most cells of a source that says itself how closely it is to be looked at. */
const MOST_TOLD_CELLS = 40_000;

/**
 * A cell is looked at closely when its ends, and so many times what the residual bends by about them, come to the bound
 * (or to the worst so far). Between two places a parabola rises by an eighth of that.
 */
const BENDS = 1;
/** A peak is found when the residual bends by less than this share of the bound about it. */
const FLAT = 2e-3;
/** Places over the bound that are told of a stretch: a cubic that is off is so at four peaks at most. */
const NOTES = 4;
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

/** The search for the largest residual, stretch by stretch. */
class Search implements Measured {
	error = 0;
	errorAt = 0;
	/** Seconds. */
	readonly start: number;
	readonly end: number;
	private readonly residual: Residual;
	private readonly windows: { from: number; to: number }[];
	/** Places in a cell that is looked at closely: five with its ends. */
	private readonly places = new Float64Array(5);
	private readonly heights = new Float64Array(5);
	/** Residuals at the ends of the cells of a stretch; by components too, which bend where their size does not show it. */
	private readonly ends: Float64Array;
	private readonly mostCells: number;
	private readonly cellsASecond: number;
	private readonly parts: Float64Array;
	/** The stretch that is measured, in seconds, and its worst places over the bound. */
	private from = 0;
	private to = 0;
	private readonly noted = Array.from({ length: NOTES }, () => ({ seconds: 0, height: 0 }));
	/** Residuals at the nodes of a cubic stretch. */
	private readonly nodes: Float64Array;

	constructor(
		source: Source,
		sampler: Sampler,
		private readonly bound: number,
		private readonly over: ((ticks: number) => void) | undefined,
		private readonly onlyWhether: boolean,
		private readonly size = source.size,
	) {
		this.residual = new Residual(source, sampler);
		this.windows = jumpWindows(source);
		this.start = ticksToSeconds(source.start);
		this.end = ticksToSeconds(source.end);
		this.cellsASecond = Math.max(CELLS_A_SECOND, source.looks ?? 0);
		this.mostCells = source.looks === undefined ? MOST_CELLS : MOST_TOLD_CELLS;
		this.ends = new Float64Array(this.mostCells + 1);
		this.parts = new Float64Array((this.mostCells + 1) * size);
		this.nodes = new Float64Array(NODES.length * size);
	}

	/** Whether nothing more is asked. */
	get isDecided(): boolean {
		return this.onlyWhether && this.error > this.bound;
	}

	/** The residual at some seconds, taken into account. */
	look(seconds: number): number {
		const height = this.residual.at(seconds);
		if (height <= this.error && height <= this.bound) return height;
		if (this.windows.some(({ from, to }) => seconds >= from && seconds <= to)) return height;
		return this.take(seconds, height);
	}

	/** Takes a residual into account. */
	private take(seconds: number, height: number): number {
		const value = height > this.bound ? this.residual.resolvable(seconds, height, this.bound) : height;
		if (!(value <= this.error)) {
			this.error = value;
			this.errorAt = seconds;
		}
		if (!(value <= this.bound) && this.over) this.note(seconds, value);
		return height;
	}

	/** Notes the worst place over the bound in each share of the stretch that is measured. */
	private note(seconds: number, height: number): void {
		const { from, to, noted } = this;
		const share = Math.floor((NOTES * (seconds - from)) / (to - from));
		const at = Math.min(NOTES - 1, Math.max(0, share || 0));
		if (!(height <= noted[at].height)) noted[at] = { seconds, height };
	}

	/** Begins a stretch; what was noted in the one before is told. */
	begin(from: number, to: number): void {
		for (const own of this.noted) {
			if (own.height !== 0) this.over?.(own.seconds * TICKS_PER_SECOND);
			own.height = 0;
		}
		this.from = from;
		this.to = to;
	}

	/** The first and the last instant, also where the value jumps there: a clip begins and ends with just those. */
	borders(): void {
		for (const seconds of [this.start, this.end]) this.take(seconds, this.residual.at(seconds));
	}

	/** Just before and just after each jump, where what is steep beside it is farthest off. */
	jumps(): void {
		for (const { from, to } of this.windows) {
			const aside = (to - from) / 8;
			if (from - aside >= this.start) this.look(from - aside);
			if (to + aside <= this.end) this.look(to + aside);
		}
	}

	/** What a residual has to come to, to matter. */
	private counts(): number {
		return Math.min(this.bound, this.error || Infinity);
	}

	/** Looks at the peak between two places: at the vertex (or half way), then closing in on it. */
	private climb(from: number, to: number, vertex: number): void {
		let [low, high] = [from, to];
		let top = vertex > from && vertex < to ? vertex : (from + to) / 2;
		let height = this.look(top);
		if (height < CLIMBS_FROM * this.counts()) return;
		for (let i = 0; i < CLIMBS; i++) {
			const [left, right] = [(low + top) / 2, (top + high) / 2];
			const [a, b] = [this.look(left), this.look(right)];
			// The highest of the three, as round as it is here, is the peak.
			if (height >= a && height >= b && 2 * height - a - b < FLAT * this.counts()) return;
			if (a > height && a >= b) [high, top, height] = [top, left, a];
			else if (b > height) [low, top, height] = [top, right, b];
			else [low, high] = [left, right];
		}
	}

	/** Looks at three places of a cell, and for the peaks between them. */
	private lookClosely(
		from: number,
		fromHeight: number,
		to: number,
		toHeight: number,
		shares: readonly number[],
	): void {
		const { places, heights } = this;
		places[0] = from;
		heights[0] = fromHeight;
		places[4] = to;
		heights[4] = toHeight;
		for (let i = 1; i < 4; i++) {
			places[i] = from + (to - from) * shares[i - 1];
			heights[i] = this.look(places[i]);
		}
		for (let i = 1; i < 4; i++) {
			if (heights[i] < heights[i - 1] || heights[i] < heights[i + 1]) continue;
			this.climb(places[i - 1], places[i + 1], vertexOf(places, heights, i));
		}
		// A peak just inside an end of the cell has that end as its highest place, and no neighbour to tell it by.
		const close = CLIMBS_FROM * this.counts();
		if (heights[0] > heights[1] && heights[0] > close) this.climb(places[0], places[1], NaN);
		if (heights[4] > heights[3] && heights[4] > close) this.climb(places[3], places[4], NaN);
	}

	/** A stretch where the residual is a cubic in each component: its peaks are where the derivative is 0. */
	cubic(a: number, b: number): void {
		const { nodes, size } = this;
		NODES.forEach((u, i) => {
			this.look(a + (b - a) * u);
			this.residual.write(nodes, i * size);
		});
		for (let k = 0; k < size; k++) {
			const [p0, p1, p2, p3] = [nodes[k], nodes[size + k], nodes[2 * size + k], nodes[3 * size + k]];
			for (const u of cubicPeaks(p0, p1, p2, p3)) this.look(a + (b - a) * u);
		}
	}

	/** Any other stretch, in cells; of a `smooth` one nothing hides beside its ends. */
	cells(a: number, b: number, smooth: boolean): void {
		const { ends, parts, residual, size } = this;
		const least = smooth ? LEAST_SMOOTH_CELLS : LEAST_CELLS;
		const cells = Math.min(this.mostCells, Math.max(least, Math.ceil((b - a) * this.cellsASecond)));
		const h = (b - a) / cells;
		const placeOf = (i: number) => (i === cells ? b : a + i * h);
		for (let i = 0; i <= cells; i++) {
			ends[i] = this.look(placeOf(i));
			residual.write(parts, i * size);
		}
		for (let i = 1; i <= cells && !this.isDecided; i++) {
			// Next to corners curves can be steep, and keys stand close where they are; elsewhere they bend within a
			// cell much as they do about its ends.
			const shares = smooth ? EVENLY : i === 1 ? AFTER_CORNER : i === cells ? BEFORE_CORNER : EVENLY;
			const bend = Math.max(
				residual.bend(parts, Math.max(1, i - 1) * size),
				residual.bend(parts, Math.min(cells - 1, i) * size),
			);
			if (shares !== EVENLY || Math.max(ends[i - 1], ends[i]) + BENDS * bend > this.counts())
				this.lookClosely(placeOf(i - 1), ends[i - 1], placeOf(i), ends[i], shares);
		}
	}
}

/**
 * Measures on every stretch between corners of the source and keys of the file, closely next to those and wherever the
 * residual may come to the bound, and at its extrema. `over` gets the ticks of places that are worse than `bound`: the worst
 * in each quarter of a stretch.
 * With `onlyWhether` it ends at the first stretch that exceeds the bound.
 */
export function measure(
	source: Source,
	sampler: Sampler,
	bound = Infinity,
	over?: (ticks: number) => void,
	onlyWhether = false,
): Measured {
	const search = new Search(source, sampler, bound, over, onlyWhether);
	const { start, end } = search;
	const marks = [start, end, ...source.pieces.map((p) => ticksToSeconds(p.t)), ...sampler.times]
		.filter((t) => t >= start && t <= end)
		.sort((x, y) => x - y);
	const degreeAt = degreesOf(source);
	const turns = rotates(source);
	const straight = sampler.interpolation === 'LINEAR' && !turns;
	for (let m = 0; m + 1 < marks.length && !search.isDecided; m++) {
		const [a, b] = [marks[m], marks[m + 1]];
		const degree = degreeAt(((a + b) / 2) * TICKS_PER_SECOND);
		search.begin(a, b);
		if (b - a < 1e-9) search.look(a);
		// The difference of straight lines is one, and farthest off at its ends.
		else if (degree === 1 && straight) search.look(a);
		else if (degree === undefined) search.cells(a, b, false);
		// Turned by cubics a rotation is no cubic itself, but as smooth.
		else if (turns) search.cells(a, b, true);
		else {
			search.look(a);
			search.cubic(a, b);
		}
	}
	if (!search.isDecided) search.jumps();
	search.borders();
	search.begin(end, end);
	return { error: search.error, errorAt: search.errorAt };
}
