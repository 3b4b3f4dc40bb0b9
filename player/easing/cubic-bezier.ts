/**
 * The unit cubic Bezier of CSS Easing Level 2, §2.2: P0 = (0, 0), P3 = (1, 1), and the solution of x(u) = x that
 * handle spans share.
 */

const TOLERANCE = 1e-12;

/**
 * The parameter u in 0…1 where ((a·u + b)·u + c)·u = x, for an x-polynomial that never falls, to 1e-12.
 * Halley's method (cubic convergence), kept inside a shrinking bracket by bisection.
 */
export function solveMonotoneCubic(a: number, b: number, c: number, x: number): number {
	if (x <= 0) return 0;
	if (x >= 1) return 1;
	let low = 0;
	let high = 1;
	let u = x;
	for (let i = 0; i < 64; i++) {
		const error = ((a * u + b) * u + c) * u - x;
		if (error > TOLERANCE) high = u;
		else if (error < -TOLERANCE) low = u;
		else return u;
		const slope = (3 * a * u + 2 * b) * u + c;
		const bend = 3 * a * u + b;
		const next = u - (error * slope) / (slope * slope - error * bend);
		u = next > low && next < high ? next : (low + high) / 2;
		if (high - low < 1e-15) return u;
	}
	return u;
}

/** CSS `cubic-bezier(x1, y1, x2, y2)` as progress in, progress out. Inputs outside 0…1 are clamped. */
export function cubicBezier(x1: number, y1: number, x2: number, y2: number): (x: number) => number {
	const ax = 1 + 3 * (x1 - x2);
	const bx = 3 * (x2 - 2 * x1);
	const cx = 3 * x1;
	const ay = 1 + 3 * (y1 - y2);
	const by = 3 * (y2 - 2 * y1);
	const cy = 3 * y1;
	return (x) => {
		if (x <= 0) return 0;
		if (x >= 1) return 1;
		const u = solveMonotoneCubic(ax, bx, cx, x);
		return ((ay * u + by) * u + cy) * u;
	};
}
