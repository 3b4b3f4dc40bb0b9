import { expect, it } from 'vitest';
import { drawnWith, hasProperty, restValue } from '../document/rest';
import type { Drawing, Part } from '../document/types';
import { makeParcelSlip } from '../../demo/parcel-slip';
import { boxOf } from './box';
import { revealWindow } from './reveal';

const card: Drawing = { kind: 'card', size: [200, 100, 0], radius: 8, offset: [10, 0, 0] };
const insets = { top: 0.1, right: 0.25, bottom: 0, left: 0.5 };

it('a window is cut from the edges by shares of the size; an edge that hides nothing is open', () => {
	// On a screen y runs down: the top is where it is least.
	expect(revealWindow(card, card, insets, 'interface')).toEqual({ low: [10, -40], high: [60, Infinity] });
	expect(revealWindow(card, card, insets, 'world')).toEqual({ low: [10, -Infinity], high: [60, 40] });
	const wide = { ...card, size: [400, 100, 0] as const };
	expect(revealWindow({ ...wide, size: [400, 100, 0] }, card, insets, 'world')!.low[0]).toBe(10);
});

it('of a path it is cut from what the path takes up', () => {
	const { parts } = makeParcelSlip();
	const path = Object.values(parts).find(({ drawing }) => drawing.kind === 'path')!.drawing;
	const box = boxOf(path, 'interface')!;
	const { low } = revealWindow(path, path, { ...insets, left: 1 }, 'interface')!;
	expect(low[0]).toBeCloseTo(box.high[0], 9);
});

it('what is solid has no edges to be revealed from', () => {
	const solid = { drawing: { kind: 'box', size: [1, 1, 1], offset: [0, 0, 0] } } as unknown as Part;
	expect(hasProperty(solid, 'reveal')).toBe(false);
	expect(hasProperty({ ...solid, drawing: card }, 'reveal')).toBe(true);
});

it('a drawing keeps its insets within its size, and has none once all are 0', () => {
	const half = drawnWith(card, 'reveal', 'left', 0.5);
	expect(half.reveal).toEqual({ top: 0, right: 0, bottom: 0, left: 0.5 });
	expect(drawnWith(half, 'reveal', 'top', 7).reveal).toMatchObject({ top: 1, left: 0.5 });
	expect(restValue({ drawing: half } as Part, 'reveal', 'left')).toBe(0.5);
	expect(drawnWith(half, 'reveal', 'left', -1)).toEqual(card);
});
