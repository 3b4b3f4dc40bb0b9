import { expect, it } from 'vitest';
import { linear, ONCE, ProjectBuilder } from '../../demo/builder';
import { makeQuay } from '../../demo/quay';
import { blendId } from '../document/types';
import { bestSeconds, meetingsOf, popShares } from './meetings';

it('clips meet where triggers play them in one place, or a blend is set', () => {
	const doc = makeQuay();
	const pairs = meetingsOf(doc).map(({ from, to }) => `${from} ${to}`);
	expect(pairs).toEqual(
		[
			'sack-drop ferry-crossing',
			'sack-drop crane-swing',
			'ferry-crossing sack-drop',
			'ferry-crossing crane-swing',
			'crane-swing sack-drop',
			'crane-swing ferry-crossing',
		].sort((a, b) => pairs.indexOf(a) - pairs.indexOf(b)),
	);
	expect(meetingsOf({ ...doc, triggers: {} })).toEqual(
		[
			{ from: 'sack-drop', to: 'crane-swing' },
			{ from: 'crane-swing', to: 'sack-drop' },
		].sort((a, b) => doc.clips[a.from].order.localeCompare(doc.clips[b.from].order)),
	);
});

/** A clip that rises by 1 in a second, and one that stands at 1. */
const lift = new ProjectBuilder('Lift', 'world', 30)
	.part('lift', { kind: 'box', size: [1, 1, 1] })
	.startClip('rise', 30, ONCE)
	.keys('lift', 'translation.y', [
		[0, 0, linear],
		[30, 1],
	])
	.startClip('stand', 30, ONCE)
	.keys('lift', 'translation.y', [[0, 3]])
	.blend('rise', 'stand', 'crossfade', 0.5, linear)
	.build();

it('pops are shares of the range, and the best duration is the shortest that keeps below a limit', () => {
	const blend = lift.blends[blendId('rise', 'stand')];
	expect(popShares(lift, { ...blend, kind: 'cut' }).value).toBeCloseTo(2, 6);
	// It comes at 1 a second, and goes on at 2/d: over the range of 1 the kink is |2/d − 1|.
	for (const seconds of [0.25, 0.5, 1, 2])
		expect(popShares(lift, { ...blend, seconds }).rate).toBeCloseTo(Math.abs(2 / seconds - 1), 1);
	expect([6, 3, 1, 0.2].map((limit) => bestSeconds(lift, blend, limit))).toEqual([0.3, 0.5, 1, 1.7]);
	const near = { ...blend, from: 'stand', to: 'rise' };
	expect(bestSeconds(lift, near, 0.4)).toBeNull();
});
