/** From a column of a take to keys: spikes out, smoothed, still where it stood still, and as few keys as a tolerance allows. */
import { compileCurve } from '../curve/compile';
import { PLAYS_ONCE } from '../curve/handles';
import type { Key } from '../curve/types';
import type { Cleaning } from '../document/takes';
import { despike, oneEuro, smooth, type Samples } from '../fit/take-filter';
import { keysWithin, sourceOfSamples } from '../fit/to-keys';
import { evaluateCurve } from '../../player/curve/evaluate';
import { stillStretches, turnsOf } from './anchors';
import { sampleFrom } from './sample-from';
import type { TakeSamples } from './samples-file';

/** What cleaning a column came to. */
export interface CleanFigures {
	/** Recorded values. */
	samples: number;
	/** Spikes that were taken out. */
	spikes: number;
	/** The largest change by smoothing, in the column's units. */
	smoothed: number;
	/** Stretches that became holds. */
	holds: number;
	keys: number;
	/** Largest and root mean square deviation of the keys from what was cleaned, at the samples. */
	largest: number;
	rms: number;
}

export interface CleanedColumn {
	/** Keys of each stretch without a gap: from its first sample to its last. */
	stretches: Key[][];
	/** What the keys were made of. */
	cleaned: Samples[];
	figures: CleanFigures;
}

const HOLDS = { before: 'hold', after: 'hold' } as const;
/** A range of nothing: shares of it still have to be something. */
const LEAST_RANGE = 1e-6;
/** Cut-off of the steady smoothing at rest in Hz, from hardly to strongly. */
const STILL_HZ = { hardly: 12, strongly: 0.4 } as const;
/** What the cut-off grows by for each range a second that it moves, from hardly to strongly. */
const FAST_HZ = { hardly: 24, strongly: 6 } as const;
/** Even smoothing looks at no more samples than these on each side. */
const MOST_REACH = 200;
/** A fit takes longer than in proportion: of more samples than these it is done piece by piece. */
const MOST_AT_ONCE = 1000;

function rangeOf(stretches: readonly Samples[]): number {
	let [low, high] = [Infinity, -Infinity];
	for (const { values } of stretches)
		for (const v of values) {
			low = Math.min(low, v);
			high = Math.max(high, v);
		}
	return Math.max(LEAST_RANGE, high - low);
}

/** The stretches of a column without a gap. */
function withoutGaps(times: ArrayLike<number>, column: ArrayLike<number>): Samples[] {
	const stretches: Samples[] = [];
	let from = 0;
	for (let i = 0; i <= column.length; i++) {
		if (i < column.length && !Number.isNaN(column[i])) continue;
		const length = i - from;
		if (length > 0)
			stretches.push({
				times: Float64Array.from({ length }, (_, k) => times[from + k]),
				values: Float64Array.from({ length }, (_, k) => column[from + k]),
			});
		from = i + 1;
	}
	return stretches;
}

const between = (hardly: number, strongly: number, share: number) => hardly * (strongly / hardly) ** share;

function smoothed(samples: Samples, cleaning: Cleaning, range: number): Samples {
	const { times, values } = samples;
	const last = times.length - 1;
	if (cleaning.smoothing === 'none' || last < 2) return samples;
	let made: Float64Array;
	if (cleaning.smoothing === 'even') {
		const apart = (times[last] - times[0]) / last;
		made = smooth(samples, Math.min(MOST_REACH, Math.round(cleaning.span / apart / 2))).values;
	} else {
		const { steadiness } = cleaning;
		const still = between(STILL_HZ.hardly, STILL_HZ.strongly, steadiness);
		const fast = between(FAST_HZ.hardly, FAST_HZ.strongly, steadiness) / range;
		made = oneEuro(samples, still, fast).values;
	}
	const most = cleaning.most * range;
	return {
		times,
		values: values.map(
			(v, i) => v + Math.max(-most, Math.min(most, Number.isFinite(made[i]) ? made[i] - v : 0)),
		),
	};
}

/** Two lists of keys where the second begins at the last key of the first. */
function joinedAt(first: readonly Key[], second: readonly Key[]): Key[] {
	const [end, start] = [first.at(-1), second[0]];
	if (!end) return [...second];
	const meeting: Key = { ...start, ...(end.left ? { left: end.left } : {}) };
	return [...first.slice(0, -1), meeting, ...second.slice(1)];
}

/** Places with others between them where they are farther apart than is fitted at once. */
function inReach(marks: readonly number[]): number[] {
	return marks.flatMap((mark, i) => {
		const apart = i === 0 ? 0 : mark - marks[i - 1];
		const parts = Math.ceil(apart / MOST_AT_ONCE);
		const between = Array.from({ length: Math.max(0, parts - 1) }, (_, k) =>
			Math.round(marks[i - 1] + ((k + 1) * apart) / parts),
		);
		return [...between, mark];
	});
}

/** Keys of one stretch: those that it turns at or stands still between first, then as many as the tolerance asks for. */
function keysOfStretch(samples: Samples, cleaning: Cleaning, range: number): { keys: Key[]; holds: number } {
	const { times } = samples;
	const last = times.length - 1;
	if (last === 0)
		return { keys: [{ t: times[0], v: samples.values[0], shape: { kind: 'linear' } }], holds: 0 };
	const values = samples.values.slice();
	const tolerance = cleaning.tolerance * range;
	const still = cleaning.stillness > 0 ? stillStretches(samples, cleaning.stillness * range) : [];
	for (const { from, to, value } of still) values.fill(value, from, to + 1);
	const turns = cleaning.turns ? turnsOf({ times, values }, 2 * tolerance) : [];
	const inHold = (i: number) => still.some(({ from, to }) => i >= from && i <= to);
	const level = turns.filter((i) => i > 0 && i < last && !inHold(i));
	const marks = new Set([0, last, ...level, ...still.flatMap(({ from, to }) => [from, to])]);
	const ordered = inReach([...marks].sort((a, b) => a - b));
	const holds = new Set(still.map(({ from }) => from));
	let keys: Key[] = [];
	for (let m = 0; m + 1 < ordered.length; m++) {
		const [a, b] = [ordered[m], ordered[m + 1]];
		const own = { times: times.subarray(a, b + 1), values: values.subarray(a, b + 1) };
		const made: Key[] = holds.has(a)
			? [
					{ t: times[a], v: values[a], shape: { kind: 'hold' } },
					{ t: times[b], v: values[b], shape: { kind: 'linear' } },
				]
			: keysWithin(sourceOfSamples(own), tolerance).keys;
		keys = joinedAt(keys, made);
	}
	const at = new Set([...level, ...still.flatMap(({ from, to }) => [from, to])].map((i) => times[i]));
	return { keys: levelAt(keys, at, { times, values }, tolerance), holds: still.length };
}

/** Lets keys stand level where it turns or comes to rest, where that stays within the tolerance. */
function levelAt(keys: readonly Key[], at: ReadonlySet<number>, samples: Samples, tolerance: number): Key[] {
	const out = keys.slice();
	for (let i = 0; i < out.length; i++) {
		if (!at.has(out[i].t)) continue;
		const key: Key = { ...out[i] };
		if (key.left) key.left = { mode: 'flat', rise: 0 };
		if (key.right) key.right = { mode: 'flat', rise: 0 };
		const near = out.slice(Math.max(0, i - 1), i + 2).map((own) => (own === out[i] ? key : own));
		if (deviation(near, samples).largest <= tolerance) out[i] = key;
	}
	return out;
}

/** Deviation of keys from samples between the first key and the last. */
function deviation(keys: readonly Key[], { times, values }: Samples) {
	const curve = compileCurve(keys, HOLDS, PLAYS_ONCE);
	const end = keys.at(-1)!.t;
	let [largest, sum, count] = [0, 0, 0];
	for (let i = sampleFrom(times, keys[0].t); i < times.length && times[i] <= end; i++) {
		const off = Math.abs(evaluateCurve(curve, times[i]) - values[i]);
		largest = Math.max(largest, off);
		sum += off * off;
		count++;
	}
	return { largest, sum, count };
}

/** Cleans one column again and again as its settings change; what did not change is not computed again. */
export class ColumnCleaner {
	private readonly raw: readonly Samples[];
	private without: { spikes: boolean; stretches: readonly Samples[]; count: number; range: number } | null =
		null;
	private calm: { told: string; stretches: readonly Samples[]; largest: number } | null = null;

	/** Ticks that rise, and as many values, NaN where there are none. */
	constructor(times: ArrayLike<number>, column: ArrayLike<number>) {
		this.raw = withoutGaps(times, column);
	}

	private withoutSpikes(spikes: boolean) {
		if (this.without?.spikes === spikes) return this.without;
		let count = 0;
		const stretches = !spikes
			? this.raw
			: this.raw.map((samples) => {
					const { samples: out, replaced } = despike(samples);
					count += replaced;
					return out;
				});
		this.calm = null;
		return (this.without = { spikes, stretches, count, range: rangeOf(stretches) });
	}

	private calmed(cleaning: Cleaning) {
		const { stretches, range } = this.withoutSpikes(cleaning.spikes);
		const { smoothing, span, steadiness, most } = cleaning;
		const told = JSON.stringify([smoothing, span, steadiness, most]);
		if (this.calm?.told === told) return this.calm;
		let largest = 0;
		const out = stretches.map((samples) => {
			const made = smoothed(samples, cleaning, range);
			made.values.forEach((v, i) => (largest = Math.max(largest, Math.abs(v - samples.values[i]))));
			return made;
		});
		return (this.calm = { told, stretches: out, largest });
	}

	/** Throws a RangeError for a tolerance that is not above 0. */
	clean(cleaning: Cleaning): CleanedColumn {
		const { count, range } = this.withoutSpikes(cleaning.spikes);
		const { stretches: cleaned, largest: change } = this.calmed(cleaning);
		const made = cleaned.map((samples) => keysOfStretch(samples, cleaning, range));
		let [largest, sum, samples] = [0, 0, 0];
		made.forEach(({ keys }, i) => {
			const off = deviation(keys, cleaned[i]);
			largest = Math.max(largest, off.largest);
			sum += off.sum;
			samples += off.count;
		});
		return {
			stretches: made.map(({ keys }) => keys),
			cleaned: [...cleaned],
			figures: {
				samples,
				spikes: count,
				smoothed: change,
				holds: made.reduce((all, { holds }) => all + holds, 0),
				keys: made.reduce((all, { keys }) => all + keys.length, 0),
				largest,
				rms: Math.sqrt(sum / Math.max(1, samples)),
			},
		};
	}
}

/** What cleans the samples of a take, column by column. */
export class TakeCleaner {
	private readonly columns: ColumnCleaner[];

	constructor(readonly samples: TakeSamples) {
		this.columns = samples.columns.map((column) => new ColumnCleaner(samples.times, column));
	}

	cleanColumn(index: number, cleaning: Cleaning): CleanedColumn {
		return this.columns[index].clean(cleaning);
	}

	clean(cleaning: Cleaning): CleanedColumn[] {
		return this.columns.map((column) => column.clean(cleaning));
	}
}
