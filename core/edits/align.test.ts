import { describe, expect, it } from 'vitest';
import { ONCE, ProjectBuilder } from '../../demo/builder';
import { worldMatrix } from '../clip/path';
import { shownAt } from '../testing';
import type { Space } from '../pose/space';
import { AXES, type Doc } from '../document/types';
import { alignMoves, type Alignment } from './align';
import { setRestValue } from './parts';

/** Three boxes 2, 4 and 2 wide at x 0, 10 and 13; the last hangs on the first, which is turned upside down. */
function crates(space: Space): Doc {
	return new ProjectBuilder('Crates', space, 30)
		.part('a', { kind: 'box', size: [2, 2, 2] }, { at: [0, 0, 0], turn: [0, 0, 180] })
		.part('b', { kind: 'box', size: [4, 6, 2], offset: [1, 0, 0] }, { at: [9, 5, 0] })
		.part('c', { kind: 'box', size: [2, 2, 2] }, { parent: 'a', at: [-13, -3, 0] })
		.startClip('clip', 30, ONCE)
		.build();
}
/** Where they are then: the low and the high end of each along an axis. */
function aligned(doc: Doc, how: Alignment, parts = ['a', 'b', 'c']): [number, number][] {
	const { compiled, posed } = shownAt(doc, 'clip', 0);
	const moves = alignMoves(compiled, posed, doc.project.space, parts, how);
	const moved = [...moves].reduce(
		(next, [part, by]) =>
			AXES.reduce(
				(own, axis, k) =>
					setRestValue(own, part, 'translation', axis, own.parts[part].rest.translation[k] + by[k]),
				next,
			),
		doc,
	);
	const now = shownAt(moved, 'clip', 0);
	const axis = /left|centre|right|across/.test(how) ? 0 : 1;
	const half = { a: [1, 1], b: [2, 3], c: [1, 1] } as const;
	return (['a', 'b', 'c'] as const).map((part) => {
		const at = worldMatrix(now.compiled, part, now.posed)![12 + axis] + (part === 'b' && axis === 0 ? 1 : 0);
		return [at - half[part][axis], at + half[part][axis]].map((v) => Math.round(v * 1e6) / 1e6 + 0) as [
			number,
			number,
		];
	});
}

describe('several parts', () => {
	const doc = crates('world');

	it('are put in line by their edges and middles, what hangs on another of them too', () => {
		expect(aligned(doc, 'left').map(([low]) => low)).toEqual([-1, -1, -1]);
		expect(aligned(doc, 'right').map(([, high]) => high)).toEqual([14, 14, 14]);
		expect(aligned(doc, 'centre').map(([low, high]) => low + high)).toEqual([13, 13, 13]);
		expect(aligned(doc, 'middle').map(([low, high]) => low + high)).toEqual([7, 7, 7]);
	});

	it('have their top where it is seen: up in the world, at less y on a screen', () => {
		expect(aligned(doc, 'top').map(([, high]) => high)).toEqual([8, 8, 8]);
		expect(aligned(doc, 'bottom').map(([low]) => low)).toEqual([-1, -1, -1]);
		expect(aligned(crates('interface'), 'top').map(([low]) => low)).toEqual([-1, -1, -1]);
	});

	it('are put apart by even gaps, the outermost where they are', () => {
		const spread = aligned(doc, 'distribute across');
		expect([spread[0][0], spread[2][1]]).toEqual([-1, 14]);
		expect([spread[1][0] - spread[0][1], spread[2][0] - spread[1][1]]).toEqual([3.5, 3.5]);
	});

	it('of which one alone is chosen it stays where it is', () => {
		expect(aligned(doc, 'left', ['b'])).toEqual(aligned(doc, 'left', []));
	});
});
