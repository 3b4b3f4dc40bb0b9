import { ticksToSeconds } from '../../../player/time';
import { short, type ChannelRule } from '../rule';

/** How many times the least gravity of a channel the greatest may be. Whole frames make short arcs a little unlike. */
const ALIKE = 1.25;

/** Falls and rises of one channel: bodies under one gravity cover heights that go with the square of the time. */
export const unlikeGravity: ChannelRule = {
	id: 'unlike-gravity',
	title: 'Falls under unlike gravities',
	why: 'One arc is hurried and another floats: under one gravity, twice the time is four times the height.',
	measure: ({ facts }) => `${short(facts.gravity)} here, ${short(facts.other)} elsewhere (units/s²)`,
	mends: {},
	scope: 'channel',
	find({ channel: { keys } }) {
		const arcs = keys.slice(1).flatMap((next, i) => {
			const { t, v, shape } = keys[i];
			if ((shape.kind !== 'fall' && shape.kind !== 'rise') || next.v === v) return [];
			// s = g·t²/2, either way.
			return [{ t, gravity: (2 * Math.abs(next.v - v)) / ticksToSeconds(next.t - t) ** 2 }];
		});
		if (arcs.length < 2) return [];
		const sorted = arcs.toSorted((a, b) => a.gravity - b.gravity);
		const [least, most] = [sorted[0], sorted.at(-1)!];
		if (most.gravity <= ALIKE * least.gravity) return [];
		// Told at the one that is further from what most of them have.
		const usual = sorted[sorted.length >> 1].gravity;
		const odd = most.gravity / usual > usual / least.gravity ? most : least;
		return [
			{
				severity: 'note',
				t: odd.t,
				facts: { gravity: odd.gravity, other: usual },
			},
		];
	},
};
