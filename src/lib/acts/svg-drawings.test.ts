// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest';
import { pathLines } from '$core/outline/outline';
import type { Drawing } from '$core/document/types';
import { drawingsFromSvg } from './svg-drawings';

const svg = (shapes: string) => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20">${shapes}</svg>`;
const RECT = '<rect id="quay" x="10" y="0" width="20" height="10" fill="#b5532f"/>';
type Path = Extract<Drawing, { kind: 'path' }>;

/** Smallest and largest x and y of a drawn path. */
function boundsOf(drawing: Drawing): number[] {
	const points = pathLines((drawing as Path).d).flatMap(({ points }) => points as ArrayLike<number>[]);
	const [xs, ys] = [0, 1].map((axis) => points.map((point) => point[axis]));
	return [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
}

describe('an SVG file as drawings', () => {
	it('is as long as its space wants, about the middle of what is drawn', () => {
		for (const [space, half] of [
			['world', 1],
			['interface', 100],
		] as const) {
			const [{ drawing }] = drawingsFromSvg(svg(RECT), space);
			expect(boundsOf(drawing)).toEqual([-half, half, -half / 2, half / 2].map((v) => expect.closeTo(v, 9)));
		}
	});

	it('keeps names, colours and lines; what is only a line stays hollow', () => {
		const [quay, rope, ...others] = drawingsFromSvg(
			svg(`${RECT}<path d="M10 10 L30 10" fill="none" stroke="#22303a" stroke-width="2"/>`),
			'interface',
		);
		expect(others).toEqual([]);
		expect(quay).toMatchObject({ name: 'quay', colour: '#b5532f', drawing: { kind: 'path', depth: 0 } });
		expect(quay.drawing).not.toHaveProperty('stroke');
		expect(quay.drawing).not.toHaveProperty('filled');
		expect(rope).toMatchObject({
			name: 'shape 2',
			colour: '#22303a',
			drawing: { filled: false, stroke: { width: 20, colour: '#22303a', start: 0, end: 1 } },
		});
	});

	it('lays later shapes over earlier ones, each at its place', () => {
		const [low, high] = drawingsFromSvg(
			svg(`<g transform="translate(4 0)">${RECT}<circle cx="30" cy="5" r="2"/></g>`),
			'world',
		);
		expect(high.drawing.offset[2]).toBeGreaterThan(low.drawing.offset[2]);
		const [left, right, top, bottom] = boundsOf(high.drawing);
		// The circle stands at the rectangle's right edge: both reach from −10 to 12 about their middle.
		expect([left, right].map((x) => x / (2 / 22))).toEqual([7, 11].map((x) => expect.closeTo(x, 1)));
		expect(top + bottom).toBeCloseTo(0, 6);
	});

	it('takes a grey where there is no one colour, and leaves out what has none', () => {
		const drawn = drawingsFromSvg(
			svg('<rect width="4" height="4" fill="url(#fog)"/><rect width="4" height="4" fill="none"/>'),
			'world',
		);
		expect(drawn.map(({ colour }) => colour)).toEqual(['#8a8f94']);
	});

	it('says why nothing can be made of it', () => {
		expect(() => drawingsFromSvg(svg(''), 'world')).toThrow('no shapes');
		expect(() => drawingsFromSvg(svg('<rect width="4" height="4" fill="none"/>'), 'world')).toThrow('colour');
		expect(() => drawingsFromSvg(svg(RECT.repeat(61)), 'world')).toThrow('61 shapes, 60 at most');
	});

	it('that uses itself again and again is counted before it is unfolded', () => {
		const levels = Array.from({ length: 12 }, (_, i) =>
			i === 0 ? `<g id="l0">${RECT}</g>` : `<g id="l${i}">${`<use href="#l${i - 1}"/>`.repeat(8)}</g>`,
		);
		expect(() => drawingsFromSvg(svg(levels.join('')), 'world')).toThrow('more than 5000');
		expect(() => drawingsFromSvg(svg('<g id="a"><use href="#a"/></g>'), 'world')).toThrow('itself');
	});

	it('may have sixty shapes, and no more', () => {
		const many = (count: number) => () => drawingsFromSvg(svg(RECT.repeat(count)), 'world').length;
		expect(many(60)()).toBe(60);
		expect(many(61)).toThrow('61 shapes');
	});
});
