import { expect, it } from 'vitest';
import { nextRow } from './roving';

it('up and down lead to the nearest in the next row, whatever that has', () => {
	// Three in a row, then two, wider.
	const row = (top: number, ...lefts: number[]) => lefts.map((left) => ({ left, top, width: 10 }));
	const boxes = [...row(0, 0, 20, 40), ...row(30, 5, 50)];
	expect([0, 1, 2].map((i) => nextRow(boxes, i, 1))).toEqual([3, 3, 4]);
	expect([3, 4].map((i) => nextRow(boxes, i, -1))).toEqual([0, 2]);
	expect([nextRow(boxes, 0, -1), nextRow(boxes, 4, 1)]).toEqual([-1, -1]);
});
