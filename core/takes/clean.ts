/** From a column of a take to keys: spikes out, smoothed, still where it stood still, and as few keys as a tolerance allows. */
import { compileCurve } from '../curve/compile';
import { PLAYS_ONCE } from '../curve/handles';
import type { Key } from '../curve/types';
import type { Cleaning, Take } from '../document/takes';
import { AXES, type Doc } from '../document/types';
import type { Samples } from '../fit/take-filter';
import { keysWithin, sourceOfSamples } from '../fit/to-keys';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { EulerOrder } from '../../player/maths/quaternion';
import { stillStretches, turnsOf } from './anchors';
import { NumberFilter, TurnsFilter, type Filtered } from './filter';
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
/** A fit takes longer than in proportion: of more samples than these it is done piece by piece. */
const MOST_AT_ONCE = 1000;

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

/** Keys of a column that has been filtered. */
function keysOf({ stretches, spikes, smoothed, range }: Filtered, cleaning: Cleaning): CleanedColumn {
	const made = stretches.map((samples) => keysOfStretch(samples, cleaning, range));
	let [largest, sum, samples] = [0, 0, 0];
	made.forEach(({ keys }, i) => {
		const off = deviation(keys, stretches[i]);
		largest = Math.max(largest, off.largest);
		sum += off.sum;
		samples += off.count;
	});
	return {
		stretches: made.map(({ keys }) => keys),
		cleaned: [...stretches],
		figures: {
			samples,
			spikes,
			smoothed,
			holds: made.reduce((all, { holds }) => all + holds, 0),
			keys: made.reduce((all, { keys }) => all + keys.length, 0),
			largest,
			rms: Math.sqrt(sum / Math.max(1, samples)),
		},
	};
}

/** Three columns of a take that turn a part about x, y and z, and in which order they do. */
export interface TakeTurns {
	columns: readonly [number, number, number];
	order: EulerOrder;
}

/** The turns of a take that are cleaned as orientations: those of parts of which all three were recorded. */
export function turnsIn(doc: Doc, { columns }: Pick<Take, 'columns'>): TakeTurns[] {
	const parts = new Set(columns.flatMap(({ part, property }) => (property === 'rotation' ? [part] : [])));
	return [...parts].flatMap((part): TakeTurns[] => {
		const [x, y, z] = AXES.map((axis) =>
			columns.findIndex((own) => own.part === part && own.property === 'rotation' && own.component === axis),
		);
		const order = doc.parts[part]?.eulerOrder;
		return order && x >= 0 && y >= 0 && z >= 0 ? [{ columns: [x, y, z], order }] : [];
	});
}

/** Cleans the samples of a take again and again as its settings change; what did not change is not computed again. */
export class TakeCleaner {
	/** What filters each column, and which of its results is the column's. */
	private readonly filters: { by: NumberFilter | TurnsFilter; at: number }[];

	constructor(
		readonly samples: TakeSamples,
		turns: readonly TakeTurns[] = [],
	) {
		const { times, columns } = samples;
		this.filters = columns.map((column) => ({ by: new NumberFilter(times, column), at: 0 }));
		for (const { columns: three, order } of turns) {
			const by = new TurnsFilter(
				times,
				three.map((c) => columns[c]),
				order,
			);
			three.forEach((c, at) => (this.filters[c] = { by, at }));
		}
	}

	/** Throws a RangeError for a tolerance that is not above 0. */
	cleanColumn(index: number, cleaning: Cleaning): CleanedColumn {
		const { by, at } = this.filters[index];
		return keysOf(by.filter(cleaning)[at], cleaning);
	}

	clean(cleaning: Cleaning): CleanedColumn[] {
		return this.filters.map((_, index) => this.cleanColumn(index, cleaning));
	}
}
