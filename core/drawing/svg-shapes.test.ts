import { describe, expect, it } from 'vitest';
import { pathLines, ringsOf, signedArea } from '../outline/outline';
import { placedPath, shapePath } from './svg-shapes';

const areaOf = (d: string) =>
	ringsOf(pathLines(d)).reduce((sum, ring) => sum + Math.abs(signedArea(ring)), 0);

describe('a basic shape of SVG as a path', () => {
	it.each([
		['rect', { x: 2, y: 1, width: 6, height: 4 }, 24],
		['rect', { width: 6, height: 4, rx: 1 }, 24 - (4 - Math.PI)],
		['circle', { cx: 3, cy: 4, r: 2 }, Math.PI * 4],
		['ellipse', { rx: 3, ry: 1 }, Math.PI * 3],
		['polygon', { points: '0,0 4,0 4 3' }, 6],
		['line', { x1: 0, y1: 0, x2: 5, y2: 0 }, 0],
		['rect', { width: 0, height: 3 }, 0],
	])('%s %o encloses what it should', (tag, attributes, area) => {
		const d = shapePath(tag, attributes);
		expect(d === '' ? 0 : areaOf(d)).toBeCloseTo(area, 1);
	});

	it('is moved, then scaled', () => {
		const [{ points }] = pathLines(placedPath('M 12 12 L 24 12', -12, -12, 2));
		expect(points).toEqual([
			[0, 0],
			[24, 0],
		]);
	});
});
