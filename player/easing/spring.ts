/**
 * A damped spring m·y″ + c·y′ + k·(y − target) = 0 in closed form: under-damped, critical and over-damped.
 * Source: the standard solutions of the damped harmonic oscillator.
 */
import { TICKS_PER_SECOND } from '../time';

export interface SpringParameters {
	mass: number;
	stiffness: number;
	/** Above 0, so that it settles. */
	damping: number;
}

export const MAX_SETTLE_SECONDS = 60;
/** What is left of the travel when a spring counts as settled. */
export const SETTLE_TOLERANCE = 0.001;
const CRITICAL = 1e-9;

/** ζ: below 1 it rings, at 1 and above it does not. */
export function dampingRatio(spring: SpringParameters): number {
	return spring.damping / (2 * Math.sqrt(spring.stiffness * spring.mass));
}

/**
 * The distance from the target, after `seconds`, of a spring that starts `offset` away from it (value − target)
 * with `velocity` in value units a second.
 */
export function springOffset(
	spring: SpringParameters,
	offset: number,
	velocity: number,
): (seconds: number) => number {
	const omega = Math.sqrt(spring.stiffness / spring.mass);
	const zeta = dampingRatio(spring);
	if (Math.abs(zeta - 1) < CRITICAL) {
		const b = velocity + omega * offset;
		return (s) => Math.exp(-omega * s) * (offset + b * s);
	}
	if (zeta < 1) {
		const damped = omega * Math.sqrt(1 - zeta * zeta);
		const b = (velocity + zeta * omega * offset) / damped;
		return (s) => Math.exp(-zeta * omega * s) * (offset * Math.cos(damped * s) + b * Math.sin(damped * s));
	}
	const root = Math.sqrt(zeta * zeta - 1);
	const slow = -omega / (zeta + root);
	const fast = -omega * (zeta + root);
	const b = (velocity - slow * offset) / (fast - slow);
	const a = offset - b;
	return (s) => a * Math.exp(slow * s) + b * Math.exp(fast * s);
}

/** Times of the extrema of a spring's distance: `first + n·period`, or one alone when `period` is 0. */
function extrema(
	spring: SpringParameters,
	offset: number,
	velocity: number,
): { first: number; period: number } {
	const omega = Math.sqrt(spring.stiffness / spring.mass);
	const zeta = dampingRatio(spring);
	if (Math.abs(zeta - 1) < CRITICAL) {
		return { first: 1 / omega - offset / (velocity + omega * offset), period: 0 };
	}
	if (zeta < 1) {
		const rate = zeta * omega;
		const damped = omega * Math.sqrt(1 - zeta * zeta);
		const b = (velocity + rate * offset) / damped;
		const angle = Math.atan2(b * damped - rate * offset, rate * b + offset * damped);
		const period = Math.PI / damped;
		const first = (((angle / damped) % period) + period) % period;
		// One that is let go at rest has an extremum where it starts: the first that counts comes after it.
		return { first: first > 1e-9 * period ? first : first + period, period };
	}
	const root = Math.sqrt(zeta * zeta - 1);
	const slow = -omega / (zeta + root);
	const fast = -omega * (zeta + root);
	const b = (velocity - slow * offset) / (fast - slow);
	const a = offset - b;
	return { first: Math.log((-fast * b) / (slow * a)) / (slow - fast), period: 0 };
}

/**
 * Seconds until a spring stays within `tolerance` (value units) of its target, rounded up to a whole tick, at most
 * 60 s. Between two extrema the distance is monotone, so going back over them and bisecting finds the last crossing.
 */
export function settleSeconds(
	spring: SpringParameters,
	offset: number,
	velocity: number,
	tolerance: number,
): number {
	const distance = springOffset(spring, offset, velocity);
	const away = (s: number) => Math.abs(distance(s)) > tolerance;
	if (away(MAX_SETTLE_SECONDS)) return MAX_SETTLE_SECONDS;
	const { first, period } = extrema(spring, offset, velocity);
	let high = MAX_SETTLE_SECONDS;
	let low = 0;
	if (Number.isFinite(first) && first > 0 && first < high) {
		low = period > 0 ? first + period * Math.floor((high - first) / period) : first;
		if (period > 0) {
			// The amplitude shrinks by the same factor each half-period, so the last extremum outside is a logarithm away.
			const shrink = Math.log(Math.abs(distance(first + period) / distance(first)));
			const last = Math.log(tolerance / Math.abs(distance(first))) / shrink;
			low = Math.min(low, first + period * Math.max(0, Math.ceil(last)));
		}
		while (low > 0 && !away(low)) {
			high = low;
			low = period > 0 && low - period >= first - 1e-12 ? low - period : 0;
		}
	}
	if (!away(low)) return 0;
	for (let i = 0; i < 80 && high - low > 0.01 / TICKS_PER_SECOND; i++) {
		const middle = (low + high) / 2;
		if (away(middle)) low = middle;
		else high = middle;
	}
	return Math.ceil(high * TICKS_PER_SECOND - 0.02) / TICKS_PER_SECOND;
}
