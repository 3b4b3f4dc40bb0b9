/** A player that is given other clips while they play: what a running game sees while its motion is worked on. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eased, linear, ProjectBuilder, REPEAT } from '../../demo/builder';
import { placeOf } from '../../player/layout';
import { Player } from '../../player/player';
import { between } from '../../player/testing';
import type { Doc } from '../document/types';
import { removeClip } from '../edits/clips';
import { clipSet } from './clip-set';

/** A boat that bobs and travels, with or without a lamp that swings before it in the layout. */
function boat(height: number, hasLamp = false): Doc {
	const builder = new ProjectBuilder('Boat', 'world', 30)
		.part('lamp', { kind: 'ball', size: [1, 1, 1] })
		.part('boat', { kind: 'box', size: [1, 1, 1] });
	builder.startClip('bob', 30, REPEAT);
	if (hasLamp)
		builder.keys('lamp', 'rotation.z', [
			[0, 0, linear],
			[30, 40],
		]);
	return builder
		.keys('boat', 'translation.y', [
			[0, 0, eased(0.4, 0.4)],
			[15, height, eased(0.4, 0.4)],
			[30, 0],
		])
		.cue('high', 15)
		.startClip('cruise', 24, REPEAT)
		.keys(
			'boat',
			'translation.x',
			[
				[0, 0, linear],
				[24, 2],
			],
			true,
		)
		.build();
}

const placed = ({ layout, pose }: Pick<Player, 'layout' | 'pose'>) => {
	const at = placeOf(layout, 'boat', 'translation');
	return [...pose.subarray(at, at + 3)];
};
const close = (a: readonly number[], b: readonly number[]) =>
	a.forEach((v, k) => expect(v).toBeCloseTo(b[k], 9));

describe('other clips of the same names', () => {
	it('go on where the old ones were, with their travel, rounds, fades and layers', () => {
		const times = fc.array(between(0.01, 1.2), { minLength: 4, maxLength: 4 });
		fc.assert(
			fc.property(times, fc.boolean(), ([a, b, c, d], hasLamp) => {
				const cues: string[] = [];
				const own = new Player(clipSet(boat(1)), { oncue: ({ cue }) => cues.push(`own ${cue.name}`) });
				const twin = new Player(clipSet(boat(1)), { oncue: ({ cue }) => cues.push(`twin ${cue.name}`) });
				const both = (act: (player: typeof own) => void) => [own, twin].forEach(act);
				both((player) => player.play({ clip: 'cruise' }));
				both((player) => player.advance(a));
				both((player) => player.play({ clip: 'bob', blend: { kind: 'crossfade', seconds: 1 } }));
				both((player) =>
					player.layer('over', { weight: 0.5, parts: ['boat'] }).play({ clip: 'cruise', delay: b / 2 }),
				);
				both((player) => player.enqueue({ clip: 'cruise' }));
				both((player) => player.advance(b));
				own.exchange(clipSet(boat(1, hasLamp)));
				close(placed(own), placed(twin));
				for (const step of [c, d]) {
					both((player) => player.advance(step));
					close(placed(own), placed(twin));
				}
				const [owns, twins] = ['own', 'twin'].map((who) => cues.filter((cue) => cue.startsWith(who)).length);
				expect(owns).toBe(twins);
			}),
			{ numRuns: 60 },
		);
	});

	it('are seen at once, at the same time of the round', () => {
		const player = new Player(clipSet(boat(1)));
		player.play({ clip: 'bob', count: 2 });
		player.advance(1.5);
		expect(placed(player)[1]).toBeCloseTo(1, 9);
		player.exchange(clipSet(boat(3, true)));
		expect(placed(player)[1]).toBeCloseTo(3, 9);
		// As many rounds as were asked for.
		player.advance(10);
		expect(placed(player)[1]).toBe(0);
		expect(player.playing.map(({ ticks }) => ticks / 72_000)).toEqual([expect.closeTo(11.5, 9)]);
	});

	it('that are gone are let go, and what is still there stays', () => {
		const less = clipSet(removeClip(boat(1), 'cruise'));
		const player = new Player(clipSet(boat(1)));
		player.play({ clip: 'bob' });
		player.advance(0.5);
		player.play({ clip: 'cruise', blend: { kind: 'crossfade', seconds: 4 } });
		player.enqueue({ clip: 'cruise' });
		player.advance(0.25);
		player.exchange(less);
		expect(player.playing.map(({ clip }) => clip.name)).toEqual(['bob']);
		player.exchange(clipSet(removeClip(removeClip(boat(1), 'cruise'), 'bob')));
		expect(player.playing).toEqual([]);
		expect(() => player.play({ clip: 'bob' })).toThrow('there is no clip "bob"');
		player.advance(1);
	});
});
