/** The line about a flat drawing as a ribbon: any share of its way, corners mitred. */
import type { Line, Point } from '../outline/outline';

/** A mitre is at most this many half widths long; sharper corners are cut shorter. */
const LONGEST_MITRE = 3;

function lengthsOf({ points, closed }: Line): number[] {
	const lengths = points.slice(1).map(([x, y], i) => Math.hypot(x - points[i][0], y - points[i][1]));
	const [first, last] = [points[0], points.at(-1)!];
	if (closed) lengths.push(Math.hypot(first[0] - last[0], first[1] - last[1]));
	return lengths;
}

/** The stretch of some lines, taken one after the other, between two shares (0…1) of their length in all. */
export function trimmed(lines: readonly Line[], start: number, end: number): Line[] {
	if (start <= 0 && end >= 1) return [...lines];
	if (!(end > start)) return [];
	const total = lines.reduce((sum, line) => sum + lengthsOf(line).reduce((a, b) => a + b, 0), 0);
	const [from, to] = [Math.max(0, start) * total, Math.min(1, end) * total];
	const found: Line[] = [];
	let passed = 0;
	for (const line of lines) {
		const points: Point[] = [];
		lengthsOf(line).forEach((length, i) => {
			const [a, b] = [line.points[i], line.points[(i + 1) % line.points.length]];
			const [low, high] = [(from - passed) / length, (to - passed) / length];
			passed += length;
			if (!(length > 0) || high <= 0 || low >= 1) return;
			const at = (u: number): Point => [a[0] + (b[0] - a[0]) * u, a[1] + (b[1] - a[1]) * u];
			if (points.length === 0) points.push(at(Math.max(0, low)));
			points.push(at(Math.min(1, high)));
		});
		if (points.length >= 2) found.push({ points, closed: false });
	}
	return found;
}

/** The left and right edge of a line of a width, point by point. Points that repeat their neighbour are left out. */
export function edgesOf(
	{ points, closed }: Line,
	width: number,
): { left: Point[]; right: Point[]; closed: boolean } {
	const way = points.filter(([x, y], i) => {
		const before = i > 0 ? points[i - 1] : closed ? points.at(-1)! : null;
		return !before || Math.hypot(x - before[0], y - before[1]) > 1e-9;
	});
	const count = way.length;
	const left: Point[] = [];
	const right: Point[] = [];
	/** The unit vector to the left of the stretch after a point. */
	const aside = (i: number): Point => {
		const [a, b] = [way[i], way[(i + 1) % count]];
		const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
		return [-(b[1] - a[1]) / length, (b[0] - a[0]) / length];
	};
	for (let i = 0; i < count && count >= 2; i++) {
		const after = i < count - 1 || closed ? aside(i) : aside(i - 1);
		const before = i > 0 ? aside(i - 1) : closed ? aside(count - 1) : after;
		const middle: Point = [before[0] + after[0], before[1] + after[1]];
		const square = middle[0] * middle[0] + middle[1] * middle[1];
		// The mitre reaches 2/|before + after|² times their sum; where the line turns back it is cut square.
		const reach = square > 1e-9 ? Math.min(2 / square, LONGEST_MITRE / Math.sqrt(square)) : 0;
		const [dx, dy] = reach > 0 ? [middle[0] * reach, middle[1] * reach] : before;
		left.push([way[i][0] + (dx * width) / 2, way[i][1] + (dy * width) / 2]);
		right.push([way[i][0] - (dx * width) / 2, way[i][1] - (dy * width) / 2]);
	}
	return { left, right, closed: closed && count > 2 };
}
