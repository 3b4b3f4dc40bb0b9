/** Places of a recording where a person would put keys: where it stands still, and where it turns. */
import type { Samples } from '../fit/take-filter';
import { TICKS_PER_SECOND } from '../../player/time';

/** Samples between which it stands still, both included, and where it stands. */
export interface StillStretch {
	from: number;
	to: number;
	value: number;
}

/** A shorter rest is none. */
const LEAST_REST_TICKS = 0.12 * TICKS_PER_SECOND;
/** What goes steadily over more than this share of the room that it has does not stand still, however slow it is. */
const MOST_RISE = 0.5;
/** The same before what leads in and out has been taken off; a window that is full of a steady way has 2. */
const STEADY_RISE = 1.6;

/** Sums of times and values up to each sample, about the first: the slope of any stretch in a moment. */
function sumsOf({ times, values }: Samples) {
	const count = times.length;
	const make = () => new Float64Array(count + 1);
	const [t, v, tt, tv] = [make(), make(), make(), make()];
	for (let i = 0; i < count; i++) {
		const x = (times[i] - times[0]) / TICKS_PER_SECOND;
		const y = values[i] - values[0];
		t[i + 1] = t[i] + x;
		v[i + 1] = v[i] + y;
		tt[i + 1] = tt[i] + x * x;
		tv[i + 1] = tv[i] + x * y;
	}
	/** Least squares slope in values a second over samples `a` to `b`. */
	return (a: number, b: number): number => {
		const n = b - a + 1;
		const [st, sv] = [t[b + 1] - t[a], v[b + 1] - v[a]];
		const spread = tt[b + 1] - tt[a] - (st * st) / n;
		return spread > 0 ? (tv[b + 1] - tv[a] - (st * sv) / n) / spread : 0;
	};
}

/** A stretch that stands still, without what leads into it and out of it. */
function settled(values: Float64Array, from: number, to: number, tolerance: number): StillStretch {
	const sorted = values.slice(from, to + 1).sort();
	const value = sorted[sorted.length >> 1];
	while (Math.abs(values[from] - value) > tolerance) from++;
	while (Math.abs(values[to] - value) > tolerance) to--;
	let [low, high] = [value, value];
	for (let i = from; i <= to; i++) {
		low = Math.min(low, values[i]);
		high = Math.max(high, values[i]);
	}
	// Nothing of it is farther off than it may be.
	return { from, to, value: Math.min(low + tolerance, Math.max(high - tolerance, value)) };
}

/**
 * Stretches that stay within `tolerance` of one value for a while without going anywhere: the longest from each place on.
 * The window slides with its lowest and highest value at hand.
 */
export function stillStretches(samples: Samples, tolerance: number): StillStretch[] {
	const { times, values } = samples;
	const count = values.length;
	const slope = sumsOf(samples);
	const found: StillStretch[] = [];
	// Candidates for the lowest and the highest value of the window, in order of place.
	const [lows, highs] = [new Int32Array(count), new Int32Array(count)];
	let [lowHead, lowEnd, highHead, highEnd] = [0, 0, 0, 0];
	let end = 0;
	const takeIn = (i: number) => {
		while (lowEnd > lowHead && values[lows[lowEnd - 1]] >= values[i]) lowEnd--;
		lows[lowEnd++] = i;
		while (highEnd > highHead && values[highs[highEnd - 1]] <= values[i]) highEnd--;
		highs[highEnd++] = i;
	};
	const fits = (i: number) => {
		const low = lowEnd > lowHead ? Math.min(values[lows[lowHead]], values[i]) : values[i];
		const high = highEnd > highHead ? Math.max(values[highs[highHead]], values[i]) : values[i];
		return high - low <= 2 * tolerance;
	};
	const restFrom = (start: number, last: number): StillStretch | null => {
		if (times[last] - times[start] < LEAST_REST_TICKS) return null;
		// A steady way through the whole window needs no closer look.
		const wholeRise = Math.abs(slope(start, last)) * ((times[last] - times[start]) / TICKS_PER_SECOND);
		if (wholeRise > STEADY_RISE * tolerance) return null;
		const still = settled(values, start, last, tolerance);
		const lasts = times[still.to] - times[still.from];
		const rise = Math.abs(slope(still.from, still.to)) * (lasts / TICKS_PER_SECOND);
		return lasts >= LEAST_REST_TICKS && rise <= MOST_RISE * tolerance ? still : null;
	};
	for (let start = 0; start < count; start++) {
		if (end < start) end = start;
		while (end < count && fits(end)) takeIn(end++);
		const last = end - 1;
		const still = restFrom(start, last);
		if (still) {
			found.push(still);
			// The next may begin where this one ends, not within it.
			[lowHead, lowEnd, highHead, highEnd] = [0, 0, 0, 0];
			start = last;
			end = last + 1;
			continue;
		}
		if (lowHead < lowEnd && lows[lowHead] === start) lowHead++;
		if (highHead < highEnd && highs[highHead] === start) highHead++;
	}
	return found;
}

/**
 * Samples at which a recording turns: highest and lowest places that differ from those before and after them by more than
 * `least`. The ends are none. Of several alike in a row the one in the middle.
 */
export function turnsOf({ values }: Samples, least: number): number[] {
	const turns: number[] = [];
	let [low, high] = [0, 0];
	/** 1 while it rises, −1 while it falls, 0 as long as that is not told. */
	let way = 0;
	const middleFrom = (first: number) => {
		let last = first;
		while (last + 1 < values.length && values[last + 1] === values[first]) last++;
		return (first + last) >> 1;
	};
	for (let i = 1; i < values.length; i++) {
		if (values[i] > values[high]) high = i;
		if (values[i] < values[low]) low = i;
		if (way >= 0 && values[high] - values[i] > least) {
			if (way > 0) turns.push(middleFrom(high));
			way = -1;
			low = i;
		} else if (way <= 0 && values[i] - values[low] > least) {
			if (way < 0) turns.push(middleFrom(low));
			way = 1;
			high = i;
		}
	}
	return turns;
}
