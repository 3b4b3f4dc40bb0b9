/** How a pose that was read differs from the one that was meant. */
import type { PoseLayout, Target } from '$player/layout';
import { angleBetween, slerp } from '$player/maths/quaternion';

/** How far a target is off: the largest of its numbers, of rotations the angle in degrees. */
export function errorOf({ kind, at, size }: Target, meant: Float64Array, read: Float64Array): number {
	if (kind === 'angles') return 0;
	if (kind === 'rotation') return angleBetween(meant.subarray(at, at + 4), read.subarray(at, at + 4));
	let error = 0;
	for (let k = at; k < at + size; k++) error = Math.max(error, Math.abs(meant[k] - read[k]));
	return error;
}

/** Writes a pose as many times as far off as the one that was read; switches are as they were read. */
export function exaggerate(
	{ targets }: PoseLayout,
	meant: Float64Array,
	read: Float64Array,
	factor: number,
	out: Float64Array,
): void {
	out.set(read);
	if (factor === 1) return;
	for (const { kind, at, size } of targets) {
		if (kind === 'switch') continue;
		if (kind === 'rotation') {
			const turned = out.subarray(at, at + 4);
			slerp(meant.subarray(at, at + 4), read.subarray(at, at + 4), factor, turned);
			const length = Math.hypot(...turned);
			for (let k = 0; k < 4; k++) turned[k] /= length;
			continue;
		}
		for (let k = at; k < at + size; k++) out[k] = meant[k] + factor * (read[k] - meant[k]);
	}
}
