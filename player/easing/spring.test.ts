import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { between } from '../testing';
import { SETTLE_TOLERANCE, settleSeconds, springOffset, type SpringParameters } from './spring';
import { overshootingBy, overshootOf, settlingIn } from '../../core/easing/spring-feel';

/** Fourth-order Runge–Kutta on m·y″ = −k·y − c·y′. */
function integrate(m: number, k: number, c: number, y0: number, v0: number, seconds: number): number {
	const steps = 20_000;
	const h = seconds / steps;
	let [y, v] = [y0, v0];
	const acceleration = (y: number, v: number) => (-k * y - c * v) / m;
	for (let i = 0; i < steps; i++) {
		const [a1, b1] = [v, acceleration(y, v)];
		const [a2, b2] = [v + (h / 2) * b1, acceleration(y + (h / 2) * a1, v + (h / 2) * b1)];
		const [a3, b3] = [v + (h / 2) * b2, acceleration(y + (h / 2) * a2, v + (h / 2) * b2)];
		const [a4, b4] = [v + h * b3, acceleration(y + h * a3, v + h * b3)];
		y += (h / 6) * (a1 + 2 * a2 + 2 * a3 + a4);
		v += (h / 6) * (b1 + 2 * b2 + 2 * b3 + b4);
	}
	return y;
}

const SPRINGS = [
	{ name: 'rings', mass: 1, stiffness: 100, damping: 4 },
	{ name: 'is critical', mass: 2, stiffness: 50, damping: 20 },
	{ name: 'creeps', mass: 1, stiffness: 30, damping: 25 },
];

describe.each(SPRINGS)('a spring that $name', ({ mass, stiffness, damping }) => {
	const spring = { mass, stiffness, damping };
	it('agrees with numerical integration', () => {
		const offset = springOffset(spring, -3, 7);
		for (const s of [0.1, 0.5, 1.3, 2]) {
			expect(offset(s)).toBeCloseTo(integrate(mass, stiffness, damping, -3, 7, s), 8);
		}
	});

	it.each([0, 7, -40])(
		'is settled from its settling time on, and not just before, at %s a second',
		(velocity) => {
			const tolerance = 0.003;
			const settled = settleSeconds(spring, -3, velocity, tolerance);
			const offset = springOffset(spring, -3, velocity);
			expect(settled).toBeGreaterThan(0.1);
			expect(Math.abs(offset(settled - 2 / 72_000))).toBeGreaterThan(tolerance);
			for (let i = 0; i < 5000; i++)
				expect(Math.abs(offset(settled + i * 0.002))).toBeLessThanOrEqual(tolerance);
		},
	);
});

it('a spring at its target without velocity is settled at once', () => {
	expect(settleSeconds(SPRINGS[0], 0, 0, 0.001)).toBe(0);
});

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
		expect(overshootOf(overshootingBy(SPRINGS[0], 0))).toBe(0);
	});
});
