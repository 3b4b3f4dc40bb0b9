/** What an eye would catch where one clip gives way to another: jumps of values and of their rates. */
import { DRAWING_PROPERTIES, POSE_STRIDE, slotOffset } from '../clip/compile';
import { componentsOf, type Doc, type Property } from '../document/types';
import type { Vec3 } from '../pose/vector';
import {
	angleBetween,
	conjugate,
	fromEuler,
	multiply,
	rotationVector,
	type Quaternion,
} from '../pose/quaternion';
import { ticksToSeconds } from '../time';
import { Player, type BlendSpec } from './player';

export interface Pop {
	part: string;
	property: Property;
	/** Jump of the value at the switch: units of the project, degrees of a turn, factors. */
	value: number;
	/** Jump of its rate, a second. */
	rate: number;
}

/** Seconds over which rates are measured on both sides. */
const STEP = 1 / 480;
/** Properties with their places in a pose. */
export const GROUPS: readonly { property: Property; at: number; size: number }[] = (
	['translation', 'rotation', 'scale', 'opacity', ...DRAWING_PROPERTIES] as const
).map((property) => {
	const components = componentsOf(property);
	return { property, at: slotOffset(property, components[0]), size: components.length };
});

/** Rotation vector in degrees that leads from a to b. */
function turn(a: Quaternion, b: Quaternion): Vec3 {
	return rotationVector(multiply(b, conjugate(a)));
}

/**
 * The jumps when a clip that has played for `ticks` gives way to another, the largest first; parts that keep still on
 * both sides are left out.
 */
export function blendPops(doc: Doc, from: string, ticks: number, to: string, blend: BlendSpec): Pop[] {
	const player = new Player(doc);
	player.play({ clip: from, blend: { kind: 'cut', seconds: 0 } });
	player.seek(Math.max(0, ticksToSeconds(ticks) - STEP));
	const earlier = player.pose.slice();
	player.advance(STEP);
	const before = player.pose.slice();
	player.play({ clip: to, blend });
	player.advance(0);
	const after = player.pose.slice();
	player.advance(STEP);
	const later = player.pose;
	const pops: Pop[] = [];
	player.parts.forEach((part, i) => {
		for (const { property, at, size } of GROUPS) {
			const [p0, p1, p2, p3] = [earlier, before, after, later].map((pose) =>
				pose.subarray(i * POSE_STRIDE + at, i * POSE_STRIDE + at + size),
			);
			let [value, rate] = [0, 0];
			if (property === 'rotation') {
				const [q0, q1, q2, q3] = [p0, p1, p2, p3].map((euler) => fromEuler(euler, part.eulerOrder));
				value = angleBetween(q1, q2);
				const [a, b] = [turn(q0, q1), turn(q2, q3)];
				rate = Math.hypot(...a.map((v, k) => b[k] - v)) / STEP;
			} else {
				for (let k = 0; k < size; k++) {
					value = Math.max(value, Math.abs(p2[k] - p1[k]));
					rate = Math.max(rate, Math.abs(p3[k] - p2[k] - (p1[k] - p0[k])) / STEP);
				}
			}
			if (value > 1e-9 || rate > 1e-6) pops.push({ part: part.id, property, value, rate });
		}
	});
	return pops.sort((a, b) => b.value - a.value || b.rate - a.rate);
}
