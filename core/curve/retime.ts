/** Edits that move many keys of a channel in time or value at once. Each gives new keys, slopes of handles kept. */
import { indexAt, keepSlopes, scaleSide } from './edit';
import { insertOnCurve } from './split';
import type { CurveContext } from './handles';
import type { Key } from './types';

/** Keys at new times and values by `place`, which scales; of two that land on one tick the one given later stays. */
function placed(keys: readonly Key[], place: (key: Key) => { t: number; v: number } | null): Key[] {
	const moved: { key: Key; source: number; moves: boolean }[] = keys.map((key, source) => {
		const to = place(key);
		return { key: to ? { ...key, t: Math.round(to.t), v: to.v } : key, source, moves: to !== null };
	});
	const byTime = new Map<number, (typeof moved)[number]>();
	for (const entry of moved.filter((e) => !e.moves)) byTime.set(entry.key.t, entry);
	for (const entry of moved.filter((e) => e.moves)) byTime.set(entry.key.t, entry);
	const sorted = [...byTime.values()].sort((a, b) => a.key.t - b.key.t);
	return keepSlopes(
		keys,
		sorted.map((entry) => entry.key),
		sorted.map((entry) => entry.source),
		(span) => moved[span].moves && moved[span + 1].moves,
	);
}

/** Scales picked keys in time about `pivotTicks` (factor above 0) and in value about `pivotValue`. */
export function scaleKeys(
	keys: readonly Key[],
	times: ReadonlySet<number>,
	time: { pivot: number; factor: number },
	value: { pivot: number; factor: number },
): Key[] {
	const scaled = placed(keys, (key) =>
		times.has(key.t)
			? {
					t: time.pivot + (key.t - time.pivot) * time.factor,
					v: value.pivot + (key.v - value.pivot) * value.factor,
				}
			: null,
	);
	if (value.factor === 1) return scaled;
	const picked = new Set([...times].map((t) => Math.round(time.pivot + (t - time.pivot) * time.factor)));
	return scaled.map((key) => {
		if (!picked.has(key.t) || (key.left?.rise === undefined && key.right?.rise === undefined)) return key;
		const next = { ...key };
		if (key.left) next.left = scaleSide(key.left, value.factor);
		if (key.right) next.right = scaleSide(key.right, value.factor);
		return next;
	});
}

/** Mirrors the values of picked keys about a value. */
export function mirrorKeys(keys: readonly Key[], times: ReadonlySet<number>, about: number): Key[] {
	return scaleKeys(keys, times, { pivot: 0, factor: 1 }, { pivot: about, factor: -1 });
}

/** Moves all keys from tick `from` on by `ticks`; going back, keys that would pass `from` are removed. */
export function shiftFrom(keys: readonly Key[], from: number, ticks: number): Key[] {
	const kept = ticks < 0 ? keys.filter((key) => key.t < from + ticks || key.t >= from) : (keys as Key[]);
	const sources = kept.map((key) => keys.indexOf(key));
	return keepSlopes(
		keys,
		kept.map((key) => (key.t >= from ? { ...key, t: key.t + ticks } : key)),
		sources,
	);
}

/** Holds the value that a channel has at tick `t` for `ticks` more: what follows comes that much later. */
export function holdPose(keys: readonly Key[], t: number, ticks: number, context: CurveContext): Key[] {
	const split = insertOnCurve(keys, t, context);
	const index = indexAt(split, t);
	const key = split[index];
	const later = shiftFrom(split, t, ticks);
	const still: Key = { t, v: key.v, shape: { kind: 'hold' } };
	if (key.left) still.left = key.left;
	const at = indexAt(later, t + ticks);
	const after: Key = { ...later[at] };
	delete after.left;
	return [...later.slice(0, at), still, after, ...later.slice(at + 1)];
}

/** Adds to the value of a key, and to all keys after it, so that what follows keeps its form. */
export function offsetFrom(keys: readonly Key[], from: number, value: number): Key[] {
	return keys.map((key) => (key.t >= from ? { ...key, v: key.v + value } : key));
}

/** Multiplies all times, as when a clip is stretched. */
export function stretchKeys(keys: readonly Key[], factor: number): Key[] {
	return placed(keys, (key) => ({ t: key.t * factor, v: key.v }));
}
