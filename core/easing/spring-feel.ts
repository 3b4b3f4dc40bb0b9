/** Springs by how they feel: how long they take to settle and how far they go past their goal, let go at rest. */
import {
	dampingRatio,
	SETTLE_TOLERANCE,
	settleSeconds,
	type SpringParameters,
} from '../../player/easing/spring';

/** Shares of the travel below which an overshoot counts as no overshoot. */
const LEAST_OVERSHOOT = 0.0005;

/**
 * How far a spring that is let go at rest goes past its goal, as a share of its travel; 0 at ζ ≥ 1.
 * Source: the first extremum of the under-damped solution, exp(−πζ / √(1 − ζ²)).
 */
export function overshootOf(spring: SpringParameters): number {
	const zeta = dampingRatio(spring);
	return zeta < 1 ? Math.exp((-Math.PI * zeta) / Math.sqrt(1 - zeta * zeta)) : 0;
}

/** The same motion so many times as fast, by other stiffness and damping. */
function faster(spring: SpringParameters, factor: number): SpringParameters {
	return {
		mass: spring.mass,
		stiffness: spring.stiffness * factor * factor,
		damping: spring.damping * factor,
	};
}

/** Seconds in which a spring that is let go at rest settles, however slow it is. */
function settlesFromRest(spring: SpringParameters): number {
	// Times go with 1/ω: looked at where it is fast, its settling is far from the most that is looked for.
	const factor = 100 / Math.sqrt(spring.stiffness / spring.mass);
	return settleSeconds(faster(spring, factor), -1, 0, SETTLE_TOLERANCE) * factor;
}

/** The spring that overshoots as this one does and settles in `seconds` (above 0), let go at rest. */
export function settlingIn(spring: SpringParameters, seconds: number): SpringParameters {
	return faster(spring, settlesFromRest(spring) / seconds);
}

/** The spring that settles in the time of this one and overshoots by a share of its travel in [0, 1). */
export function overshootingBy(spring: SpringParameters, overshoot: number): SpringParameters {
	const log = Math.log(overshoot);
	const zeta = overshoot < LEAST_OVERSHOOT ? 1 : -log / Math.hypot(Math.PI, log);
	const damping = 2 * zeta * Math.sqrt(spring.stiffness * spring.mass);
	return settlingIn({ ...spring, damping }, settlesFromRest(spring));
}
