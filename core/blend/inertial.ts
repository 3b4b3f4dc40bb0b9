/**
 * Inertial blend: the next clip plays at once, and what it was apart from the motion before decays with the momentum
 * that it had. o(τ) = (1−τ)⁴ · (o₀ + (ȯ₀·d + 4·o₀)·τ), τ = t/d: value and rate are o₀ and ȯ₀ at the start, and value,
 * rate and acceleration end at 0.
 */
import { DRAWING_OFFSET, POSE_STRIDE } from '../clip/compile';
import type { Part } from '../document/types';
import {
	closestEuler,
	conjugate,
	fromEuler,
	multiply,
	RADIANS,
	rotationVector,
	toEuler,
	type Quaternion,
} from '../pose/quaternion';

/** An offset that decays: its value and rate at the switch, and the seconds that it takes. */
export interface Decay {
	offset: number;
	/** A second. */
	rate: number;
	seconds: number;
}

/**
 * A decay over at most `seconds`. Where the rate leads back to zero fast, it is shortened to −5·o₀/ȯ₀, so that the
 * offset never crosses zero, though not below `least` seconds.
 */
export function decayOf(offset: number, rate: number, seconds: number, least: number): Decay {
	const crosses = offset !== 0 && rate * offset < 0 ? (-5 * offset) / rate : Infinity;
	return { offset, rate, seconds: Math.max(Math.min(seconds, crosses), Math.min(least, seconds)) };
}

/** The offset that is left after t seconds. */
export function offsetAt({ offset, rate, seconds }: Decay, t: number): number {
	if (!(t < seconds)) return 0;
	const u = t / seconds;
	return (1 - u) ** 4 * (offset + (rate * seconds + 4 * offset) * u);
}

function fromRotationVector(v: readonly number[]): Quaternion {
	const angle = Math.hypot(...v);
	if (angle < 1e-12) return [0, 0, 0, 1];
	const half = (angle * RADIANS) / 2;
	const scale = Math.sin(half) / angle;
	return [v[0] * scale, v[1] * scale, v[2] * scale, Math.cos(half)];
}

const ROTATION = 3;
/** Translation, rotation, scale, opacity and what the drawing has decay; switches and colours change at once. */
const SLOTS = Array.from({ length: POSE_STRIDE }, (_, k) => k).filter((k) => k < 10 || k >= DRAWING_OFFSET);

/** The decays of a whole pose, by slot; rotations hold their rotation vectors where their angles would stand. */
export type PoseDecay = readonly Decay[];

/**
 * What is to decay when a pose that was `before`, and `earlier` a short time `dt` (seconds) before that, gives way to
 * one that is `after` and would have been `afterEarlier`.
 */
export function poseDecay(
	parts: readonly Part[],
	poses: { earlier: Float64Array; before: Float64Array; afterEarlier: Float64Array; after: Float64Array },
	dt: number,
	seconds: number,
	least: number,
): PoseDecay {
	const { earlier, before, afterEarlier, after } = poses;
	const decays: Decay[] = [];
	parts.forEach((part, i) => {
		const at = i * POSE_STRIDE;
		const turn = (a: Float64Array, b: Float64Array) => {
			const to = fromEuler(b.subarray(at + ROTATION, at + ROTATION + 3), part.eulerOrder);
			const from = fromEuler(a.subarray(at + ROTATION, at + ROTATION + 3), part.eulerOrder);
			return rotationVector(multiply(from, conjugate(to)));
		};
		const [now, then] = [turn(before, after), turn(earlier, afterEarlier)];
		for (const k of SLOTS) {
			const isTurn = k >= ROTATION && k < ROTATION + 3;
			const o = isTurn ? now[k - ROTATION] : before[at + k] - after[at + k];
			const o1 = isTurn ? then[k - ROTATION] : earlier[at + k] - afterEarlier[at + k];
			decays.push(decayOf(o, (o - o1) / dt, seconds, least));
		}
	});
	return decays;
}

/** Puts what is left of a decay after t seconds on a pose. */
export function addDecay(parts: readonly Part[], decay: PoseDecay, t: number, pose: Float64Array): void {
	parts.forEach((part, i) => {
		const at = i * POSE_STRIDE;
		const own = decay.slice(i * SLOTS.length, (i + 1) * SLOTS.length);
		SLOTS.forEach((k, n) => {
			if (k < ROTATION || k >= ROTATION + 3) pose[at + k] += offsetAt(own[n], t);
		});
		const left = own.slice(ROTATION, ROTATION + 3).map((d) => offsetAt(d, t));
		if (left.every((v) => v === 0)) return;
		const now = pose.subarray(at + ROTATION, at + ROTATION + 3);
		const turned = multiply(fromRotationVector(left), fromEuler(now, part.eulerOrder));
		pose.set(closestEuler(toEuler(turned, part.eulerOrder), now, part.eulerOrder), at + ROTATION);
	});
}
