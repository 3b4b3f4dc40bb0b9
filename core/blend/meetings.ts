/** Clips that give way to one another: where triggers let them meet, and how long a blend between them should take. */
import { blendId, clipsInOrder, type Blend, type Doc } from '../document/types';
import { blendMeter, measureBlend, type MeasuredPop } from './clip-set';

/** A clip that another one can follow. */
export interface Meeting {
	from: string;
	to: string;
}

/** The clips that triggers play in each place, the ground ('') and the layers. */
function playedIn(doc: Doc): Map<string, Set<string>> {
	const places = new Map<string, Set<string>>();
	for (const { then } of Object.values(doc.triggers)) {
		if (then.kind !== 'play' && then.kind !== 'toggle') continue;
		const place = then.layer ?? '';
		const known = places.get(place) ?? new Set();
		known.add(then.clip);
		if (then.kind === 'toggle' && then.other !== null) known.add(then.other);
		places.set(place, known);
	}
	return places;
}

/** Pairs of clips that triggers play in one place, and those that have a blend, in the order of the clips. */
export function meetingsOf(doc: Doc): Meeting[] {
	const places = [...playedIn(doc).values()];
	const order = clipsInOrder(doc).map(({ id }) => id);
	return order.flatMap((from) =>
		order
			.filter(
				(to) =>
					doc.blends[blendId(from, to)] ||
					(from !== to && places.some((played) => played.has(from) && played.has(to))),
			)
			.map((to) => ({ from, to })),
	);
}

export interface PopShares {
	/** Jump of a value, as a share of its range. */
	value: number;
	/** Jump of a speed, in ranges a second. */
	rate: number;
}

function sharesOf(pops: readonly MeasuredPop[]): PopShares {
	let [value, rate] = [0, 0];
	for (const pop of pops) {
		if (pop.range <= 0) continue;
		value = Math.max(value, pop.value / pop.range);
		rate = Math.max(rate, pop.rate / pop.range);
	}
	return { value, rate };
}

/** The largest pops of a blend, by the ranges of what pops. */
export function popShares(doc: Doc, blend: Blend): PopShares {
	return sharesOf(measureBlend(doc, blend));
}

/** Seconds that are tried. */
const TRIED = Array.from({ length: 40 }, (_, i) => Number(((i + 1) * 0.05).toFixed(2)));

/** The shortest of the durations tried with which a blend's speed pops by no more than so many ranges a second; null where none does. */
export function bestSeconds(doc: Doc, blend: Blend, limit: number): number | null {
	const meter = blendMeter(doc, blend);
	return TRIED.find((seconds) => meter && sharesOf(meter({ ...blend, seconds })).rate <= limit) ?? null;
}
