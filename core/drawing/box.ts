/** How far a drawing reaches, in its part's own axes and units. */
import type { Drawing } from '../document/types';
import type { Space } from '../pose/space';
import { rotateVector, type Quaternion } from '../../player/maths/quaternion';
import type { Vec3 } from '../../player/maths/vector';
import { meshOf } from './mesh';

function* cornersOf(drawing: Drawing, space: Space): Generator<Vec3> {
	let positions: ArrayLike<number> = [];
	try {
		positions = meshOf(drawing, space)?.positions ?? [];
	} catch {
		// A path that cannot be drawn takes no room.
	}
	for (let i = 0; i + 2 < positions.length; i += 3) yield [positions[i], positions[i + 1], positions[i + 2]];
}

/** The box around a drawing; null for what has none, as empties, cameras and models. */
export function boxOf(drawing: Drawing, space: Space): { low: Vec3; high: Vec3 } | null {
	let box: { low: Vec3; high: Vec3 } | null = null;
	for (const corner of cornersOf(drawing, space)) {
		box ??= { low: [...corner], high: [...corner] };
		for (let k = 0; k < 3; k++) {
			box.low[k] = Math.min(box.low[k], corner[k]);
			box.high[k] = Math.max(box.high[k], corner[k]);
		}
	}
	return box;
}

/**
 * How far the lowest point of a turned and scaled drawing is below its pivot, in the units of its parent; 0 for what has
 * no drawing. On a screen y runs down.
 */
export function depthBelowPivot(drawing: Drawing, space: Space, turn: Quaternion, scale: Vec3): number {
	const down = space === 'world' ? -1 : 1;
	let deepest = -Infinity;
	for (const [x, y, z] of cornersOf(drawing, space))
		deepest = Math.max(deepest, down * rotateVector(turn, [x * scale[0], y * scale[1], z * scale[2]])[1]);
	return Number.isFinite(deepest) ? deepest : 0;
}
