/** Cleaning of recordings that are keys: what picked keys say is corrected where they are. */
import { kindOf, type Channel, type Doc } from '../document/types';
import type { Key } from '../curve/types';
import { despike, smooth, type Samples } from '../fit/take-filter';
import type { KeySelection } from './keys';

/** Fewer keys than this are no recording. */
export const LEAST_SAMPLES = 7;

/** Whether so many keys of a channel are picked that they can be cleaned. */
export function canClean({ channels }: Doc, selection: KeySelection): boolean {
	return [...selection].some(([id, times]) => isNumber(channels[id]) && times.size >= LEAST_SAMPLES);
}

const isNumber = (channel: Channel | undefined): channel is Channel =>
	channel !== undefined && kindOf(channel.property) === 'number';

/** Gives the picked keys of each channel other values; handles stay as they are. */
function withValues(doc: Doc, selection: KeySelection, change: (samples: Samples) => Float64Array): Doc {
	const channels = { ...doc.channels };
	for (const [id, times] of selection) {
		const channel = channels[id];
		if (!isNumber(channel)) continue;
		const picked = channel.keys.filter(({ t }) => times.has(t));
		if (picked.length < LEAST_SAMPLES) continue;
		const samples = {
			times: Float64Array.from(picked, ({ t }) => t),
			values: Float64Array.from(picked, ({ v }) => v),
		};
		const values = change(samples);
		const next = new Map(picked.map(({ t }, i) => [t, values[i]]));
		const keys = channel.keys.map((key): Key => (next.has(key.t) ? { ...key, v: next.get(key.t)! } : key));
		channels[id] = { ...channel, keys };
	}
	return { ...doc, channels };
}

/** Single values that stand out become what their neighbours say; how many did. */
export function removeSpikes(doc: Doc, selection: KeySelection): { doc: Doc; removed: number } {
	let removed = 0;
	const next = withValues(doc, selection, (taken) => {
		const { samples, replaced } = despike(taken);
		removed += replaced;
		return samples.values;
	});
	return { doc: removed > 0 ? next : doc, removed };
}

/** A cubic needs five values: through fewer it would change nothing. */
const LEAST_REACH = 2;
const MOST_REACH = 200;

/**
 * Trembling is smoothed away over `span` ticks about each key; the largest change as a share of what its channel goes over,
 * 0 where keys stand too far apart for that.
 */
export function smoothKeys(doc: Doc, selection: KeySelection, span: number): { doc: Doc; largest: number } {
	let largest = 0;
	const next = withValues(doc, selection, (taken) => {
		const { times, values } = taken;
		const apart = (times[times.length - 1] - times[0]) / (times.length - 1);
		const reach = Math.min(MOST_REACH, Math.round(span / apart / 2));
		if (reach < LEAST_REACH) return values;
		const smoothed = smooth(taken, reach).values;
		// Not as arguments: a long recording has more values than a call may have.
		const range = values.reduce((a, b) => Math.max(a, b)) - values.reduce((a, b) => Math.min(a, b));
		smoothed.forEach((v, i) => (largest = Math.max(largest, Math.abs(v - values[i]) / (range || 1))));
		return smoothed;
	});
	return { doc: largest > 0 ? next : doc, largest };
}
