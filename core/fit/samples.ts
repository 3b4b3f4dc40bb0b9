/** Samples of a source between its jumps, dense where it bends, on times that a float32 reader can tell apart. */
import { TICKS_PER_SECOND, ticksToSeconds } from '../time';
import { float32Before } from './sampler';
import { distance, JUST_BEFORE, rotates, type Form, type Source } from './source';

/** A stretch without jumps. */
export interface Run {
	/** Seconds, float32, strictly increasing. */
	times: Float64Array;
	/** `size` numbers a sample. */
	values: Float64Array;
	/** How far the source may leave the chord between neighbouring samples, at each sample. */
	slack: Float64Array;
	count: number;
}

/** Cells that a piece is looked at with before any is halved: more for a long one, whose bends could be missed. */
const LONGEST_CELL = TICKS_PER_SECOND / 30;
const LEAST_FIRST_CELLS = 2;
const MOST_FIRST_CELLS = 12;
const DEEPEST = 14;
/** A cell is fine enough when its middle is this share of the bound off the chord of its ends. */
const FINE = 0.5;

class RunBuilder {
	private times: number[] = [];
	private values: number[] = [];
	private slack: number[] = [];

	constructor(private readonly size: number) {}

	get lastTime(): number | undefined {
		return this.times.at(-1);
	}

	push(time: number, value: Float64Array, slack: number): void {
		const last = this.times.length - 1;
		if (last >= 0 && slack > this.slack[last]) this.slack[last] = slack;
		this.times.push(time);
		for (let k = 0; k < this.size; k++) this.values.push(value[k]);
		this.slack.push(slack);
	}

	finish(): Run {
		return {
			times: Float64Array.from(this.times),
			values: Float64Array.from(this.values),
			slack: Float64Array.from(this.slack),
			count: this.times.length,
		};
	}
}

/** Ticks at which the value jumps, inside (start, end]. */
function jumpTicks(source: Source): number[] {
	return source.pieces.filter((p) => p.jump && p.t > source.start && p.t <= source.end).map((p) => p.t);
}

function middleOff(
	form: Form,
	a: Float64Array,
	middle: Float64Array,
	b: Float64Array,
	chord: Float64Array,
): number {
	let sign = 1;
	if (rotates(form)) sign = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3] < 0 ? -1 : 1;
	for (let k = 0; k < form.size; k++) chord[k] = (a[k] + sign * b[k]) / 2;
	return distance(form, chord, middle);
}

/**
 * Samples a source so that between two samples it keeps within a small share of `bound` of their chord. `extra` are
 * further ticks to look at, where an earlier fit was found to be off.
 */
export function sampleRuns(source: Source, bound: number, extra: ReadonlySet<number>): Run[] {
	const { size } = source;
	const bounds = [source.start, ...jumpTicks(source), source.end];
	const runs: Run[] = [];
	const chord = new Float64Array(size);
	let previousEnd = -1;
	for (let r = 0; r + 1 < bounds.length; r++) {
		const [from, to] = [bounds[r], bounds[r + 1]];
		const isLast = r + 2 === bounds.length;
		if (to <= from && !isLast) continue;
		const seconds = Math.fround(ticksToSeconds(to));
		// A run that ends in a jump ends one float32 before it.
		const endTime = isLast ? seconds : float32Before(seconds);
		const endTick = isLast ? to : to - JUST_BEFORE;
		const builder = new RunBuilder(size);
		const timeOf = (tick: number) => Math.min(endTime, Math.fround(ticksToSeconds(tick)));
		/** The value at the float32 time next to a tick. */
		const read = (tick: number): { time: number; value: Float64Array } => {
			const time = timeOf(tick);
			const value = new Float64Array(size);
			source.evaluate(Math.min(Math.max(time * TICKS_PER_SECOND, from), endTick), value);
			return { time, value };
		};
		type Sample = ReturnType<typeof read>;
		const push = (sample: Sample, slack: number) => {
			if (sample.time > (builder.lastTime ?? previousEnd)) builder.push(sample.time, sample.value, slack);
		};
		const divide = (a: Sample, b: Sample, depth: number): void => {
			const middle = read(((a.time + b.time) / 2) * TICKS_PER_SECOND);
			if (middle.time <= a.time || middle.time >= b.time) {
				push(b, 0);
				return;
			}
			const off = middleOff(source, a.value, middle.value, b.value, chord);
			if (off <= FINE * bound || depth >= DEEPEST) {
				// Halving a cell quarters how far its chord is off.
				push(middle, off / 4);
				push(b, off / 4);
				return;
			}
			divide(a, middle, depth + 1);
			divide(middle, b, depth + 1);
		};
		const corners = source.pieces.map((p) => p.t).filter((t) => t > from && t < to);
		for (const t of extra) if (t > from && t < to) corners.push(t);
		const stops = [from, ...corners.sort((x, y) => x - y), to];
		let at = read(from);
		push(at, 0);
		for (let i = 0; i + 1 < stops.length; i++) {
			const ticks = stops[i + 1] - stops[i];
			const cells = Math.max(
				LEAST_FIRST_CELLS,
				Math.ceil(ticks / (8 * LONGEST_CELL)),
				Math.min(MOST_FIRST_CELLS, Math.ceil(ticks / LONGEST_CELL)),
			);
			for (let c = 1; c <= cells; c++) {
				const next = read(c === cells ? stops[i + 1] : stops[i] + (ticks * c) / cells);
				if (next.time <= at.time) continue;
				divide(at, next, 0);
				at = next;
			}
		}
		const run = builder.finish();
		if (run.count === 0) continue;
		previousEnd = run.times[run.count - 1];
		runs.push(run);
	}
	if (rotates(source)) alignSigns(runs);
	return runs;
}

/** q and −q turn alike: neighbours are kept on the same side, so that components are continuous. */
function alignSigns(runs: readonly Run[]): void {
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
