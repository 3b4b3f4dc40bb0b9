/** Flat outlines: SVG paths, rounded cards and ellipses as rings of points. */
import { SVGPathData } from 'svg-pathdata';

export type Point = [number, number];
/** A filled area: its outer ring and its holes. */
export interface Area {
	outer: Point[];
	holes: Point[][];
}

const CURVE_STEPS = 12;
const MAX_POINTS = 20_000;
/** Units from the pivot: beyond it single precision, which pictures are drawn in, loses the shape. */
const MAX_REACH = 1e6;

function cubicPoint(p: readonly Point[], u: number): Point {
	const v = 1 - u;
	const w = [v * v * v, 3 * v * v * u, 3 * v * u * u, u * u * u];
	return [0, 1].map((axis) => w.reduce((sum, weight, i) => sum + weight * p[i][axis], 0)) as Point;
}

/** Points in a row, and whether the last joins the first. */
export interface Line {
	points: Point[];
	closed: boolean;
}

/** Lines of an SVG path, curves in short straight pieces. Throws when the text is no path, or one beyond the limits. */
export function pathLines(d: string): Line[] {
	const commands = new SVGPathData(d).toAbs().normalizeHVZ(false).normalizeST().qtToC().aToC().commands;
	const lines: Line[] = [];
	let points: Point[] = [];
	let at: Point = [0, 0];
	let total = 0;
	const end = (closed: boolean) => {
		if (!points.every(([x, y]) => Math.abs(x) <= MAX_REACH && Math.abs(y) <= MAX_REACH))
			throw new Error(`The path reaches further than ${MAX_REACH} from its pivot.`);
		if (points.length >= 2) lines.push({ points, closed });
		points = [];
	};
	for (const command of commands) {
		if (command.type === SVGPathData.MOVE_TO) {
			end(false);
			at = [command.x, command.y];
			points.push(at);
			continue;
		}
		// After a closed line the next one goes on from where that began.
		if (points.length === 0 && command.type !== SVGPathData.CLOSE_PATH) points.push(at);
		if (command.type === SVGPathData.LINE_TO) {
			at = [command.x, command.y];
			points.push(at);
		} else if (command.type === SVGPathData.CURVE_TO) {
			const handles: Point[] = [
				at,
				[command.x1, command.y1],
				[command.x2, command.y2],
				[command.x, command.y],
			];
			for (let i = 1; i <= CURVE_STEPS; i++) points.push(cubicPoint(handles, i / CURVE_STEPS));
			at = handles[3];
		} else if (command.type === SVGPathData.CLOSE_PATH) {
			if (points[0]) at = points[0];
			end(true);
		}
		total += CURVE_STEPS;
		if (total > MAX_POINTS) throw new Error(`The path has more than ${MAX_POINTS} points.`);
	}
	end(false);
	return lines;
}

/** Rings that lines enclose: open ones are closed. */
export function ringsOf(lines: readonly Line[]): Point[][] {
	return lines.map(({ points }) => distinct(points)).filter((ring) => ring.length >= 3);
}

export function signedArea(ring: readonly Point[]): number {
	let sum = 0;
	for (let i = 0; i < ring.length; i++) {
		const [ax, ay] = ring[i];
		const [bx, by] = ring[(i + 1) % ring.length];
		sum += ax * by - bx * ay;
	}
	return sum / 2;
}

function contains(ring: readonly Point[], [x, y]: Point): boolean {
	let inside = false;
	for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
		const [ax, ay] = ring[i];
		const [bx, by] = ring[j];
		if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
	}
	return inside;
}

/** Areas by the even-odd rule: a ring within an odd number of others is a hole of the smallest around it. */
export function areasOf(rings: readonly Point[][]): Area[] {
	const sorted = [...rings].sort((a, b) => Math.abs(signedArea(b)) - Math.abs(signedArea(a)));
	const areas = new Map<Point[], Area>();
	sorted.forEach((ring, i) => {
		const around = sorted.slice(0, i).filter((other) => contains(other, ring[0]));
		const owner = around.length % 2 === 1 ? areas.get(around.at(-1)!) : undefined;
		if (owner) owner.holes.push(ring);
		else areas.set(ring, { outer: ring, holes: [] });
	});
	return [...areas.values()];
}

export function ellipseRing(width: number, height: number, segments = 48): Point[] {
	return Array.from({ length: segments }, (_, i) => {
		const angle = (2 * Math.PI * i) / segments;
		return [(Math.cos(angle) * width) / 2, (Math.sin(angle) * height) / 2];
	});
}

export function cardRing(width: number, height: number, radius: number): Point[] {
	const r = Math.min(radius, width / 2, height / 2);
	if (r <= 0) {
		const [x, y] = [width / 2, height / 2];
		return [
			[x, y],
			[-x, y],
			[-x, -y],
			[x, -y],
		];
	}
	const ring: Point[] = [];
	const corners = [
		[1, 1],
		[-1, 1],
		[-1, -1],
		[1, -1],
	];
	corners.forEach(([sx, sy], corner) => {
		for (let i = 0; i <= 8; i++) {
			const angle = (corner + i / 8) * (Math.PI / 2);
			ring.push([sx * (width / 2 - r) + Math.cos(angle) * r, sy * (height / 2 - r) + Math.sin(angle) * r]);
		}
	});
	return distinct(ring);
}

/** A ring without points that repeat their neighbour. */
function distinct(ring: readonly Point[]): Point[] {
	return ring.filter(([x, y], i) => {
		const [px, py] = ring.at(i - 1)!;
		return Math.hypot(x - px, y - py) > 1e-9;
	});
}
