import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Four } from './vector';
import { between } from '../testing';
import { linearFromOklab, linearFromSrgb, mixColours, oklabFromLinear, srgbFromLinear } from './colour';

const share = between(0, 1);
const colour = fc.tuple(share, share, share, share).map((all): Four => [...all]);
function mixed(a: Four, b: Four, x: number, space: 'linear' | 'srgb' | 'oklab'): number[] {
	const out = [9, 9, 0, 0, 0, 0, 9];
	mixColours(a, 0, b, 0, x, space, out, 2);
	// What lies beside it is left alone.
	expect([out[0], out[1], out[6]]).toEqual([9, 9, 9]);
	return out.slice(2, 6);
}

describe('colours', () => {
	it('go to linear light by the curve of the standard, and back', () => {
		// IEC 61966-2-1: the straight part ends at 0.04045; half of sRGB is a good fifth of the light.
		expect(linearFromSrgb(0.04)).toBeCloseTo(0.04 / 12.92, 12);
		expect(linearFromSrgb(0.5)).toBeCloseTo(0.214041, 6);
		expect([linearFromSrgb(0), linearFromSrgb(1)]).toEqual([0, 1]);
		fc.assert(
			fc.property(between(-1.5, 1.5), (v) => {
				expect(srgbFromLinear(linearFromSrgb(v))).toBeCloseTo(v, 7);
				// The same way on both sides of black.
				expect(linearFromSrgb(-v)).toBeCloseTo(-linearFromSrgb(v), 12);
			}),
		);
	});

	it.each([
		['white', [1, 1, 1], [1, 0, 0]],
		['red', [1, 0, 0], [0.62796, 0.22486, 0.12585]],
		['green', [0, 1, 0], [0.86644, -0.23389, 0.1795]],
		['blue', [0, 0, 1], [0.45201, -0.03246, -0.31153]],
	])('have the published place of %s in OKLab', (_, linear, lab) => {
		oklabFromLinear(linear).forEach((v, k) => expect(v).toBeCloseTo(lab[k], 4));
	});

	it('come back from OKLab', () => {
		fc.assert(
			fc.property(colour, (c) => {
				linearFromOklab(oklabFromLinear(c)).forEach((v, k) => expect(v).toBeCloseTo(c[k], 6));
			}),
		);
	});

	it('are mixed in the space that is asked for', () => {
		const bytes = (from: number[], to: number[], space: 'srgb' | 'linear' | 'oklab') =>
			mixed([...from, 1] as unknown as Four, [...to, 1] as unknown as Four, 0.5, space).map((v) =>
				Math.round(255 * v),
			);
		const [black, white, red, blue] = [
			[0, 0, 0],
			[1, 1, 1],
			[1, 0, 0],
			[0, 0, 1],
		];
		expect(bytes(black, white, 'srgb')).toEqual([0x80, 0x80, 0x80, 255]);
		expect(bytes(black, white, 'linear')).toEqual([0xbc, 0xbc, 0xbc, 255]);
		expect(bytes(black, white, 'oklab')).toEqual([0x63, 0x63, 0x63, 255]);
		expect(bytes(red, blue, 'srgb')).toEqual([0x80, 0, 0x80, 255]);
		expect(bytes(red, blue, 'oklab')).toEqual([0x8c, 0x53, 0xa2, 255]);
	});

	it('are what they are at the ends, stay in sight where a shape overshoots, and fade evenly', () => {
		const spaces = fc.constantFrom('linear' as const, 'srgb' as const, 'oklab' as const);
		fc.assert(
			fc.property(colour, colour, between(-0.5, 1.5), spaces, (a, b, x, space) => {
				expect(mixed(a, b, 0, space)).toEqual(a);
				expect(mixed(a, b, 1, space)).toEqual(b);
				const there = mixed(a, b, x, space);
				expect(there.every((v) => v >= 0 && v <= 1)).toBe(true);
				expect(there[3]).toBeCloseTo(Math.min(1, Math.max(0, a[3] + (b[3] - a[3]) * x)), 12);
				mixed(b, a, 1 - x, space).forEach((v, k) => expect(v).toBeCloseTo(there[k], 6));
			}),
		);
	});
});
