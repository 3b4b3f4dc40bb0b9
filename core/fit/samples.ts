/** Samples of a source between its jumps, dense where it bends, on times that a float32 reader can tell apart. */
import { TICKS_PER_SECOND, ticksToSeconds } from '../../player/time';
import { grown } from './grown-array';
import { float32Before } from './sampler';
import { distance, JUST_BEFORE, rotates, type Source } from './source';

/** A stretch without jumps, between places where a file is to be exact. */
export interface Run {
	/** Seconds, float32, strictly increasing. */
	times: Float64Array;
	/** `size` numbers a sample. */
	values: Float64Array;
	/** How far the source may leave the chord between neighbouring samples, at each sample. */
	slack: Float64Array;
	count: number;
	/** Whether its first sample is the last one of the run before: they share a key. */
	joins: boolean;
	/** Of each component, whether it keeps its value all through the run. */
	still: readonly boolean[];
}

/** Cells that a piece is looked at with before any is halved: more for a long one, whose bends could be missed. */
const LONGEST_CELL = TICKS_PER_SECOND / 30;
const LEAST_FIRST_CELLS = 2;
const MOST_FIRST_CELLS = 12;
const DEEPEST = 14;
/** So many samples, and so many more for each piece and each second: a source that needs more bends finer than keys can follow. */
const MOST_SAMPLES = 2 ** 13;
const MOST_OF_A_PIECE = 64;
const MOST_A_SECOND = 128;
/** A cell is fine enough when its middle is this share of the bound off the chord of its ends. */
const FINE = 0.5;
/** The share where a fit was found to be off. */
const FINER = FINE / 4;
/** Halving a cell quarters how far its chord is off: that many times finer takes so many times the samples. */
const FINER_SAMPLES = Math.sqrt(FINE / FINER);

/** What has been read of a source, in the order of reading: a row is a time and `size` numbers. */
class Rows {
	times: Float64Array = new Float64Array(256);
	values: Float64Array;
	private count = 0;
	private readonly scratch: Float64Array;

	constructor(private readonly source: Source) {
		this.values = new Float64Array(256 * source.size);
		this.scratch = new Float64Array(source.size);
	}

	/** Reads the source at ticks, as the sample of a time in seconds; gives the row. */
	read(time: number, ticks: number): number {
		const row = this.count++;
		if (row === this.times.length) {
			this.times = grown(this.times);
			this.values = grown(this.values);
		}
		this.source.evaluate(ticks, this.scratch);
		const { size } = this.source;
		this.times[row] = time;
		for (let k = 0; k < size; k++) this.values[row * size + k] = this.scratch[k];
		return row;
	}

	/** How far the middle row is off the chord of two others. */
	middleOff(a: number, middle: number, b: number): number {
		const { values, source } = this;
		const { size } = source;
		const [from, at, to] = [a * size, middle * size, b * size];
		let worst = 0;
		if (!rotates(source)) {
			for (let k = 0; k < size; k++)
				worst = Math.max(worst, Math.abs((values[from + k] + values[to + k]) / 2 - values[at + k]));
			return worst;
		}
		let dot = 0;
		for (let k = 0; k < 4; k++) dot += values[from + k] * values[to + k];
		const sign = dot < 0 ? -1 : 1;
		for (let k = 0; k < 4; k++) this.scratch[k] = (values[from + k] + sign * values[to + k]) / 2;
		return distance(source, this.scratch, values.subarray(at, at + 4));
	}
}

/** Ticks at which the value jumps, inside (start, end]. */
function jumpTicks(source: Source): number[] {
	return source.pieces.filter((p) => p.jump && p.t > source.start && p.t <= source.end).map((p) => p.t);
}

function stillComponents(values: Float64Array, count: number, size: number): boolean[] {
	return Array.from({ length: size }, (_, k) => {
		const first = Math.fround(values[k]);
		for (let i = 1; i < count; i++) if (Math.fround(values[i * size + k]) !== first) return false;
		return true;
	});
}

/** A run taken apart at some of its times. */
function splitAt(run: Omit<Run, 'joins' | 'still'>, seconds: readonly number[], size: number): Run[] {
	const { times, values, slack, count } = run;
	const borders = [0];
	for (const time of seconds) {
		const at = times.indexOf(time, borders.at(-1)! + 1);
		if (at > 0 && at < count - 1) borders.push(at);
	}
	borders.push(count - 1);
	if (count === 1) borders.pop();
	return borders.slice(0, Math.max(1, borders.length - 1)).map((from, i) => {
		const to = borders[i + 1] ?? from;
		const part = values.subarray(from * size, (to + 1) * size);
		return {
			times: times.subarray(from, to + 1),
			values: part,
			slack: slack.subarray(from, to + 1),
			count: to - from + 1,
			joins: i > 0,
			still: stillComponents(part, to - from + 1, size),
		};
	});
}

/** Takes the samples of one run: the stretch of a source between two jumps. */
class RunSampler {
	/** Rows that the run keeps, and their slack. */
	private readonly kept: number[] = [];
	private readonly slacks: number[] = [];
	/** Seconds of the last row kept, of this run or the one before. */
	lastTime: number;

	constructor(
		private readonly rows: Rows,
		private readonly bound: number,
		/** Share of the bound that a chord may be off. */
		private readonly fine: number,
		/** Rows that a source may take in all. */
		private readonly most: number,
		private readonly from: number,
		private readonly end: { time: number; tick: number },
		previousTime: number,
	) {
		this.lastTime = previousTime;
	}

	/** Reads the value at the float32 time next to some seconds. */
	private read(at: number): number {
		const time = Math.min(this.end.time, Math.fround(at));
		return this.rows.read(time, Math.min(Math.max(time * TICKS_PER_SECOND, this.from), this.end.tick));
	}

	private keep(row: number, slack: number): void {
		const { rows, kept, slacks } = this;
		if (!(rows.times[row] > this.lastTime)) return;
		const last = kept.length - 1;
		if (last >= 0 && slack > slacks[last]) slacks[last] = slack;
		kept.push(row);
		slacks.push(slack);
		this.lastTime = rows.times[row];
	}

	/** Halves a cell until its chord is near enough to the source. */
	private divide(a: number, b: number, depth: number): void {
		const { rows, bound, fine } = this;
		const [aTime, bTime] = [rows.times[a], rows.times[b]];
		const middle = this.read((aTime + bTime) / 2);
		const time = rows.times[middle];
		if (time <= aTime || time >= bTime) {
			this.keep(b, 0);
			return;
		}
		if (middle > this.most)
			throw new RangeError(`a bound of ${bound} is finer than float32 times can follow`);
		const off = rows.middleOff(a, middle, b);
		if (off <= fine * bound || depth >= DEEPEST) {
			// Halving a cell quarters how far its chord is off.
			this.keep(middle, off / 4);
			this.keep(b, off / 4);
			return;
		}
		this.divide(a, middle, depth + 1);
		this.divide(middle, b, depth + 1);
	}

	/** Samples from stop to stop, in ticks: the first and the last are the run's own ends. */
	sample(stops: readonly number[]): void {
		const { rows } = this;
		let at = this.read(ticksToSeconds(stops[0]));
		this.keep(at, 0);
		for (let i = 0; i + 1 < stops.length; i++) {
			const ticks = stops[i + 1] - stops[i];
			const cells = Math.max(
				LEAST_FIRST_CELLS,
				Math.ceil(ticks / (8 * LONGEST_CELL)),
				Math.min(MOST_FIRST_CELLS, Math.ceil(ticks / LONGEST_CELL)),
			);
			for (let c = 1; c <= cells; c++) {
				const next = this.read(ticksToSeconds(c === cells ? stops[i + 1] : stops[i] + (ticks * c) / cells));
				if (rows.times[next] <= rows.times[at]) continue;
				this.divide(at, next, 0);
				at = next;
			}
		}
	}

	/** What was kept; null where nothing was. */
	run(size: number): Omit<Run, 'joins' | 'still'> | null {
		const { rows, kept } = this;
		const count = kept.length;
		if (count === 0) return null;
		const run = {
			times: new Float64Array(count),
			values: new Float64Array(count * size),
			slack: Float64Array.from(this.slacks),
			count,
		};
		for (let i = 0; i < count; i++) {
			run.times[i] = rows.times[kept[i]];
			for (let k = 0; k < size; k++) run.values[i * size + k] = rows.values[kept[i] * size + k];
		}
		return run;
	}
}

/**
 * Samples a source so that between two samples it keeps within a small share of `bound` of their chord. `extra` are
 * further ticks to look at, where an earlier fit was found to be off: with them, all is sampled more finely. At `pins`,
 * corners of the source, runs are taken apart. Throws a RangeError for a source that bends finer, all over, than float32
 * times can tell.
 */
export function sampleRuns(
	source: Source,
	bound: number,
	pins: readonly number[] = [],
	extra?: ReadonlySet<number>,
): Run[] {
	const { size } = source;
	const borders = [source.start, ...jumpTicks(source), source.end];
	const runs: Omit<Run, 'joins' | 'still'>[] = [];
	const rows = new Rows(source);
	const most =
		(extra ? FINER_SAMPLES : 1) *
		(MOST_SAMPLES +
			MOST_OF_A_PIECE * (source.pieces.length + (extra?.size ?? 0)) +
			MOST_A_SECOND * ticksToSeconds(source.end - source.start));
	const looks = [...source.pieces.map((piece) => piece.t), ...(extra ?? [])].sort((x, y) => x - y);
	let previousTime = -1;
	for (let r = 0; r + 1 < borders.length; r++) {
		const [from, to] = [borders[r], borders[r + 1]];
		const isLast = r + 2 === borders.length;
		if (to <= from && !isLast) continue;
		const seconds = Math.fround(ticksToSeconds(to));
		// A run that ends in a jump ends one float32 before it.
		const end = isLast
			? { time: seconds, tick: to }
			: { time: float32Before(seconds), tick: to - JUST_BEFORE };
		const sampler = new RunSampler(rows, bound, extra ? FINER : FINE, most, from, end, previousTime);
		sampler.sample([from, ...looks.filter((t) => t > from && t < to), to]);
		const run = sampler.run(size);
		if (!run) continue;
		previousTime = sampler.lastTime;
		runs.push(run);
	}
	if (rotates(source)) alignSigns(runs);
	const pinned = pins.map((t) => Math.fround(ticksToSeconds(t)));
	return runs.flatMap((run) => splitAt(run, pinned, size));
}

/** q and −q turn alike: neighbours are kept on the same side, so that components are continuous. */
function alignSigns(runs: readonly Pick<Run, 'values' | 'count'>[]): void {
	let previous: Float64Array<ArrayBufferLike> | null = null;
	for (const { values, count } of runs)
		for (let i = 0; i < count; i++) {
			const q = values.subarray(4 * i, 4 * i + 4);
			if (previous && q[0] * previous[0] + q[1] * previous[1] + q[2] * previous[2] + q[3] * previous[3] < 0) {
				for (let k = 0; k < 4; k++) q[k] = -q[k];
			}
			previous = q;
		}
}
