/** What a span does between its two keys: hold, linear, eased, a family, a spring, a bounce, as it is stored. */

export const EASING_FAMILIES = [
	'sine',
	'quad',
	'cubic',
	'quart',
	'quint',
	'expo',
	'circ',
	'back',
	'elastic',
] as const;
export type EasingFamily = (typeof EASING_FAMILIES)[number];

export const EASING_WAYS = ['in', 'out', 'in-out'] as const;
export type EasingWay = (typeof EASING_WAYS)[number];

export const STEP_JUMPS = ['jump-start', 'jump-end', 'jump-none', 'jump-both'] as const;
export type StepJump = (typeof STEP_JUMPS)[number];

export interface HoldShape {
	kind: 'hold';
}
export interface LinearShape {
	kind: 'linear';
}
/** Starts and finishes slowly by amounts in 0…1: cubic Bezier (start, 0, 1 − finish, 1). */
export interface EasedShape {
	kind: 'eased';
	start: number;
	finish: number;
}
/** A body under gravity that starts at rest. */
export interface FallShape {
	kind: 'fall';
}
/** A body under gravity that comes to rest. */
export interface RiseShape {
	kind: 'rise';
}
/** CSS `cubic-bezier(x1, y1, x2, y2)`; x1 and x2 in 0…1. */
export interface BezierShape {
	kind: 'bezier';
	x1: number;
	y1: number;
	x2: number;
	y2: number;
}
/** A time-value Bezier with the handles of the two keys. */
export interface HandlesShape {
	kind: 'handles';
}
export interface FamilyShape {
	kind: 'family';
	family: EasingFamily;
	way: EasingWay;
	/** Back only: how far it overshoots; 1.70158 is 10 % of the travel. */
	overshoot?: number;
	/** Elastic only: at least 1. */
	amplitude?: number;
	/** Elastic only: fraction of the span, above 0. */
	period?: number;
}
/** CSS `steps(count, jump)`. */
export interface StepsShape {
	kind: 'steps';
	count: number;
	jump: StepJump;
}
/** CSS `linear()`: progress at fractions of the span; `x` never falls. */
export interface StopsShape {
	kind: 'stops';
	stops: { x: number; y: number }[];
}
/** A damped spring towards the next key. `time` says whether it runs in seconds or is fitted to the span. */
export interface SpringShape {
	kind: 'spring';
	mass: number;
	stiffness: number;
	damping: number;
	/** Value units a second at the start. */
	velocity: number;
	time: 'real' | 'fitted';
}
/** A body that drops from one value to the next and rebounds `count` times, each `restitution` as fast. */
export interface BounceShape {
	kind: 'bounce';
	restitution: number;
	count: number;
}

/** Orientations only: glTF's cubic spline with the tangents of the two keys. */
export interface TangentsShape {
	kind: 'tangents';
}

export type Shape =
	| HoldShape
	| LinearShape
	| EasedShape
	| FallShape
	| RiseShape
	| BezierShape
	| HandlesShape
	| FamilyShape
	| StepsShape
	| StopsShape
	| SpringShape
	| BounceShape
	| TangentsShape;
