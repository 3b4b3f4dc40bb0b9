import { ticksToSeconds } from '../../../player/time';
import { frameToTicks } from '../../time';
import { short, type ChannelRule } from '../rule';

/** How many times one gravity another may be, beyond what whole frames make of it. */
const ALIKE = 1.1;

/** Falls and rises of one channel: bodies under one gravity cover heights that go with the square of the time. */
export const unlikeGravity: ChannelRule = {
	id: 'unlike-gravity',
	title: 'Falls under unlike gravities',
	why: 'One arc is hurried and another floats: under one gravity, twice the time is four times the height.',
	measure: ({ facts }) => `${short(facts.gravity)} here, ${short(facts.other)} elsewhere (units/s²)`,
	mends: {},
	scope: 'channel',
	find({ channel: { keys }, doc }) {
		const frame = ticksToSeconds(frameToTicks(1, doc.project.frameRate));
		const arcs = keys.slice(1).flatMap((next, i) => {
			const { t, v, shape } = keys[i];
			if ((shape.kind !== 'fall' && shape.kind !== 'rise') || next.v === v) return [];
			// s = g·t²/2, either way; on whole frames the time is right to half of one.
			const seconds = ticksToSeconds(next.t - t);
			const of = (time: number) => (2 * Math.abs(next.v - v)) / time ** 2;
			return [
				{
					t,
					gravity: of(seconds),
					least: of(seconds + frame / 2),
					most: of(Math.max(seconds - frame / 2, frame / 4)),
				},
			];
		});
		if (arcs.length < 2) return [];
		const sorted = arcs.toSorted((a, b) => a.gravity - b.gravity);
		const [weak, strong] = [sorted[0], sorted.at(-1)!];
		if (strong.least <= ALIKE * weak.most) return [];
		// Told at the one that is further from what most of them have.
		const usual = sorted[sorted.length >> 1].gravity;
		const odd = strong.gravity / usual > usual / weak.gravity ? strong : weak;
		return [{ severity: 'note', t: odd.t, facts: { gravity: odd.gravity, other: usual } }];
	},
};
