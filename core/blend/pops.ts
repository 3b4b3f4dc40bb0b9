/** What an eye would catch where one clip gives way to another: jumps of values and of their rates. */
import type { PoseLayout, Target } from '../../player/layout';
import {
	angleBetween,
	conjugate,
	multiply,
	rotationVector,
	type Quaternion,
} from '../../player/maths/quaternion';
import { Player, type BlendSpec, type ClipSet } from '../../player/player';
import { ticksToSeconds } from '../../player/time';
import type { Property } from '../document/types';

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

/** What can pop: switches and colours change at once by design. */
export function poppable({ targets }: PoseLayout): Target[] {
	return targets.filter(({ kind }) => kind === 'number' || kind === 'rotation');
}

/** Rotation vector in degrees that leads from a to b. */
function turn(a: Float64Array, b: Float64Array): readonly number[] {
	return rotationVector(multiply([...b] as Quaternion, conjugate([...a] as Quaternion)));
}

/**
 * The jumps when a clip of a set that has played for `ticks` gives way to another, the largest first; parts that keep
 * still on both sides are left out.
 */
export function blendPops(set: ClipSet, from: string, ticks: number, to: string, blend: BlendSpec): Pop[] {
	const player = new Player(set);
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
	for (const { part, path, kind, at, size } of poppable(set.layout)) {
		const [p0, p1, p2, p3] = [earlier, before, after, later].map((pose) => pose.subarray(at, at + size));
		let [value, rate] = [0, 0];
		if (kind === 'rotation') {
			value = angleBetween(p1, p2);
			const [a, b] = [turn(p0, p1), turn(p2, p3)];
			rate = Math.hypot(...a.map((v, k) => b[k] - v)) / STEP;
		} else {
			for (let k = 0; k < size; k++) {
				value = Math.max(value, Math.abs(p2[k] - p1[k]));
				rate = Math.max(rate, Math.abs(p3[k] - p2[k] - (p1[k] - p0[k])) / STEP);
			}
		}
		if (value > 1e-9 || rate > 1e-6) pops.push({ part, property: path as Property, value, rate });
	}
	return pops.sort((a, b) => b.value - a.value || b.rate - a.rate);
}
