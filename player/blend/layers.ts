/** Layers of poses over a pose. */
import type { PoseLayout, Target } from '../layout';
import { conjugate, multiply, slerp, type Quaternion } from '../maths/quaternion';
import { chooseWays, crossfade } from './crossfade';

export interface Layer {
	mode: 'replace' | 'add';
	/** 0…1. */
	weight: number;
	/** Parts that it is for; null for all. */
	mask: ReadonlySet<string> | null;
	pose: Float64Array;
	/** What an added pose counts from: usually its rest pose. */
	reference: Float64Array;
}

/**
 * Lays layers over a base pose, in order, into `out`. Replace fades over; add puts the difference from its reference
 * on top: number + w·Δ, rotation · slerp(1, reference⁻¹ · pose, w), scale · (1 + w·(pose/reference − 1)); switches and
 * colours stay. Throws a RangeError where a reference scale is 0.
 */
export function layOver(
	layout: PoseLayout,
	base: Float64Array,
	layers: readonly Layer[],
	out: Float64Array,
): void {
	if (out !== base) out.set(base);
	const ways = new Int8Array(layout.targets.length);
	for (const layer of layers) {
		const { pose, weight, mask } = layer;
		if (layer.mode === 'add') {
			for (const target of layout.targets)
				if (mask === null || mask.has(target.part)) addTarget(target, layer, out);
			continue;
		}
		const before = out.slice();
		chooseWays(layout, before, pose, ways);
		crossfade(layout, before, pose, weight, ways, out);
		if (mask)
			for (const { part, at, size } of layout.targets)
				if (!mask.has(part)) out.set(before.subarray(at, at + size), at);
	}
}

function addTarget({ part, path, kind, at, size }: Target, layer: Layer, out: Float64Array): void {
	const { pose, reference, weight } = layer;
	if (kind === 'rotation') addRotation(at, layer, out);
	if (kind !== 'number') return;
	for (let k = at; k < at + size; k++) {
		if (path !== 'scale') out[k] += weight * (pose[k] - reference[k]);
		else if (reference[k] !== 0) out[k] *= 1 + weight * (pose[k] / reference[k] - 1);
		else throw new RangeError(`"${part}" has a scale of 0 in the pose that an added layer counts from`);
	}
}

function addRotation(at: number, { pose, reference, weight }: Layer, out: Float64Array): void {
	const rotation = (from: Float64Array) => Array.from(from.subarray(at, at + 4)) as Quaternion;
	const share: Quaternion = [0, 0, 0, 1];
	slerp([0, 0, 0, 1], multiply(conjugate(rotation(reference)), rotation(pose)), weight, share);
	out.set(multiply(rotation(out), share), at);
}
