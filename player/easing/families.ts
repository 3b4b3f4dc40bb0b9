/**
 * The easing families in their common closed forms, normalised so that f(0) = 0 and f(1) = 1 exactly.
 * Only the "in" form of each family is written; "out" and "in-out" are its reflections.
 */
import type { EasingFamily, FamilyShape } from './shape';

export const DEFAULT_OVERSHOOT = 1.70158;
export const DEFAULT_AMPLITUDE = 1;
export const DEFAULT_PERIOD = 0.3;

type Ease = (x: number) => number;

/** 2^(−10) is what the raw exponential leaves at x = 0. */
export const EXPO_FLOOR = 2 ** -10;

/** The elastic family before it is normalised: its value at x, and its slope. */
function rawElastic(amplitude: number, period: number): { value: Ease; slope: Ease } {
	const a = Math.max(1, amplitude);
	const turns = (2 * Math.PI) / period;
	const phase = Math.asin(1 / a) / turns;
	const angle = (x: number) => (1 - x - phase) * -turns;
	const size = (x: number) => a * 2 ** (-10 * (1 - x));
	return {
		value: (x) => size(x) * Math.sin(angle(x)),
		slope: (x) => size(x) * (10 * Math.LN2 * Math.sin(angle(x)) + turns * Math.cos(angle(x))),
	};
}

function elasticIn(amplitude: number, period: number): Ease {
	const { value } = rawElastic(amplitude, period);
	const offset = value(0);
	const range = value(1) - offset;
	return (x) => (value(x) - offset) / range;
}

/** The slope of the elastic family in its "in" form. */
export function elasticInSlope(amplitude: number, period: number): Ease {
	const { value, slope } = rawElastic(amplitude, period);
	const range = value(1) - value(0);
	return (x) => slope(x) / range;
}

function easeIn(family: EasingFamily, shape: FamilyShape): Ease {
	switch (family) {
		case 'sine':
			return (x) => 1 - Math.cos((x * Math.PI) / 2);
		case 'quad':
			return (x) => x * x;
		case 'cubic':
			return (x) => x * x * x;
		case 'quart':
			return (x) => x ** 4;
		case 'quint':
			return (x) => x ** 5;
		case 'expo':
			return (x) => (2 ** (10 * (x - 1)) - EXPO_FLOOR) / (1 - EXPO_FLOOR);
		case 'circ':
			return (x) => 1 - Math.sqrt(1 - x * x);
		case 'back': {
			const s = shape.overshoot ?? DEFAULT_OVERSHOOT;
			return (x) => x * x * ((s + 1) * x - s);
		}
		case 'elastic':
			return elasticIn(shape.amplitude ?? DEFAULT_AMPLITUDE, shape.period ?? DEFAULT_PERIOD);
	}
}

/** Progress in 0…1 to progress, for a family, its way and its parameters. */
export function familyEase(shape: FamilyShape): Ease {
	const ease = easeIn(shape.family, shape);
	const directed: Ease =
		shape.way === 'in'
			? ease
			: shape.way === 'out'
				? (x) => 1 - ease(1 - x)
				: (x) => (x < 0.5 ? ease(2 * x) / 2 : 1 - ease(2 - 2 * x) / 2);
	return (x) => (x <= 0 ? 0 : x >= 1 ? 1 : directed(x));
}
