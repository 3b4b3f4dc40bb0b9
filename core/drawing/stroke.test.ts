import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Drawing } from '../document/types';
import { meshOf, strokeMeshOf } from './mesh';
import type { Mesh } from './triangles';
import type { Line } from '../outline/outline';
import { DARK } from './pattern';
import { edgesOf, trimmed } from './stroke';
import { between } from '../../player/testing';

function area({ positions: p, indices }: Mesh): number {
	let sum = 0;
	for (let i = 0; i < indices.length; i += 3) {
		const corner = (k: number, axis: number) => p[3 * indices[i + k] + axis] - p[3 * indices[i] + axis];
		sum += Math.hypot(
			corner(1, 1) * corner(2, 2) - corner(1, 2) * corner(2, 1),
			corner(1, 2) * corner(2, 0) - corner(1, 0) * corner(2, 2),
			corner(1, 0) * corner(2, 1) - corner(1, 1) * corner(2, 0),
		);
	}
	return sum / 2;
}
const lengthOf = (lines: readonly Line[]) =>
	lines.reduce(
		(sum, { points, closed }) =>
			sum +
			points.reduce((part, [x, y], i) => {
				const before = i > 0 ? points[i - 1] : closed ? points.at(-1)! : points[0];
				return part + Math.hypot(x - before[0], y - before[1]);
			}, 0),
		0,
	);

describe('the line about a drawing', () => {
	const square: Line = {
		closed: true,
		points: [
			[0, 0],
			[4, 0],
			[4, 4],
			[0, 4],
		],
	};
	const tail: Line = {
		closed: false,
		points: [
			[10, 0],
			[14, 0],
		],
	};

	it('is trimmed to a share of its whole way, over all its lines', () => {
		const share = between(0, 1);
		fc.assert(
			fc.property(share, share, (a, b) => {
				const [start, end] = [Math.min(a, b), Math.max(a, b)];
				expect(lengthOf(trimmed([square, tail], start, end))).toBeCloseTo(20 * (end - start), 6);
			}),
		);
		expect(trimmed([square], 0.5, 0.5)).toEqual([]);
		// A quarter of the square is its first side.
		expect(trimmed([square], 0, 0.25)[0].points).toEqual([
			[0, 0],
			[4, 0],
		]);
	});

	it('of a square is a frame as wide as it should be, with square corners', () => {
		const { left, right } = edgesOf(square, 1);
		const ring = (points: readonly (readonly number[])[]) => points.map((p) => p.map((v) => v + 0));
		expect(ring(left)).toEqual([
			[0.5, 0.5],
			[3.5, 0.5],
			[3.5, 3.5],
			[0.5, 3.5],
		]);
		expect(ring(right)[0]).toEqual([-0.5, -0.5]);
	});

	it('covers its length times its width, of a card, a path and half an ellipse', () => {
		const stroke = { width: 0.1, colour: '#000000', start: 0, end: 1 };
		const of = (drawing: Drawing) => area(strokeMeshOf(drawing, 'world')!);
		const offset: [number, number, number] = [1, 2, 3];
		expect(of({ kind: 'plane', size: [4, 2, 0], stroke, offset })).toBeCloseTo(1.2, 3);
		expect(of({ kind: 'path', d: 'M 0 0 H 3 V 4', depth: 0, filled: false, stroke, offset })).toBeCloseTo(
			0.7,
			3,
		);
		expect(of({ kind: 'ellipse', size: [2, 2, 0], stroke: { ...stroke, end: 0.5 }, offset })).toBeCloseTo(
			0.1 * Math.PI,
			2,
		);
		expect(strokeMeshOf({ kind: 'plane', size: [1, 1, 0], offset }, 'world')).toBeNull();
		expect(meshOf({ kind: 'ellipse', size: [2, 2, 0], filled: false, stroke, offset }, 'world')).toBeNull();
	});
});

describe('quarters', () => {
	it.each<[string, Drawing]>([
		['a ball', { kind: 'ball', size: [2, 2, 2], offset: [3, 0, 0] }],
		['a box', { kind: 'box', size: [2, 3, 4], offset: [0, 1, 0] }],
		['a disc', { kind: 'ellipse', size: [2, 2, 0], offset: [0, 0, 0] }],
	])('of %s cut its surface at its middle and leave it as large', (_, drawing) => {
		const plain = meshOf(drawing, 'world')!;
		const cut = meshOf({ ...drawing, pattern: 'quarters' }, 'world')!;
		expect(area(cut)).toBeCloseTo(area(plain), 4);
		const shades = new Set([...cut.shades!].map((shade) => shade.toFixed(4)));
		expect([...shades].sort()).toEqual([DARK.toFixed(4), '1.0000']);
		// Half of it is dark, and no triangle lies on both sides of a cut.
		const dark = { ...cut, indices: cut.indices.filter((_, i) => cut.shades![i] < 1) };
		expect(area(dark) / area(cut)).toBeCloseTo(0.5, 2);
		for (let i = 0; i < cut.positions.length; i += 9)
			for (let axis = 0; axis < 3; axis++) {
				const sides = [0, 3, 6].map((k) => cut.positions[i + k + axis] - drawing.offset[axis]);
				expect(Math.min(...sides) < -1e-5 && Math.max(...sides) > 1e-5).toBe(false);
			}
	});
});
