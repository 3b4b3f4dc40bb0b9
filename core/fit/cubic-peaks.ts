/** Peaks of a cubic that is known by four of its values. */

/** Shares of a stretch at which a cubic is taken: just inside its ends, since at a jump those show the other side. */
export const NODES = [0.001, 0.334, 0.667, 0.999];

/** Where the cubic through the values at the nodes has its peaks, inside the stretch. */
export function cubicPeaks(p0: number, p1: number, p2: number, p3: number): number[] {
	// Newton's divided differences; the nodes are evenly spaced but for rounding in the third digit.
	const [x0, x1, x2, x3] = NODES;
	const d01 = (p1 - p0) / (x1 - x0);
	const d12 = (p2 - p1) / (x2 - x1);
	const d23 = (p3 - p2) / (x3 - x2);
	const d012 = (d12 - d01) / (x2 - x0);
	const d123 = (d23 - d12) / (x3 - x1);
	const c = (d123 - d012) / (x3 - x0);
	const b = d012;
	const a = d01;
	// Derivative of p0 + a(x−x0) + b(x−x0)(x−x1) + c(x−x0)(x−x1)(x−x2).
	const second = 3 * c;
	const first = 2 * b - 2 * c * (x0 + x1 + x2);
	const zeroth = a - b * (x0 + x1) + c * (x0 * x1 + x0 * x2 + x1 * x2);
	const inside = (u: number) => u > 0 && u < 1;
	if (Math.abs(second) < 1e-12 * (Math.abs(first) + Math.abs(zeroth)))
		return [-zeroth / first].filter(inside);
	const discriminant = first * first - 4 * second * zeroth;
	if (!(discriminant > 0)) return [];
	const q = -0.5 * (first + Math.sign(first || 1) * Math.sqrt(discriminant));
	return [q / second, zeroth / q].filter(inside);
}
