/** What a span does between its keys, as a function of its progress: the closed forms of all shapes that have one. */
import { bounceEase } from './bounce';
import { familyEase } from './families';
import type { Shape, SpringShape } from './shape';
import { SETTLE_TOLERANCE, settleSeconds, springOffset, type SpringParameters } from './spring';
import { stepsEase, stopsEase } from './steps';

/** Seconds after which a spring over `change` stays within 0.1 % of it (of a unit's, for a kick with no change). */
export function springSettleSeconds(shape: SpringShape, change: number): number {
	const travel = Math.abs(change) || Math.abs(shape.velocity) / Math.sqrt(shape.stiffness / shape.mass) || 1;
	return settleSeconds(shape, -change, shape.velocity, SETTLE_TOLERANCE * travel);
}

/** The values of a spring that starts at v0 with its velocity and has come to v1 after some seconds, over that time's progress. */
export function springValue(
	spring: SpringParameters & { velocity: number },
	v0: number,
	v1: number,
	seconds: number,
): (x: number) => number {
	const offset = springOffset(spring, v0 - v1, spring.velocity);
	// A ramp takes up what is left at the end, so that the span meets its key.
	const left = offset(seconds);
	return (x) => v1 + offset(x * seconds) - left * x;
}

/** Progress in, progress out. Throws an Error for shapes that are no function of their progress alone. */
export function easeOf(shape: Shape): (x: number) => number {
	switch (shape.kind) {
		case 'family':
			return familyEase(shape);
		case 'steps':
			return stepsEase(shape.count, shape.jump);
		case 'stops':
			return stopsEase(shape.stops);
		case 'bounce':
			return bounceEase(shape.restitution, shape.count);
		default:
			throw new Error(`no easing function for ${shape.kind}`);
	}
}
