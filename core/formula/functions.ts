/** What formulas can call. Angles in degrees. */
import { DEGREES, RADIANS } from '../../player/maths/quaternion';

export interface FormulaFunction {
	compute: (...args: number[]) => number;
	least: number;
	most: number;
	/** Its arguments in words, for the message when there are too few or too many, and for completion. */
	words: string;
}

function of(words: string, compute: FormulaFunction['compute'], optional = 0): FormulaFunction {
	const most = words.includes('…') ? 20 : words.split(',').length;
	return { compute, least: words.includes('…') ? 1 : most - optional, most, words };
}

/** A number in −1…1 for a whole number and a seed, without any pattern to the eye. */
function scattered(whole: number, seed: number): number {
	let h = Math.imul(whole | 0, 0x27d4eb2d) ^ Math.imul((seed | 0) + 0x9e37, 0x165667b1);
	h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
	h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
	return ((h ^ (h >>> 15)) >>> 0) / 0x80000000 - 1;
}

/** Smooth noise in −1…1 (value noise with Perlin's quintic fade): the same for the same x and seed. */
function noise(x: number, seed = 0): number {
	const from = Math.floor(x);
	const u = x - from;
	const fade = u * u * u * (u * (u * 6 - 15) + 10);
	const a = scattered(from, seed);
	return a + (scattered(from + 1, seed) - a) * fade;
}

function smoothstep(low: number, high: number, x: number): number {
	const u = Math.min(1, Math.max(0, (x - low) / (high - low)));
	return u * u * (3 - 2 * u);
}

export const FUNCTIONS: Readonly<Record<string, FormulaFunction>> = {
	sin: of('degrees', (a) => Math.sin(a * RADIANS)),
	cos: of('degrees', (a) => Math.cos(a * RADIANS)),
	tan: of('degrees', (a) => Math.tan(a * RADIANS)),
	asin: of('x', (a) => Math.asin(a) * DEGREES),
	acos: of('x', (a) => Math.acos(a) * DEGREES),
	atan: of('x', (a) => Math.atan(a) * DEGREES),
	atan2: of('y, x', (y, x) => Math.atan2(y, x) * DEGREES),
	abs: of('x', Math.abs),
	sign: of('x', Math.sign),
	floor: of('x', Math.floor),
	ceil: of('x', Math.ceil),
	round: of('x', Math.round),
	sqrt: of('x', Math.sqrt),
	pow: of('x, power', Math.pow),
	exp: of('x', Math.exp),
	log: of('x', Math.log),
	min: of('a, b, …', Math.min),
	max: of('a, b, …', Math.max),
	clamp: of('x, low, high', (x, low, high) => Math.min(high, Math.max(low, x))),
	mix: of('a, b, share', (a, b, share) => a + (b - a) * share),
	step: of('edge, x', (edge, x) => (x < edge ? 0 : 1)),
	smoothstep: of('low, high, x', smoothstep),
	/** The rest after division, always of the divisor's sign: it goes on evenly through zero. */
	mod: of('x, divisor', (x, divisor) => x - divisor * Math.floor(x / divisor)),
	noise: of('x, seed', noise, 1),
};
