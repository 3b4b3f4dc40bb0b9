/** What a take says at a time, before it was cleaned: the pose of its parts beside what they are now. */
import type { CompiledClip } from '$core/clip/compile';
import { putNumber } from '$core/clip/layout';
import type { Take } from '$core/document/takes';
import { channelId } from '$core/document/types';
import { sampleFrom } from '$core/takes/sample-from';
import type { RawColumn } from '$lib/acts/take-work.svelte';
import { hangsOn } from './twins';

/** The value between two samples; NaN in gaps, before the first and after the last. */
function valueAt({ times, values }: RawColumn, t: number): number {
	const after = sampleFrom(times, t);
	if (after === times.length) return NaN;
	if (times[after] === t) return values[after];
	if (after === 0) return NaN;
	const share = (t - times[after - 1]) / (times[after] - times[after - 1]);
	return values[after - 1] + share * (values[after] - values[after - 1]);
}

/** Parts of which a take says something, but for those that hang on another one of them. */
export function rootsOf(take: Take, compiled: CompiledClip): string[] {
	const parts = [...new Set(take.columns.map(({ part }) => part))].filter((id) =>
		compiled.indexOfPart.has(id),
	);
	return parts.filter((id) => !parts.some((other) => other !== id && hangsOn(compiled, id, other)));
}

/** A pose with what a take says at a tick in it; null where it says nothing then. */
export function rawPose(
	take: Take,
	raw: ReadonlyMap<string, RawColumn>,
	compiled: CompiledClip,
	pose: Float64Array,
	t: number,
): Float64Array | null {
	const out = pose.slice();
	let says = false;
	for (const { part, property, component } of take.columns) {
		const column = raw.get(channelId(take.clip, part, property, component));
		const own = compiled.parts[compiled.indexOfPart.get(part) ?? -1];
		if (!column || !own) continue;
		const value = valueAt(column, t);
		if (Number.isNaN(value)) continue;
		says = putNumber({ layout: compiled.layout, pose: out }, own, property, component, value) || says;
	}
	return says ? out : null;
}
