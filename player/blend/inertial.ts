/**
 * Inertial blend: the next clip plays at once, and on top of it the offset to the motion before, which decays with the
 * momentum that it had. o(τ) = (1−τ)⁴ · (o₀ + (ȯ₀·d + 4·o₀)·τ), τ = t/d: value and rate are o₀ and ȯ₀ at the start, and value,
 * rate and acceleration end at 0.
 */
import type { PoseLayout } from '../layout';
import { between, turnBy, turnVector } from '../maths/turn';

/** Seconds within which an offset that crosses zero was at zero: rounding decides nothing. */
const AT_ZERO = 1e-6;

/**
 * Seconds of a decay over at most `seconds`. Where the rate leads back to zero fast, it is shortened to −5·o₀/ȯ₀, so
 * that the offset never crosses zero, though not below `least` seconds.
 */
export function decaySeconds(offset: number, rate: number, seconds: number, least: number): number {
	const reaches = rate * offset < 0 ? (-5 * offset) / rate : 0;
	const crosses = reaches > AT_ZERO ? reaches : Infinity;
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
				between(before, after, at);
				for (let k = 0; k < 3; k++) this.offsets[at + k] = turnVector[k];
				between(earlier, afterEarlier, at);
				for (let k = 0; k < 3; k++) this.rates[at + k] = (this.offsets[at + k] - turnVector[k]) / dt;
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
				for (let k = 0; k < 3; k++) turnVector[k] = this.left(at + k, t);
				turnBy(pose, at);
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
			between(pose, later, at);
			turnBy(pose, at);
		}
	}
}
