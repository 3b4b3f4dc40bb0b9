/** One round of a motion that repeats, found in a recording: where pose and speed meet. */
import { isAngle, isLength } from '../document/units';
import type { Property } from '../document/types';
import { TICKS_PER_SECOND } from '../../player/time';
import type { TakeSamples } from './samples-file';

/** A stretch of a recording that could be played round after round. */
export interface Round {
	/** Ticks of the clip at two samples. */
	from: number;
	to: number;
	/** How far the pose at its end is from that at its start, as a share of what moves (root mean square). */
	pose: number;
	/** The same of the speeds. */
	speed: number;
}

/** Places that a recording is looked at. */
const PLACES = 400;
const LEAST_SECONDS = 0.2;
/** A number goes somewhere in the recording if it ends so far from where it began, as a share of its range. */
const TRAVELS = 0.5;
/** Lengths of a round that are tried about the one that repeats. */
const NEARLY = 0.15;
/** So deep a dip tells a round, between the least and the largest that poses are apart. */
const DIP = 0.35;
/** A speed that does not meet is seen less than a pose that does not. */
const SPEED_WEIGHT = 0.5;
/** Fewer pairs of places say nothing about a length. */
const LEAST_PAIRS = 4;

interface Watched {
	values: Float64Array;
	speeds: Float64Array;
	travels: boolean;
	/** What differences of value and of speed are divided by. */
	range: number;
	speedRange: number;
}

const rangeOf = (values: ArrayLike<number>) => {
	let [low, high] = [Infinity, -Infinity];
	for (let i = 0; i < values.length; i++) {
		low = Math.min(low, values[i]);
		high = Math.max(high, values[i]);
	}
	return high - low;
};

/** Values at evenly spaced places; null where there are gaps. */
function evenly({ times }: TakeSamples, column: Float32Array, count: number): Float64Array | null {
	const last = times.length - 1;
	const out = new Float64Array(count);
	let k = 0;
	for (let i = 0; i < count; i++) {
		const t = times[0] + ((times[last] - times[0]) * i) / (count - 1);
		while (k + 1 < last && times[k + 1] <= t) k++;
		const share = Math.min(1, (t - times[k]) / (times[k + 1] - times[k]));
		out[i] = column[k] + (column[k + 1] - column[k]) * share;
		if (Number.isNaN(out[i])) return null;
	}
	return out;
}

/** What is watched of a take: numbers that move much of their kind say more than those that hardly do. */
function watchedOf(samples: TakeSamples, properties: readonly Property[], count: number): Watched[] {
	const kinds = properties.map((property) =>
		isAngle(property) ? 'angle' : isLength(property) ? 'length' : 'other',
	);
	const all = samples.columns.flatMap((column, c) => {
		const values = evenly(samples, column, count);
		return values ? [{ values, kind: kinds[c], range: rangeOf(values) }] : [];
	});
	return all.flatMap(({ values, kind, range }) => {
		const largest = Math.max(...all.filter((own) => own.kind === kind).map((own) => own.range));
		if (!(largest > 0)) return [];
		const speeds = values.map((_, i) => {
			const [a, b] = [Math.max(0, i - 1), Math.min(count - 1, i + 1)];
			return (values[b] - values[a]) / (b - a);
		});
		return [
			{
				values,
				speeds,
				travels: Math.abs(values[count - 1] - values[0]) > TRAVELS * range,
				range: largest,
				speedRange: rangeOf(speeds) || 1,
			},
		];
	});
}

/** Root mean square of what poses and speeds at two places are apart. */
function apart(all: readonly Watched[], a: number, b: number): { pose: number; speed: number } {
	let [pose, speed, posed] = [0, 0, 0];
	for (const { values, speeds, travels, range, speedRange } of all) {
		if (!travels) {
			pose += ((values[b] - values[a]) / range) ** 2;
			posed++;
		}
		speed += ((speeds[b] - speeds[a]) / speedRange) ** 2;
	}
	return { pose: Math.sqrt(pose / Math.max(1, posed)), speed: Math.sqrt(speed / all.length) };
}

const costOf = ({ pose, speed }: { pose: number; speed: number }) => pose + SPEED_WEIGHT * speed;

/** The shortest number of places after which it repeats, as well as it does at all. */
function periodOf(all: readonly Watched[], count: number, least: number): number | null {
	const costs: number[] = [];
	for (let lag = least; count - lag >= LEAST_PAIRS; lag++) {
		let sum = 0;
		for (let a = 0; a + lag < count; a++) sum += costOf(apart(all, a, a + lag));
		costs.push(sum / (count - lag));
	}
	// What is hardly later is alike in any motion: first it has to become another one.
	const other = costs.findIndex((own) => own > (1 - DIP) * Math.max(...costs));
	const after = costs.slice(other);
	if (after.length < 2) return null;
	const lowest = Math.min(...after);
	const enough = lowest + DIP * (Math.max(...after) - lowest);
	const first = after.findIndex(
		(own, i) => i > 0 && own <= enough && own <= after[i - 1] && own <= (after[i + 1] ?? Infinity),
	);
	return least + other + (first < 0 ? after.indexOf(lowest) : first);
}

/**
 * Rounds of a take, the one that closes best first, at most `most` of them and none that overlaps a better one by more than
 * half. `properties` says what its columns are of. Where a number travels, its speed alone has to meet.
 */
export function roundsOf(samples: TakeSamples, properties: readonly Property[], most = 5): Round[] {
	const { times } = samples;
	const count = Math.min(PLACES, times.length);
	if (count < 2 * LEAST_PAIRS) return [];
	const all = watchedOf(samples, properties, count);
	if (all.length === 0) return [];
	const span = times[times.length - 1] - times[0];
	const ticks = span / (count - 1);
	const least = Math.max(2, Math.ceil((LEAST_SECONDS * TICKS_PER_SECOND) / ticks));
	const period = periodOf(all, count, least);
	if (period === null) return [];
	const [low, high] = [Math.max(least, Math.floor(period * (1 - NEARLY))), Math.ceil(period * (1 + NEARLY))];
	const found: { a: number; b: number; pose: number; speed: number }[] = [];
	for (let lag = low; lag <= high && lag < count; lag++)
		for (let a = 0; a + lag < count; a++) found.push({ a, b: a + lag, ...apart(all, a, a + lag) });
	found.sort((one, other) => costOf(one) - costOf(other));
	const kept: typeof found = [];
	for (const own of found) {
		if (kept.length === most) break;
		const overlap = (other: typeof own) => Math.min(own.b, other.b) - Math.max(own.a, other.a);
		if (kept.every((other) => overlap(other) < (own.b - own.a) / 2)) kept.push(own);
	}
	const sampleAt = (place: number) => nearest(times, times[0] + place * ticks);
	return kept.map(({ a, b, pose, speed }) => ({ from: sampleAt(a), to: sampleAt(b), pose, speed }));
}

/** The time of the sample nearest to a tick. */
function nearest(times: Uint32Array, t: number): number {
	let [low, high] = [0, times.length - 1];
	while (high - low > 1) {
		const middle = (low + high) >> 1;
		if (times[middle] <= t) low = middle;
		else high = middle;
	}
	return t - times[low] <= times[high] - t ? times[low] : times[high];
}
