/** How elements of which nothing is known look as parts: rectangles side by side. */
import type { NewPart } from '../../incoming/document';

const COLOURS = ['#2f6f8f', '#c8452c', '#b8862b', '#3f6b4f', '#7a4e7e', '#5c6b73'];
export const ELEMENT = { width: 120, height: 72 };
const GAP = 48;
const A_ROW = 6;

/** The n-th of them, from 0. */
export function elementLook(n: number): NewPart & { rest: { translation: [number, number, number] } } {
	const { width, height } = ELEMENT;
	return {
		drawing: { kind: 'card', size: [width, height, 0], radius: 8, offset: [0, 0, 0] },
		colour: COLOURS[n % COLOURS.length],
		rest: {
			translation: [(n % A_ROW) * (width + GAP), Math.floor(n / A_ROW) * (height + GAP), 0],
		},
	};
}
