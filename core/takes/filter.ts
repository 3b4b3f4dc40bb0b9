/** Columns of a take without their spikes, and smoothed: each by itself, and three turns of a part as what they mean together. */
import type { Cleaning } from '../document/takes';
import { despike, oneEuro, smooth, type Samples } from '../fit/take-filter';
import {
	angleBetween,
	closestEuler,
	fromEuler,
	slerp,
	toEuler,
	type EulerOrder,
	type Quaternion,
} from '../../player/maths/quaternion';
import { linearFromOklab, linearFromSrgb, oklabFromLinear, srgbFromLinear } from '../../player/maths/colour';
import type { Vec3 } from '../../player/maths/vector';

/** A column that has been filtered. */
export interface Filtered {
	/** Each stretch without a gap. */
	stretches: readonly Samples[];
	/** Spikes that were taken out. */
	spikes: number;
	/** The largest change by smoothing, in the column's units. */
	smoothed: number;
	/** What it goes over without its spikes: shares are of this. */
	range: number;
}

/** A range of nothing: shares of it still have to be something. */
const LEAST_RANGE = 1e-6;
/** Cut-off of the steady smoothing at rest in Hz, from hardly to strongly. */
const STILL_HZ = { hardly: 12, strongly: 0.4 } as const;
/** What the cut-off grows by for each range a second that it moves, from hardly to strongly. */
const FAST_HZ = { hardly: 24, strongly: 6 } as const;
/** Even smoothing looks at no more samples than these on each side. */
const MOST_REACH = 200;

function rangeOf(stretches: readonly Samples[]): number {
	let [low, high] = [Infinity, -Infinity];
	for (const { values } of stretches)
		for (const v of values) {
			low = Math.min(low, v);
			high = Math.max(high, v);
		}
	return Math.max(LEAST_RANGE, high - low);
}

/**
 * The samples of stretches without a gap, by their indices. Samples at which any of the columns has no value are gaps; one that
 * lasts no longer than `bridge` ticks is passed over.
 */
function wholeStretches(
	times: ArrayLike<number>,
	columns: readonly ArrayLike<number>[],
	bridge: number,
): number[][] {
	const stretches: number[][] = [];
	for (let i = 0; i < times.length; i++) {
		if (columns.some((column) => Number.isNaN(column[i]))) continue;
		const open = stretches.at(-1);
		const last = open?.at(-1);
		const goesOn = last === i - 1 || (last !== undefined && times[i] - times[last] <= bridge);
		if (open && goesOn) open.push(i);
		else stretches.push([i]);
	}
	return stretches;
}

const pick = (list: ArrayLike<number>, indices: readonly number[]) =>
	Float64Array.from(indices, (i) => list[i]);
const between = (hardly: number, strongly: number, share: number) => hardly * (strongly / hardly) ** share;

/** Smoothed as the settings say, by as much as that comes to. */
function calmed(samples: Samples, cleaning: Cleaning, range: number): Float64Array {
	const { times, values } = samples;
	const last = times.length - 1;
	if (cleaning.smoothing === 'none' || last < 2) return values;
	if (cleaning.smoothing === 'even') {
		const apart = (times[last] - times[0]) / last;
		return smooth(samples, Math.min(MOST_REACH, Math.round(cleaning.span / apart / 2))).values;
	}
	const { steadiness } = cleaning;
	const still = between(STILL_HZ.hardly, STILL_HZ.strongly, steadiness);
	const fast = between(FAST_HZ.hardly, FAST_HZ.strongly, steadiness) / range;
	return oneEuro(samples, still, fast).values;
}

/** Keeps what was made of the last settings, of which only some matter. */
abstract class Filter {
	private told = '';
	private kept: Filtered[] = [];

	/** What the settings make of the columns. */
	filter(cleaning: Cleaning): Filtered[] {
		const { spikes, bridge, smoothing, span, steadiness, most } = cleaning;
		const told = JSON.stringify([spikes, bridge, smoothing, span, steadiness, most]);
		if (told !== this.told) this.kept = this.make(cleaning);
		this.told = told;
		return this.kept;
	}

	protected abstract make(cleaning: Cleaning): Filtered[];
}

/** Filters a number. */
export class NumberFilter extends Filter {
	private without: { told: string; stretches: readonly Samples[]; count: number } | null = null;

	/** Ticks that rise, and as many values, NaN where there are none. */
	constructor(
		private readonly times: ArrayLike<number>,
		private readonly column: ArrayLike<number>,
	) {
		super();
	}

	private withoutSpikes({ spikes, bridge = 0 }: Cleaning) {
		const told = JSON.stringify([spikes, bridge]);
		if (this.without?.told === told) return this.without;
		let count = 0;
		const stretches = wholeStretches(this.times, [this.column], bridge).map((indices) => {
			const raw = { times: pick(this.times, indices), values: pick(this.column, indices) };
			if (!spikes) return raw;
			const { samples, replaced } = despike(raw);
			count += replaced;
			return samples;
		});
		return (this.without = { told, stretches, count });
	}

	protected make(cleaning: Cleaning): Filtered[] {
		const { stretches, count } = this.withoutSpikes(cleaning);
		const range = rangeOf(stretches);
		const most = cleaning.most * range;
		let smoothed = 0;
		const made = stretches.map((samples) => {
			const calm = calmed(samples, cleaning, range);
			const values = samples.values.map((v, i) => {
				const by = Number.isFinite(calm[i]) ? Math.max(-most, Math.min(most, calm[i] - v)) : 0;
				smoothed = Math.max(smoothed, Math.abs(by));
				return v + by;
			});
			return { times: samples.times, values };
		});
		return [{ stretches: made, spikes: count, smoothed, range }];
	}
}

/** Quaternions of a stretch as four lists, each the nearer of the two that mean the same. */
function quaternionsOf(turns: readonly Float64Array[], order: EulerOrder): Float64Array[] {
	const four = Array.from({ length: 4 }, () => new Float64Array(turns[0].length));
	let before: Quaternion = [0, 0, 0, 1];
	for (let i = 0; i < turns[0].length; i++) {
		const q = fromEuler([turns[0][i], turns[1][i], turns[2][i]], order);
		const isFar = i > 0 && q.reduce((sum, c, k) => sum + c * before[k], 0) < 0;
		before = (isFar ? q.map((c) => -c) : q) as Quaternion;
		before.forEach((c, k) => (four[k][i] = c));
	}
	return four;
}

function unit(q: readonly number[]): Quaternion {
	const length = Math.hypot(...q);
	return (length > 1e-9 ? q.map((c) => c / length) : [0, 0, 0, 1]) as Quaternion;
}

/**
 * Filters the three turns of a part by what they mean together: an orientation that hardly changes is calm, whatever its angles
 * do, and where they flip over it goes on. Each of the quaternion's numbers is filtered, and the length made 1 again.
 */
export class TurnsFilter extends Filter {
	constructor(
		private readonly times: ArrayLike<number>,
		private readonly turns: readonly ArrayLike<number>[],
		private readonly order: EulerOrder,
	) {
		super();
	}

	protected make(cleaning: Cleaning): Filtered[] {
		const { spikes, bridge = 0 } = cleaning;
		let count = 0;
		const stretches = wholeStretches(this.times, this.turns, bridge).map((indices) => {
			const times = pick(this.times, indices);
			const raw = this.turns.map((column) => pick(column, indices));
			const four = quaternionsOf(raw, this.order);
			if (spikes) count += this.despike(times, four);
			return { times, raw, before: four, after: this.calm(times, four, cleaning) };
		});
		const angles = stretches.map(({ times, raw, before, after }) => ({
			times,
			before: this.anglesOf(before, raw),
			after: this.anglesOf(after, raw),
		}));
		return this.turns.map((_, k) => {
			let smoothed = 0;
			for (const { before, after } of angles)
				after[k].forEach((v, i) => (smoothed = Math.max(smoothed, Math.abs(v - before[k][i]))));
			const own = angles.map(({ times, after }) => ({ times, values: after[k] }));
			return { stretches: own, spikes: count, smoothed, range: rangeOf(own) };
		});
	}

	/** What stands out in any of the four numbers is a spike in all; gives how many there were. */
	private despike(times: Float64Array, four: Float64Array[]): number {
		const calm = four.map((values) => despike({ times, values }).samples.values);
		let count = 0;
		for (let i = 0; i < times.length; i++) {
			if (four.every((values, k) => values[i] === calm[k][i])) continue;
			unit(calm.map((values) => values[i])).forEach((c, k) => (four[k][i] = c));
			count++;
		}
		return count;
	}

	/** Smoothed, and turned by no more than the share of the way from the first orientation to the one farthest from it. */
	private calm(times: Float64Array, four: Float64Array[], cleaning: Cleaning): Float64Array[] {
		if (cleaning.smoothing === 'none') return four;
		const range = Math.max(...four.map((values) => rangeOf([{ times, values }])));
		const calm = four.map((values) => calmed({ times, values }, cleaning, range));
		const at = (list: readonly Float64Array[], i: number) => list.map((values) => values[i]);
		const first = at(four, 0);
		let farthest = 0;
		for (let i = 0; i < times.length; i++) farthest = Math.max(farthest, angleBetween(first, at(four, i)));
		const most = cleaning.most * farthest;
		const out = four.map((values) => values.slice());
		const between = new Float64Array(4);
		for (let i = 0; i < times.length; i++) {
			const [from, to] = [at(four, i), unit(at(calm, i))];
			const angle = angleBetween(from, to);
			slerp(from, to, angle > most ? most / angle : 1, between);
			between.forEach((c, k) => (out[k][i] = c));
		}
		return out;
	}

	/** Angles, each nearest to those before it; the first nearest to what was recorded. */
	private anglesOf(four: readonly Float64Array[], raw: readonly Float64Array[]): Float64Array[] {
		const out = raw.map((column) => new Float64Array(column.length));
		let previous = raw.map((column) => column[0]) as Vec3;
		for (let i = 0; i < out[0].length; i++) {
			const euler = toEuler(unit(four.map((values) => values[i])), this.order);
			previous = closestEuler(euler, previous, this.order);
			previous.forEach((v, k) => (out[k][i] = v));
		}
		return out;
	}
}

/** Filters the four numbers of a colour as they are seen: lightness, and how far it is from grey on two axes, and its alpha. */
export class ColourFilter extends Filter {
	private readonly seen: NumberFilter[];

	constructor(times: ArrayLike<number>, four: readonly ArrayLike<number>[]) {
		super();
		const columns = Array.from({ length: 4 }, () => new Float64Array(times.length));
		for (let i = 0; i < times.length; i++) {
			const [r, g, b, alpha] = four.map((own) => own[i]);
			const isGap = Number.isNaN(r + g + b + alpha);
			const lab = oklabFromLinear([r, g, b].map(linearFromSrgb));
			[...lab, alpha].forEach((v, k) => (columns[k][i] = isGap ? NaN : v));
		}
		this.seen = columns.map((column) => new NumberFilter(times, column));
	}

	protected make(cleaning: Cleaning): Filtered[] {
		const seen = this.seen.map((own) => own.filter(cleaning)[0]);
		const share = (v: number) => Math.min(1, Math.max(0, v));
		const stretches = seen[0].stretches.map(({ times, values }, s) => {
			const four = Array.from({ length: 4 }, () => new Float64Array(values.length));
			for (let i = 0; i < values.length; i++) {
				const [l, a, b, alpha] = seen.map((own) => own.stretches[s].values[i]);
				const shown = linearFromOklab([l, a, b]).map(srgbFromLinear);
				[...shown, alpha].forEach((v, k) => (four[k][i] = share(v)));
			}
			return four.map((own) => ({ times, values: own }));
		});
		const most = (of: (own: Filtered) => number) => Math.max(...seen.map(of));
		return seen.map((_, k) => ({
			stretches: stretches.map((four) => four[k]),
			spikes: most(({ spikes }) => spikes),
			smoothed: most(({ smoothed }) => smoothed),
			range: 1,
		}));
	}
}
