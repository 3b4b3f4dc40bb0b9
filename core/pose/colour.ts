/** Colours as sRGB red, green, blue, alpha in 0…1, and mixing them in linear light, sRGB or OKLab. */
import type { Four } from './vector';

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
export function oklabFromLinear([r, g, b]: readonly number[]): [number, number, number] {
	const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
	const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
	const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
	return [
		0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
		1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
		0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
	];
}

/** The inverse of `oklabFromLinear`; may lie outside 0…1. */
export function linearFromOklab([lightness, a, b]: readonly number[]): [number, number, number] {
	const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3;
	const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3;
	const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3;
	return [
		4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
		-1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
		-0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
	];
}

const unit = (share: number) => Math.min(1, Math.max(0, share));

/**
 * Mixes two colours at a share x (0 is a, 1 is b; beyond, where a shape overshoots) and writes the result, kept to
 * what can be shown, at `at`. Alpha is mixed as it is.
 */
export function mixColours(
	a: Readonly<Four>,
	b: Readonly<Four>,
	x: number,
	space: ColourSpace,
	out: { [index: number]: number },
	at: number,
): void {
	// Keys are shown exactly as they are.
	if (x === 0 || x === 1) {
		for (let i = 0; i < 4; i++) out[at + i] = (x === 0 ? a : b)[i];
		return;
	}
	out[at + 3] = unit(a[3] + (b[3] - a[3]) * x);
	if (space === 'oklab') {
		const from = oklabFromLinear([linearFromSrgb(a[0]), linearFromSrgb(a[1]), linearFromSrgb(a[2])]);
		const to = oklabFromLinear([linearFromSrgb(b[0]), linearFromSrgb(b[1]), linearFromSrgb(b[2])]);
		const mixed = linearFromOklab(from.map((v, i) => v + (to[i] - v) * x));
		for (let i = 0; i < 3; i++) out[at + i] = unit(srgbFromLinear(mixed[i]));
		return;
	}
	for (let i = 0; i < 3; i++) {
		if (space === 'srgb') out[at + i] = unit(a[i] + (b[i] - a[i]) * x);
		else {
			const from = linearFromSrgb(a[i]);
			out[at + i] = unit(srgbFromLinear(from + (linearFromSrgb(b[i]) - from) * x));
		}
	}
}

/** The shares of a `#rrggbb`, with full alpha. */
export function parseHex(text: string): Four {
	const value = parseInt(text.slice(1), 16);
	return [((value >> 16) & 255) / 255, ((value >> 8) & 255) / 255, (value & 255) / 255, 1];
}

/** `#rrggbb` of a colour at `at`; alpha is not told. */
export function writeHex(colour: ArrayLike<number>, at = 0): string {
	const byte = (i: number) =>
		Math.round(255 * unit(colour[at + i]))
			.toString(16)
			.padStart(2, '0');
	return `#${byte(0)}${byte(1)}${byte(2)}`;
}
