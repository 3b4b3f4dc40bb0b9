/** Puts several parts in line, or apart by even gaps, as they stand in a pose. */
import { drawingIn, type Posed } from '../clip/layout';
import { worldMatrix } from '../clip/path';
import type { PartTree } from '../clip/compile';
import { boxOf } from '../drawing/box';
import { invertMatrix, transformPoint } from '../pose/matrix';
import type { Space } from '../pose/space';
import type { Vec3 } from '../../player/maths/vector';

/** Edges and middles that are put in line, and gaps that are made even. */
export const ALIGNMENTS = [
	'left',
	'centre',
	'right',
	'top',
	'middle',
	'bottom',
	'distribute across',
	'distribute down',
] as const;
export type Alignment = (typeof ALIGNMENTS)[number];

interface Extent {
	part: string;
	low: number;
	high: number;
}

const ACROSS: ReadonlySet<Alignment> = new Set(['left', 'centre', 'right', 'distribute across']);

/** Where a part is along an axis of the project's space; a part without a drawing is where its pivot is. */
function extentOf(tree: PartTree, posed: Posed, space: Space, part: string, axis: 0 | 1): Extent {
	const world = worldMatrix(tree, part, posed)!;
	const box = boxOf(drawingIn(posed, tree.parts[tree.indexOfPart.get(part)!]), space);
	const places: Vec3[] = box
		? [0, 1, 2, 3, 4, 5, 6, 7].map(
				(i) => [0, 1, 2].map((k) => ((i >> k) & 1 ? box.high : box.low)[k]) as Vec3,
			)
		: [[0, 0, 0]];
	const values = places.map((place) => transformPoint(world, place)[axis]);
	return { part, low: Math.min(...values), high: Math.max(...values) };
}

/** How far each part is to go along the axis, in units of the project. */
function waysOf(extents: readonly Extent[], how: Alignment, space: Space): number[] {
	const low = Math.min(...extents.map((one) => one.low));
	const high = Math.max(...extents.map((one) => one.high));
	if (how === 'distribute across' || how === 'distribute down') {
		const sizes = extents.reduce((sum, one) => sum + one.high - one.low, 0);
		const gap = (high - low - sizes) / Math.max(1, extents.length - 1);
		const order = [...extents].sort((a, b) => a.low + a.high - b.low - b.high);
		const starts = new Map<string, number>();
		let at = low;
		for (const one of order) {
			starts.set(one.part, at);
			at += one.high - one.low + gap;
		}
		return extents.map((one) => starts.get(one.part)! - one.low);
	}
	if (how === 'centre' || how === 'middle')
		return extents.map((one) => (low + high) / 2 - (one.low + one.high) / 2);
	// On a screen y runs down.
	const isLow = how === 'left' || how === (space === 'interface' ? 'top' : 'bottom');
	return extents.map((one) => (isLow ? low - one.low : high - one.high));
}

/**
 * What to add to the translation of each part so that they are aligned about all that they take together, in the axes
 * of their parents. What hangs on another of the parts goes with it, and ends where it should all the same.
 */
export function alignMoves(
	tree: PartTree,
	posed: Posed,
	space: Space,
	parts: readonly string[],
	how: Alignment,
): Map<string, Vec3> {
	const axis = ACROSS.has(how) ? 0 : 1;
	const extents = parts.map((part) => extentOf(tree, posed, space, part, axis));
	const ways = new Map(waysOf(extents, how, space).map((way, i) => [parts[i], way]));
	const parentOf = (part: string) => tree.parts[tree.indexOfPart.get(part)!].parent;
	const moves = new Map<string, Vec3>();
	for (const [part, way] of ways) {
		let above = parentOf(part);
		while (above !== null && !ways.has(above)) above = parentOf(above);
		const own = way - (above === null ? 0 : ways.get(above)!);
		const parent = parentOf(part);
		const toParent = parent === null ? null : invertMatrix(worldMatrix(tree, parent, posed)!);
		const by: Vec3 = axis === 0 ? [own, 0, 0] : [0, own, 0];
		if (!toParent) {
			moves.set(part, by);
			continue;
		}
		const [from, to] = [transformPoint(toParent, [0, 0, 0]), transformPoint(toParent, by)];
		moves.set(part, [to[0] - from[0], to[1] - from[1], to[2] - from[2]]);
	}
	return moves;
}
