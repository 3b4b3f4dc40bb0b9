/**
 * How the two spaces of a project meet glTF's (right-handed, y up, metres): the world space is the same; the
 * interface space is in pixels with y down, so a pixel is a hundredth and y is mirrored, which also turns the sense
 * of rotations about x and z.
 */
import type { Vec3 } from '../../player/maths/vector';

export const SPACES = ['world', 'interface'] as const;
export type Space = (typeof SPACES)[number];

export const METRES_PER_PIXEL = 0.01;

/** Factors that carry translation from a space into glTF's. */
export function translationFactors(space: Space): Vec3 {
	return space === 'world' ? [1, 1, 1] : [METRES_PER_PIXEL, -METRES_PER_PIXEL, METRES_PER_PIXEL];
}

/** Factors that carry Euler angles (degrees) from a space into glTF's. */
export function rotationFactors(space: Space): Vec3 {
	return space === 'world' ? [1, 1, 1] : [-1, 1, -1];
}
