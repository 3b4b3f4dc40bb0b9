import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CubicFromPoint } from './best-cubic';
import { between } from '../../player/testing';

/** A finder that knows samples of a function on (0, 1], each with the same room. */
function knowing(value: (x: number) => number, count: number, room: number): CubicFromPoint {
	const cubic = new CubicFromPoint();
	cubic.begin(value(0));
	for (let i = 1; i <= count; i++) cubic.add(i / count, value(i / count), room);
	return cubic;
}
const worst = (value: (x: number) => number, count: number, at: (x: number) => number) =>
	Math.max(
		...Array.from({ length: count }, (_, i) => Math.abs(at((i + 1) / count) - value((i + 1) / count))),
	);

describe('the best cubic from a point', () => {
	it('is the cubic itself where the samples are one', () => {
		fc.assert(
			fc.property(fc.array(between(-5, 5), { minLength: 4, maxLength: 4 }), (c) => {
				const value = (x: number) => ((c[3] * x + c[2]) * x + c[1]) * x + c[0];
				const cubic = knowing(value, 20, 1e-6);
				expect(cubic.search(20, 1e-6)).toBe(true);
				for (const x of [0, 0.3, 0.77, 1]) expect(cubic.value(x)).toBeCloseTo(value(x), 6);
				expect(cubic.slope(0)).toBeCloseTo(c[1], 5);
				expect(cubic.slope(1)).toBeCloseTo(3 * c[3] + 2 * c[2] + c[1], 5);
			}),
		);
	});

	it('is found where there is one, and no cubic comes nearer than where it is refused', () => {
		const seeds = fc.array(between(-1, 1), { minLength: 3, maxLength: 3 });
		fc.assert(
			fc.property(between(2, 9), seeds, (speed, nudges) => {
				const count = 40;
				const value = (x: number) => Math.sin(speed * x);
				let [low, high] = [0, 4];
				for (let i = 0; i < 40; i++) {
					const room = (low + high) / 2;
					if (knowing(value, count, room).search(count, room)) high = room;
					else low = room;
				}
				const best = knowing(value, count, high);
				expect(best.search(count, high)).toBe(true);
				expect(worst(value, count, (x) => best.value(x))).toBeLessThanOrEqual(high * (1 + 1e-9));
				expect(best.ratio).toBeLessThanOrEqual(1);
				// Any step away from it, large or small, is worse at some sample than what is refused.
				for (const size of [1e-3, 1e-2, 0.1, 1]) {
					const other = (x: number) =>
						best.value(x) + size * high * x * (nudges[0] + nudges[1] * x + nudges[2] * x * x);
					expect(worst(value, count, other)).toBeGreaterThanOrEqual(low * (1 - 1e-6));
				}
			}),
			{ numRuns: 60 },
		);
	});

	it('tells by its error how near a refused length was', () => {
		// A function that is much the same everywhere: half the length errs by about a sixteenth.
		const cubic = knowing(Math.exp, 60, 1e-6);
		expect(cubic.search(60, 1e-6)).toBe(false);
		const whole = cubic.ratio;
		expect(cubic.search(30, 1e-6)).toBe(false);
		expect(whole / cubic.ratio).toBeGreaterThan(8);
		expect(whole / cubic.ratio).toBeLessThan(40);
	});
});
