/** Colours as sRGB red, green, blue, alpha in 0…1, and mixing them in linear light, sRGB or OKLab. */
export const COLOUR_SPACES = ['linear', 'srgb', 'oklab'] as const;
/** Where colours between two keys are mixed. */
export type ColourSpace = (typeof COLOUR_SPACES)[number];

/** One sRGB component in linear light. Source: IEC 61966-2-1. */
export function linearFromSrgb(share: number): number {
	const size = Math.abs(share);
	return size <= 0.04045 ? share / 12.92 : Math.sign(share) * ((size + 0.055) / 1.055) ** 2.4;
}

/** The inverse of `linearFromSrgb`. */
export function srgbFromLinear(share: number): number {
	const size = Math.abs(share);
	return size <= 0.0031308 ? 12.92 * share : Math.sign(share) * (1.055 * size ** (1 / 2.4) - 0.055);
}

/** OKLab lightness, a and b of a linear colour. Source: B. Ottosson, "A perceptual color space for image processing". */
export function oklabFromLinear(linear: ArrayLike<number>): [number, number, number] {
	const out: [number, number, number] = [0, 0, 0];
	toOklab(linear[0], linear[1], linear[2], out);
	return out;
}

/** The inverse of `oklabFromLinear`; may lie outside 0…1. */
export function linearFromOklab(lab: ArrayLike<number>): [number, number, number] {
	const out: [number, number, number] = [0, 0, 0];
	fromOklab(lab[0], lab[1], lab[2], out);
	return out;
}

function toOklab(r: number, g: number, b: number, out: { [index: number]: number }): void {
	const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
	const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
	const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
	out[0] = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
	out[1] = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
	out[2] = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
}

function fromOklab(lightness: number, a: number, b: number, out: { [index: number]: number }): void {
	const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3;
	const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3;
	const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3;
	out[0] = 4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s;
	out[1] = -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s;
	out[2] = -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s;
}

function unit(share: number): number {
	return Math.min(1, Math.max(0, share));
}

const fromLab = new Float64Array(3);
const toLab = new Float64Array(3);

/**
 * Mixes the colour at `aAt` in a with the one at `bAt` in b at a share x (0 is a, 1 is b; beyond, where a shape
 * overshoots) and writes the result, kept to what can be shown, at `at`. Alpha is mixed as it is. `out` may be a or b
 * at the same place. Allocates nothing.
 */
export function mixColours(
	a: ArrayLike<number>,
	aAt: number,
	b: ArrayLike<number>,
	bAt: number,
	x: number,
	space: ColourSpace,
	out: { [index: number]: number },
	at: number,
): void {
	// Keys are shown exactly as they are.
	if (x === 0 || x === 1) {
		for (let i = 0; i < 4; i++) out[at + i] = x === 0 ? a[aAt + i] : b[bAt + i];
		return;
	}
	out[at + 3] = unit(a[aAt + 3] + (b[bAt + 3] - a[aAt + 3]) * x);
	if (space === 'oklab') {
		toOklab(linearFromSrgb(a[aAt]), linearFromSrgb(a[aAt + 1]), linearFromSrgb(a[aAt + 2]), fromLab);
		toOklab(linearFromSrgb(b[bAt]), linearFromSrgb(b[bAt + 1]), linearFromSrgb(b[bAt + 2]), toLab);
		for (let i = 0; i < 3; i++) fromLab[i] += (toLab[i] - fromLab[i]) * x;
		fromOklab(fromLab[0], fromLab[1], fromLab[2], toLab);
		for (let i = 0; i < 3; i++) out[at + i] = unit(srgbFromLinear(toLab[i]));
		return;
	}
	for (let i = 0; i < 3; i++) {
		const from = a[aAt + i];
		const to = b[bAt + i];
		if (space === 'srgb') out[at + i] = unit(from + (to - from) * x);
		else {
			const linear = linearFromSrgb(from);
			out[at + i] = unit(srgbFromLinear(linear + (linearFromSrgb(to) - linear) * x));
		}
	}
}
