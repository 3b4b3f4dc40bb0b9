import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	SETTLE_TOLERANCE,
	settleSeconds,
	springOffset,
	type SpringParameters,
} from '../../player/easing/spring';
import { between } from '../../player/testing';
import { overshootingBy, overshootOf, settlingIn } from './spring-feel';

describe('a spring by feel', () => {
	const springs = fc.record({ mass: between(0.1, 5), stiffness: between(5, 900), damping: between(1, 60) });
	const settles = (spring: SpringParameters) => settleSeconds(spring, -1, 0, SETTLE_TOLERANCE);
	/** How far it is past its goal at most, looked at in many places. */
	function farthest(spring: SpringParameters): number {
		const offset = springOffset(spring, -1, 0);
		// It is farthest in its first swing.
		const end = 4 * Math.PI * Math.sqrt(spring.mass / spring.stiffness);
		let past = 0;
		for (let i = 0; i <= 4000; i++) past = Math.max(past, offset((end * i) / 4000));
		return past;
	}

	it('overshoots as it says', () => {
		fc.assert(
			fc.property(springs, (spring) => {
				expect(farthest(spring)).toBeCloseTo(overshootOf(spring), 3);
			}),
			{ numRuns: 100 },
		);
	});

	it('settles when it is told to and overshoots as before, or the other way about', () => {
		fc.assert(
			fc.property(springs, between(0.1, 20), between(0.002, 0.9), (spring, seconds, overshoot) => {
				const timed = settlingIn(spring, seconds);
				expect(Math.abs(settles(timed) - seconds)).toBeLessThan(2e-3 * seconds);
				expect(overshootOf(timed)).toBeCloseTo(overshootOf(spring), 9);
				const over = overshootingBy(timed, overshoot);
				expect(overshootOf(over)).toBeCloseTo(overshoot, 9);
				expect(Math.abs(settles(over) - seconds)).toBeLessThan(2e-3 * seconds);
				expect(over.mass).toBe(spring.mass);
			}),
			{ numRuns: 300, endOnFailure: true },
		);
		expect(overshootOf(overshootingBy({ mass: 1, stiffness: 200, damping: 12 }, 0))).toBe(0);
	});
});
