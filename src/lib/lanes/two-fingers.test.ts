import { expect, it } from 'vitest';
import { TwoFingers } from './two-fingers';

it('two fingers zoom by how far they are apart and scroll with their middle; one or a third does neither', () => {
	const fingers = new TwoFingers();
	fingers.down({ id: 1, x: 100, y: 50 });
	expect(fingers.move({ id: 1, x: 120, y: 50 })).toBeNull();
	fingers.down({ id: 2, x: 220, y: 60 });
	expect(fingers.areDown).toBe(true);
	// From 100 apart to 200.
	expect(fingers.move({ id: 2, x: 320, y: 80 })).toEqual({ zoom: 0.5, x: 220, dx: 50, dy: 10 });
	fingers.down({ id: 3, x: 0, y: 0 });
	expect(fingers.move({ id: 3, x: 50, y: 0 })).toBeNull();
	// Side by side or one above the other they zoom no further.
	expect(fingers.move({ id: 2, x: 121, y: 80 })!.zoom).toBeCloseTo(200 / 24, 9);
	expect(fingers.move({ id: 2, x: 110, y: 80 })!.zoom).toBe(1);
	fingers.up(2);
	expect([fingers.areDown, fingers.move({ id: 1, x: 0, y: 0 })]).toEqual([false, null]);
});
