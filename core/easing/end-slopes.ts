/** How steep shapes without handles are at their two ends: analytically, since a difference misses vertical tangents. */
import { bounceContacts } from '../../player/easing/bounce';
import { springSettleSeconds } from '../../player/easing/ease';
import {
	DEFAULT_AMPLITUDE,
	DEFAULT_OVERSHOOT,
	DEFAULT_PERIOD,
	elasticInSlope,
	EXPO_FLOOR,
} from '../../player/easing/families';
import type { FamilyShape, Shape, SpringShape } from '../../player/easing/shape';
import { springOffset } from '../../player/easing/spring';
import { TICKS_PER_SECOND } from '../../player/time';

/** Slopes (progress by progress) at the start and at the end; ±Infinity where a tangent is vertical. */
export type EndSlopes = readonly [start: number, end: number];

/** Derivatives of the closed forms at 0 and 1, of the form that is slow at its start. */
function slopesIn(shape: FamilyShape): EndSlopes {
	switch (shape.family) {
		case 'sine':
			return [0, Math.PI / 2];
		case 'quad':
			return [0, 2];
		case 'cubic':
			return [0, 3];
		case 'quart':
			return [0, 4];
		case 'quint':
			return [0, 5];
		case 'expo': {
			const steepest = (10 * Math.LN2) / (1 - EXPO_FLOOR);
			return [steepest * EXPO_FLOOR, steepest];
		}
		case 'circ':
			return [0, Infinity];
		case 'back':
			return [0, 3 + (shape.overshoot ?? DEFAULT_OVERSHOOT)];
		case 'elastic': {
			const slope = elasticInSlope(shape.amplitude ?? DEFAULT_AMPLITUDE, shape.period ?? DEFAULT_PERIOD);
			return [slope(0), slope(1)];
		}
	}
}

/** Slope between two stops; 0 at a jump. */
const between = (a: { x: number; y: number }, b: { x: number; y: number }) =>
	a.x === b.x ? 0 : (b.y - a.y) / (b.x - a.x);

/** The stops about a place inside a span, as `linear()` takes them: the outermost two go on beyond it. */
function stopsAbout(stops: readonly { x: number; y: number }[], x: 0 | 1): number {
	const after = stops.findIndex((stop) => (x === 0 ? stop.x > x : stop.x >= x));
	const at = after < 0 ? stops.length - 1 : Math.max(1, after);
	return between(stops[at - 1], stops[at]);
}

/** Slopes of an easing that is a function of its progress alone. Steps and holds have none: 0. */
export function easeEndSlopes(shape: Shape): EndSlopes {
	switch (shape.kind) {
		case 'family': {
			const [slow, fast] = slopesIn(shape);
			if (shape.way === 'in-out') return [slow, slow];
			return shape.way === 'in' ? [slow, fast] : [fast, slow];
		}
		case 'bounce': {
			const contacts = bounceContacts(shape.restitution, shape.count);
			const lastArc = 1 - contacts[shape.count - 1];
			// A parabola of height r^(2n) lands as steeply as it left.
			return [0, (4 * shape.restitution ** (2 * shape.count)) / lastArc];
		}
		case 'stops':
			return [stopsAbout(shape.stops, 0), stopsAbout(shape.stops, 1)];
		default:
			return [0, 0];
	}
}

/** The same of a spring from v0 to v1, in value units over the progress of its span of `ticks`. */
export function springEndSlopes(shape: SpringShape, v0: number, v1: number, ticks: number): EndSlopes {
	const away = v0 - v1;
	const span = ticks / TICKS_PER_SECOND;
	const seconds = shape.time === 'real' ? span : springSettleSeconds(shape, v1 - v0) || span;
	const left = springOffset(shape, away, shape.velocity)(seconds);
	// The rate of a spring obeys the same equation: it starts with the velocity, and changes by the acceleration.
	const acceleration = -(shape.stiffness * away + shape.damping * shape.velocity) / shape.mass;
	const rate = springOffset(shape, shape.velocity, acceleration);
	return [shape.velocity * seconds - left, rate(seconds) * seconds - left];
}
