/** What a flat drawing shows of itself, and of all that hangs on it, where it is revealed in part. */
import type { Drawing, Reveal } from '../document/types';
import type { Space } from '../pose/space';
import { boxOf } from './box';

/** A window in a part's own axes; infinite towards an edge from which nothing is hidden. */
export interface RevealWindow {
	low: readonly [x: number, y: number];
	high: readonly [x: number, y: number];
}

const pathBoxes = new WeakMap<Drawing, ReturnType<typeof boxOf>>();

function edgesOf(drawing: Drawing, whole: Drawing, space: Space): ReturnType<typeof boxOf> {
	if (drawing.kind !== 'path') {
		if (!('size' in drawing)) return null;
		const half = drawing.size.map((length) => length / 2);
		const { offset } = drawing;
		return {
			low: [offset[0] - half[0], offset[1] - half[1], offset[2]],
			high: [offset[0] + half[0], offset[1] + half[1], offset[2]],
		};
	}
	// Only what is revealed changes of a path, never its outline.
	if (!pathBoxes.has(whole)) pathBoxes.set(whole, boxOf(whole, space));
	return pathBoxes.get(whole)!;
}

/**
 * The window through which a drawing is seen. `whole` is the part's drawing at rest. Insets are shares of the drawing's
 * width and height, 0…1, as in CSS `inset()`; on a screen the top is where y is least. Null for what has no edges.
 */
export function revealWindow(
	drawing: Drawing,
	whole: Drawing,
	{ top, right, bottom, left }: Reveal,
	space: Space,
): RevealWindow | null {
	const box = edgesOf(drawing, whole, space);
	if (!box) return null;
	const [width, height] = [box.high[0] - box.low[0], box.high[1] - box.low[1]];
	const [lowY, highY] = space === 'interface' ? [top, bottom] : [bottom, top];
	const from = (edge: number, inset: number, length: number) =>
		inset > 0 ? edge + inset * length : -Infinity;
	const to = (edge: number, inset: number, length: number) => (inset > 0 ? edge - inset * length : Infinity);
	return {
		low: [from(box.low[0], left, width), from(box.low[1], lowY, height)],
		high: [to(box.high[0], right, width), to(box.high[1], highY, height)],
	};
}
