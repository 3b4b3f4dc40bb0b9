/**
 * Inertial blend: the next clip plays at once, and on top of it the offset to the motion before, which decays with the
 * momentum that it had. o(τ) = (1−τ)⁴ · (o₀ + (ȯ₀·d + 4·o₀)·τ), τ = t/d: value and rate are o₀ and ȯ₀ at the start, and value,
 * rate and acceleration end at 0.
 */
import type { PoseLayout } from '../layout';
import { RADIANS } from '../maths/quaternion';

/**
 * Seconds of a decay over at most `seconds`. Where the rate leads back to zero fast, it is shortened to −5·o₀/ȯ₀, so
 * that the offset never crosses zero, though not below `least` seconds.
 */
export function decaySeconds(offset: number, rate: number, seconds: number, least: number): number {
	const crosses = offset !== 0 && rate * offset < 0 ? (-5 * offset) / rate : Infinity;
	return Math.max(Math.min(seconds, crosses), Math.min(least, seconds));
}

/**
 * The offset that is left after t seconds of one with a value and a rate (a second) at the switch; before 0 it is
 * what led up to the switch.
 */
export function offsetAt(offset: number, rate: number, seconds: number, t: number): number {
	if (!(t < seconds)) return 0;
	if (t < 0) return offset + rate * t;
	const u = t / seconds;
	return (1 - u) ** 4 * (offset + (rate * seconds + 4 * offset) * u);
}

/** Four poses about a switch: those of the motion that goes and of the one that comes, a time apart. */
export interface SwitchPoses {
	earlier: Float64Array;
	before: Float64Array;
	afterEarlier: Float64Array;
	after: Float64Array;
}

const difference = new Float64Array(3);

/** Rotation vector in degrees, the short way, that leads from b to a; written into `difference`. */
function turnTo(a: Float64Array, b: Float64Array, at: number): void {
	const bx = -b[at];
	const by = -b[at + 1];
	const bz = -b[at + 2];
	const bw = b[at + 3];
	const ax = a[at];
	const ay = a[at + 1];
	const az = a[at + 2];
	const aw = a[at + 3];
	const x = aw * bx + ax * bw + ay * bz - az * by;
	const y = aw * by - ax * bz + ay * bw + az * bx;
	const z = aw * bz + ax * by - ay * bx + az * bw;
	const w = aw * bw - ax * bx - ay * by - az * bz;
	const sine = Math.sqrt(x * x + y * y + z * z);
	const sign = w < 0 ? -1 : 1;
	const factor = sine < 1e-12 ? 0 : (sign * 2 * Math.atan2(sine, sign * w)) / RADIANS / sine;
	difference[0] = x * factor;
	difference[1] = y * factor;
	difference[2] = z * factor;
}

/** Turns the rotation at `at` on by the rotation vector in `difference`, in degrees. */
function turnOn(pose: Float64Array, at: number): void {
	const vx = difference[0];
	const vy = difference[1];
	const vz = difference[2];
	const angle = Math.sqrt(vx * vx + vy * vy + vz * vz);
	if (angle < 1e-12) return;
	const half = (angle * RADIANS) / 2;
	const scale = Math.sin(half) / angle;
	const ax = vx * scale;
	const ay = vy * scale;
	const az = vz * scale;
	const aw = Math.cos(half);
	const bx = pose[at];
	const by = pose[at + 1];
	const bz = pose[at + 2];
	const bw = pose[at + 3];
	pose[at] = aw * bx + ax * bw + ay * bz - az * by;
	pose[at + 1] = aw * by - ax * bz + ay * bw + az * bx;
	pose[at + 2] = aw * bz + ax * by - ay * bx + az * bw;
	pose[at + 3] = aw * bw - ax * bx - ay * by - az * bz;
}

/**
 * The decays of a whole pose: numbers and rotations decay, switches and colours change at once. Rotations have their
 * rotation vectors in the first three of their places.
 */
export class PoseDecay {
	private readonly offsets: Float64Array;
	private readonly rates: Float64Array;
	private readonly durations: Float64Array;
	/** Seconds until all of it is gone. */
	seconds = 0;

	constructor(private readonly layout: PoseLayout) {
		this.offsets = new Float64Array(layout.rest.length);
		this.rates = new Float64Array(layout.rest.length);
		this.durations = new Float64Array(layout.rest.length);
	}

	/**
	 * What is to decay when a pose that was `before`, and `earlier` `dt` seconds before that, gives way to one that is
	 * `after` and would have been `afterEarlier`. Allocates nothing.
	 */
	begin(poses: SwitchPoses, dt: number, seconds: number, least: number): void {
		const { earlier, before, afterEarlier, after } = poses;
		const { targets } = this.layout;
		this.seconds = 0;
		for (let i = 0; i < targets.length; i++) {
			const { kind, at, size } = targets[i];
			if (kind === 'rotation') {
				turnTo(before, after, at);
				for (let k = 0; k < 3; k++) this.offsets[at + k] = difference[k];
				turnTo(earlier, afterEarlier, at);
				for (let k = 0; k < 3; k++) this.rates[at + k] = (this.offsets[at + k] - difference[k]) / dt;
			} else if (kind === 'number')
				for (let k = at; k < at + size; k++) {
					this.offsets[k] = before[k] - after[k];
					this.rates[k] = (this.offsets[k] - (earlier[k] - afterEarlier[k])) / dt;
				}
			else continue;
			for (let k = at; k < at + size; k++) {
				this.durations[k] = decaySeconds(this.offsets[k], this.rates[k], seconds, least);
				this.seconds = Math.max(this.seconds, this.durations[k]);
			}
		}
	}

	private left(k: number, t: number): number {
		return offsetAt(this.offsets[k], this.rates[k], this.durations[k], t);
	}

	/** Puts what is left after t seconds on a pose. Allocates nothing. */
	addTo(pose: Float64Array, t: number): void {
		const { targets } = this.layout;
		for (let i = 0; i < targets.length; i++) {
			const { kind, at, size } = targets[i];
			if (kind === 'rotation') {
				for (let k = 0; k < 3; k++) difference[k] = this.left(at + k, t);
				turnOn(pose, at);
			} else if (kind === 'number') for (let k = at; k < at + size; k++) pose[k] += this.left(k, t);
		}
	}
}

/** Turns a pose, which another comes after, into what came before it at the same pace. Allocates nothing. */
export function reflect({ targets }: PoseLayout, pose: Float64Array, later: Float64Array): void {
	for (let i = 0; i < targets.length; i++) {
		const { kind, at, size } = targets[i];
		if (kind === 'number') for (let k = at; k < at + size; k++) pose[k] = 2 * pose[k] - later[k];
		else if (kind === 'rotation') {
			turnTo(pose, later, at);
			turnOn(pose, at);
		}
	}
}
