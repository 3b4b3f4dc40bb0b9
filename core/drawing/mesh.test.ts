import { describe, expect, it } from 'vitest';
import type { Drawing } from '../document/types';
import { meshOf } from './mesh';
import type { Mesh } from './triangles';
import { areasOf, pathLines, ringsOf } from '../outline/outline';

const ZERO: [number, number, number] = [0, 0, 0];

/** Volume by the divergence theorem: positive only when every face looks outwards. */
function volume({ positions: p, indices }: Mesh): number {
	let sum = 0;
	for (let i = 0; i < indices.length; i += 3) {
		const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]];
		sum +=
			p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) -
			p[a + 1] * (p[b] * p[c + 2] - p[b + 2] * p[c]) +
			p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
	}
	return sum / 6;
}

describe('a drawing', () => {
	it.each<[string, Drawing, number, number]>([
		['a box', { kind: 'box', size: [2, 3, 4], offset: [5, 0, -1] }, 24, 0],
		['a ball', { kind: 'ball', size: [2, 2, 2], offset: ZERO }, (4 / 3) * Math.PI, 0.03],
		['a cylinder', { kind: 'cylinder', size: [2, 5, 2], offset: ZERO }, 5 * Math.PI, 0.01],
		['a cone', { kind: 'cone', size: [2, 3, 2], offset: ZERO }, Math.PI, 0.01],
		[
			'a rounded card with depth',
			{ kind: 'card', size: [4, 2, 1], radius: 0.5, offset: ZERO },
			8 - (4 - Math.PI) * 0.25,
			0.01,
		],
		['an ellipse with depth', { kind: 'ellipse', size: [4, 2, 3], offset: ZERO }, 2 * Math.PI * 3, 0.01],
		[
			'a path with a hole',
			{ kind: 'path', d: 'M 0 0 H 4 V 4 H 0 Z M 1 1 H 3 V 3 H 1 Z', depth: 2, offset: ZERO },
			24,
			0,
		],
	])('of %s is closed, looks outwards and has the right volume', (_, drawing, expected, tolerance) => {
		for (const space of ['world', 'interface'] as const) {
			const mesh = meshOf(drawing, space)!;
			expect(Math.abs(volume(mesh) / expected - 1)).toBeLessThanOrEqual(tolerance + 1e-6);
			for (let i = 0; i < mesh.normals.length; i += 3) {
				expect(Math.hypot(mesh.normals[i], mesh.normals[i + 1], mesh.normals[i + 2])).toBeCloseTo(1, 5);
			}
		}
	});

	it('of an SVG path stands upright in both spaces', () => {
		const drawing: Drawing = { kind: 'path', d: 'M 0 0 L 2 0 L 1 -3 Z', depth: 0, offset: ZERO };
		const heights = (space: 'world' | 'interface') =>
			[...meshOf(drawing, space)!.positions].filter((_, i) => i % 3 === 1);
		// The tip is up: +y in the world, −y on a screen.
		expect(Math.max(...heights('world'))).toBe(3);
		expect(Math.min(...heights('interface'))).toBe(-3);
	});

	it('that is empty has no mesh, and one that cannot be read says so', () => {
		expect(meshOf({ kind: 'empty', offset: ZERO }, 'world')).toBeNull();
		expect(() => meshOf({ kind: 'path', d: 'pelican', depth: 0, offset: ZERO }, 'world')).toThrow();
	});
});

it('rings in rings are holes, and rings in holes are areas again', () => {
	const square = (x: number, size: number) => `M ${x} ${x} h ${size} v ${size} h ${-size} Z`;
	const areas = areasOf(ringsOf(pathLines([square(0, 10), square(1, 8), square(2, 6)].join(' '))));
	expect(areas.map((area) => area.holes.length)).toEqual([1, 0]);
});
