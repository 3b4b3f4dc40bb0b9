/** A pose laid over another one. */
import type { PoseLayout, Target } from '../layout';
import { between, turnBy, turnVector } from '../maths/turn';
import { chooseWays, mixTarget } from './crossfade';

export type LayerMode = 'replace' | 'add';

/** Which targets of a layout belong to some parts: 1 for each that does. */
export function partsOf({ targets }: PoseLayout, parts: readonly string[]): Uint8Array {
	return Uint8Array.from(targets, ({ part }) => (parts.includes(part) ? 1 : 0));
}

/**
 * Lays a pose over `out`, by a weight (0…1), in the targets that are its own (null for all). Replace fades over; add
 * puts the difference from the rest pose on top: number + w·Δ, rotation · slerp(1, rest⁻¹ · pose, w),
 * scale · (1 + w·(pose/rest − 1)), or where the rest scale is 0 and there is no factor, its difference; switches and
 * colours stay. `ways` is written over. Allocates nothing.
 */
export function layOver(
	layout: PoseLayout,
	mode: LayerMode,
	pose: Float64Array,
	weight: number,
	own: Uint8Array | null,
	ways: Int8Array,
	out: Float64Array,
): void {
	const { targets, rest } = layout;
	if (mode === 'replace') chooseWays(layout, out, pose, ways);
	for (let i = 0; i < targets.length; i++) {
		if (own !== null && own[i] === 0) continue;
		if (mode === 'replace') mixTarget(targets[i], out, pose, weight, ways[i], out);
		else if (targets[i].kind === 'rotation') addRotation(targets[i].at, pose, rest, weight, out);
		else if (targets[i].kind === 'number') addNumbers(targets[i], pose, rest, weight, out);
	}
}

function addNumbers(
	{ path, at, size }: Target,
	pose: Float64Array,
	rest: Float64Array,
	weight: number,
	out: Float64Array,
): void {
	for (let k = at; k < at + size; k++) {
		if (path === 'scale' && rest[k] !== 0) out[k] *= 1 + weight * (pose[k] / rest[k] - 1);
		else out[k] += weight * (pose[k] - rest[k]);
	}
}

/** Turns a rotation on, in its own axes, by a share of the turn that leads from rest to a pose. */
function addRotation(
	at: number,
	pose: Float64Array,
	rest: Float64Array,
	weight: number,
	out: Float64Array,
): void {
	between(pose, rest, at, true);
	for (let k = 0; k < 3; k++) turnVector[k] *= weight;
	turnBy(out, at, true);
}
