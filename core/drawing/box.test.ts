import fc from 'fast-check';
import { expect, it } from 'vitest';
import { fromEuler } from '../../player/maths/quaternion';
import { between } from '../../player/testing';
import type { Drawing } from '../document/types';
import { boxOf, depthBelowPivot } from './box';
import { meshOf } from './mesh';

const UPRIGHT = fromEuler([0, 0, 0], 'XYZ');

it.each(['box', 'ball', 'cylinder', 'cone'] as const)(
	'the box of a %s is its size about its offset',
	(kind) => {
		const { low, high } = boxOf({ kind, size: [2, 4, 6], offset: [10, 20, -30] }, 'world')!;
		[9, 18, -33].forEach((v, k) => expect(low[k]).toBeCloseTo(v, 5));
		[11, 22, -27].forEach((v, k) => expect(high[k]).toBeCloseTo(v, 5));
	},
);

it('what has no drawing has no box, and stands at its pivot', () => {
	expect(boxOf({ kind: 'empty', offset: [1, 1, 1] }, 'world')).toBeNull();
	expect(depthBelowPivot({ kind: 'empty', offset: [1, 1, 1] }, 'world', UPRIGHT, [1, 1, 1])).toBe(0);
});

it('the lowest point is turned and scaled with the drawing; on a screen low is where y is large', () => {
	const crate: Drawing = { kind: 'box', size: [2, 4, 2], offset: [0, 1, 0] };
	expect(depthBelowPivot(crate, 'world', UPRIGHT, [1, 1, 1])).toBeCloseTo(1, 6);
	expect(depthBelowPivot(crate, 'interface', UPRIGHT, [1, 1, 1])).toBeCloseTo(3, 6);
	fc.assert(
		fc.property(between(-180, 180), between(0.2, 3), (angle, scale) => {
			const turn = fromEuler([0, 0, angle], 'XYZ');
			const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
			// Of the four corners seen from the front.
			const corners = [-1, 1].flatMap((x) => [-1, 3].map((y) => s * x + c * y * scale));
			const depth = depthBelowPivot(crate, 'world', turn, [1, scale, 1]);
			expect(depth).toBeCloseTo(-Math.min(...corners), 5);
		}),
	);
});

it.each(['cylinder', 'cone', 'ball'] as const)(
	'the normals of a %s stretched by its size stand on its faces',
	(kind) => {
		const { positions, normals, indices } = meshOf({ kind, size: [3, 5, 8], offset: [0, 0, 0] }, 'world')!;
		const at = (list: Float32Array, i: number) => [0, 1, 2].map((k) => list[3 * i + k]);
		for (let i = 0; i < indices.length; i += 3) {
			const [a, b, c] = [0, 1, 2].map((k) => at(positions, indices[i + k]));
			const [u, v] = [b, c].map((corner) => corner.map((value, k) => value - a[k]));
			const face = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
			const size = Math.hypot(...face);
			if (size < 1e-9) continue;
			for (const corner of [0, 1, 2]) {
				const normal = at(normals, indices[i + corner]);
				expect(Math.hypot(...normal)).toBeCloseTo(1, 5);
				const along = normal.reduce((sum, value, k) => sum + (value * face[k]) / size, 0);
				expect(along, `${kind} ${i}`).toBeGreaterThan(0.95);
			}
		}
	},
);
