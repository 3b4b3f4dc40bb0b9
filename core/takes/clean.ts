/** From a column of a take to keys: spikes out, smoothed, still where it stood still, and as few keys as a tolerance allows. */
import { compileCurve } from '../curve/compile';
import { PLAYS_ONCE } from '../curve/handles';
import type { Key } from '../curve/types';
import type { Cleaning, Take, TakeColumn } from '../document/takes';
import { AXES, type Doc, type Property } from '../document/types';
import type { Samples } from '../fit/take-filter';
import { keysWithin, sourceOfSamples } from '../fit/to-keys';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { EulerOrder } from '../../player/maths/quaternion';
import { stillStretches, turnsOf } from './anchors';
import { colourKeys } from './colour-keys';
import { ColourFilter, NumberFilter, TurnsFilter, type Filtered } from './filter';
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

/** Columns of a take that are cleaned together: three turns of a part about x, y and z, or the four numbers of a colour. */
export type TakeGroup =
	| { kind: 'turns'; columns: readonly number[]; order: EulerOrder }
	| { kind: 'colour'; columns: readonly number[] };

/** What of a take is cleaned together: turns of parts of which all three were recorded, and colours. */
export function groupsIn(doc: Doc, { columns }: Pick<Take, 'columns'>): TakeGroup[] {
	const of = (
		part: string,
		property: Property,
		is: (column: TakeColumn, k: number) => boolean,
		count: number,
	) =>
		Array.from({ length: count }, (_, k) =>
			columns.findIndex((own) => own.part === part && own.property === property && is(own, k)),
		);
	return [...new Set(columns.map(({ part }) => part))].flatMap((part): TakeGroup[] => {
		const turns = of(part, 'rotation', ({ component }, k) => component === AXES[k], 3);
		const colour = of(part, 'colour', ({ index }, k) => index === k, 4);
		const order = doc.parts[part]?.eulerOrder;
		const isWhole = (own: readonly number[]) => own.every((c) => c >= 0);
		return [
			...(order && isWhole(turns) ? [{ kind: 'turns' as const, columns: turns, order }] : []),
			...(isWhole(colour) ? [{ kind: 'colour' as const, columns: colour }] : []),
		];
	});
}

/** Keys of the four numbers of a colour, at the same times. */
function keysOfColour(four: readonly Filtered[], cleaning: Cleaning): CleanedColumn[] {
	const made = four[0].stretches.map((_, s) =>
		colourKeys(
			four.map(({ stretches }) => stretches[s]),
			cleaning.tolerance,
		),
	);
	return four.map(({ stretches, spikes, smoothed }, k) => {
		const samples = stretches.reduce((all, { times }) => all + times.length, 0);
		const sum = made.reduce((all, { squares }) => all + squares[k], 0);
		return {
			stretches: made.map(({ keys }) => keys[k]),
			cleaned: [...stretches],
			figures: {
				samples,
				spikes,
				smoothed,
				holds: 0,
				keys: made.reduce((all, { keys }) => all + keys[k].length, 0),
				largest: Math.max(0, ...made.map(({ largest }) => largest[k])),
				rms: Math.sqrt(sum / Math.max(1, samples)),
			},
		};
	});
}

/** Cleans a column, or some together, again and again. */
type Cleaner = (cleaning: Cleaning) => CleanedColumn;

function colourCleaners(times: ArrayLike<number>, four: readonly ArrayLike<number>[]): Cleaner[] {
	const filter = new ColourFilter(times, four);
	let made: { told: string; columns: CleanedColumn[] } | null = null;
	return four.map((_, k) => (cleaning) => {
		const told = JSON.stringify(cleaning);
		if (made?.told !== told) made = { told, columns: keysOfColour(filter.filter(cleaning), cleaning) };
		return made.columns[k];
	});
}

function cleanersOf(filter: NumberFilter | TurnsFilter, count: number): Cleaner[] {
	return Array.from({ length: count }, (_, k) => (cleaning) => keysOf(filter.filter(cleaning)[k], cleaning));
}

/** Cleans the samples of a take again and again as its settings change; what did not change is not computed again. */
export class TakeCleaner {
	private readonly cleaners: Cleaner[];

	constructor(
		readonly samples: TakeSamples,
		groups: readonly TakeGroup[] = [],
	) {
		const { times, columns } = samples;
		this.cleaners = columns.flatMap((column) => cleanersOf(new NumberFilter(times, column), 1));
		for (const group of groups) {
			const own = group.columns.map((c) => columns[c]);
			const cleaners =
				group.kind === 'colour'
					? colourCleaners(times, own)
					: cleanersOf(new TurnsFilter(times, own, group.order), own.length);
			group.columns.forEach((c, k) => (this.cleaners[c] = cleaners[k]));
		}
	}

	/** Throws a RangeError for a tolerance that is not above 0. */
	cleanColumn(index: number, cleaning: Cleaning): CleanedColumn {
		return this.cleaners[index](cleaning);
	}

	clean(cleaning: Cleaning): CleanedColumn[] {
		return this.cleaners.map((own) => own(cleaning));
	}
}
