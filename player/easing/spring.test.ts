import { describe, expect, it } from 'vitest';
import { settleSeconds, springOffset } from './spring';

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
