import fc from 'fast-check';
import { expect, it } from 'vitest';
import { placeBeside } from './guide-steps';

it('the guide stands beside its target wherever there is room, and wholly in the window', () => {
	const window = { width: 1280, height: 800 };
	const size = { width: 380, height: 150 };
	fc.assert(
		fc.property(
			fc.integer({ min: 0, max: 1200 }),
			fc.integer({ min: 0, max: 760 }),
			fc.integer({ min: 10, max: 700 }),
			fc.integer({ min: 10, max: 600 }),
			(left, top, wide, tall) => {
				const target = { left, top, width: Math.min(wide, 1280 - left), height: Math.min(tall, 800 - top) };
				const at = placeBeside(target, size, window);
				const [right, bottom] = [at.left + size.width, at.top + size.height];
				expect(
					Math.min(at.left, at.top, window.width - right, window.height - bottom),
				).toBeGreaterThanOrEqual(8);
				const isApart =
					at.left >= target.left + target.width ||
					right <= target.left ||
					at.top >= target.top + target.height ||
					bottom <= target.top;
				const hasRoom =
					target.top >= 150 + 20 ||
					800 - target.top - target.height >= 150 + 20 ||
					target.left >= 380 + 20 ||
					1280 - target.left - target.width >= 380 + 20;
				if (hasRoom) expect(isApart).toBe(true);
			},
		),
	);
	// What fills the window is covered at a corner only, the lowest there is.
	expect(placeBeside({ left: 0, top: 0, width: 1280, height: 700 }, size, window)).toEqual({
		left: 8,
		top: 800 - 150 - 8,
	});
});
