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
const EXPO_FLOOR = 2 ** -10;

function elasticIn(amplitude: number, period: number): Ease {
	const a = Math.max(1, amplitude);
	const phase = (Math.asin(1 / a) * period) / (2 * Math.PI);
	const raw: Ease = (x) => a * 2 ** (-10 * (1 - x)) * Math.sin(((1 - x - phase) * -2 * Math.PI) / period);
	const offset = raw(0);
	const range = raw(1) - offset;
	return (x) => (raw(x) - offset) / range;
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
