/** Triangles of a part's drawing, the same for the stage and for exported files. */
import earcut from 'earcut';
import type { Drawing, Part } from '../document/types';
import type { Space } from '../pose/space';
import type { Vec3 } from '../../player/maths/vector';
import {
	areasOf,
	cardRing,
	ellipseRing,
	pathLines,
	ringsOf,
	signedArea,
	type Area,
	type Line,
	type Point,
} from '../outline/outline';
import { quartered } from './pattern';
import { edgesOf, trimmed } from './stroke';
import type { Mesh } from './triangles';

class MeshBuilder {
	readonly positions: number[] = [];
	readonly normals: number[] = [];
	readonly indices: number[] = [];

	vertex(position: Vec3, normal: Vec3): number {
		this.positions.push(...position);
		this.normals.push(...normal);
		return this.positions.length / 3 - 1;
	}

	/** Four corners, counter-clockwise as seen from the side that the normal points to. */
	quad(corners: readonly Vec3[], normals: Vec3 | readonly Vec3[]): void {
		const isList = Array.isArray(normals[0]);
		const [a, b, c, d] = corners.map((corner, i) =>
			this.vertex(corner, (isList ? (normals as readonly Vec3[])[i] : normals) as Vec3),
		);
		// At a pole two corners meet, and a triangle has no area.
		const apart = (i: number, j: number) => corners[i].some((value, k) => value !== corners[j][k]);
		if (apart(0, 1)) this.indices.push(a, b, c);
		if (apart(2, 3)) this.indices.push(a, c, d);
	}

	finish(offset: Vec3): Mesh {
		const positions = Float32Array.from(this.positions, (value, i) => value + offset[i % 3]);
		return { positions, normals: Float32Array.from(this.normals), indices: Uint32Array.from(this.indices) };
	}
}

function box(builder: MeshBuilder, [w, h, d]: Vec3): void {
	const [x, y, z] = [w / 2, h / 2, d / 2];
	for (let axis = 0; axis < 3; axis++)
		for (const sign of [1, -1]) {
			const half: Vec3 = [x, y, z];
			const [u, v] = sign > 0 ? [(axis + 1) % 3, (axis + 2) % 3] : [(axis + 2) % 3, (axis + 1) % 3];
			const corner = (su: number, sv: number): Vec3 => {
				const p: Vec3 = [0, 0, 0];
				p[axis] = sign * half[axis];
				p[u] = su * half[u];
				p[v] = sv * half[v];
				return p;
			};
			const normal: Vec3 = [0, 0, 0];
			normal[axis] = sign;
			builder.quad([corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)], normal);
		}
}

/** A surface of revolution about y; `profile` from the top down, as radius and height with the normal there. */
function revolve(
	builder: MeshBuilder,
	[w, h, d]: Vec3,
	profile: readonly { r: number; y: number; nr: number; ny: number }[],
	segments: number,
): void {
	const at = (i: number, p: (typeof profile)[number]): { position: Vec3; normal: Vec3 } => {
		const angle = (2 * Math.PI * i) / segments;
		const [c, s] = [Math.cos(angle), Math.sin(angle)];
		const normal: Vec3 = [(p.nr * c) / (w || 1), p.ny / (h || 1), (p.nr * s) / (d || 1)];
		const length = Math.hypot(...normal) || 1;
		return {
			position: [(p.r * c * w) / 2, (p.y * h) / 2, (p.r * s * d) / 2],
			normal: normal.map((n) => n / length) as Vec3,
		};
	};
	for (let j = 0; j + 1 < profile.length; j++) {
		if (profile[j].r === profile[j + 1].r && profile[j].y === profile[j + 1].y) continue;
		for (let i = 0; i < segments; i++) {
			const quad = [
				at(i, profile[j]),
				at(i + 1, profile[j]),
				at(i + 1, profile[j + 1]),
				at(i, profile[j + 1]),
			];
			builder.quad(
				quad.map((corner) => corner.position),
				quad.map((corner) => corner.normal),
			);
		}
	}
}

function ball(segments: number): { r: number; y: number; nr: number; ny: number }[] {
	const rows = segments / 2;
	return Array.from({ length: rows + 1 }, (_, i) => {
		const angle = (Math.PI * i) / rows;
		// The poles are points.
		const [r, y] = [i % rows === 0 ? 0 : Math.sin(angle), Math.cos(angle)];
		return { r, y, nr: r, ny: y };
	});
}
/** Sides about a round body as it is shown; `meshOf` takes fewer, an even number, for bodies that stay small. */
export const SEGMENTS = 32;

const CYLINDER = [
	{ r: 0, y: 1, nr: 0, ny: 1 },
	{ r: 1, y: 1, nr: 0, ny: 1 },
	{ r: 1, y: 1, nr: 1, ny: 0 },
	{ r: 1, y: -1, nr: 1, ny: 0 },
	{ r: 1, y: -1, nr: 0, ny: -1 },
	{ r: 0, y: -1, nr: 0, ny: -1 },
];
const CONE = [
	{ r: 0, y: 1, nr: 2, ny: 1 },
	{ r: 1, y: -1, nr: 2, ny: 1 },
	{ r: 1, y: -1, nr: 0, ny: -1 },
	{ r: 0, y: -1, nr: 0, ny: -1 },
];

function face(builder: MeshBuilder, area: Area, z: number, towards: 1 | -1): void {
	const rings = [area.outer, ...area.holes];
	const flat = rings.flat(2);
	const holes: number[] = [];
	let count = area.outer.length;
	for (const hole of area.holes) {
		holes.push(count);
		count += hole.length;
	}
	const first = builder.positions.length / 3;
	for (let i = 0; i < flat.length; i += 2) builder.vertex([flat[i], flat[i + 1], z], [0, 0, towards]);
	const triangles = earcut(flat, holes);
	for (let i = 0; i < triangles.length; i += 3) {
		const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]];
		const corner = (k: number): Point => [flat[2 * k], flat[2 * k + 1]];
		const turns = signedArea([corner(a), corner(b), corner(c)]) > 0 === towards > 0;
		builder.indices.push(first + a, first + (turns ? b : c), first + (turns ? c : b));
	}
}

function extrude(builder: MeshBuilder, areas: readonly Area[], depth: number): void {
	for (const area of areas) {
		face(builder, area, depth / 2, 1);
		if (depth <= 0) continue;
		face(builder, area, -depth / 2, -1);
		for (const ring of [area.outer, ...area.holes]) {
			const outward = signedArea(ring) > 0 === (ring === area.outer) ? 1 : -1;
			ring.forEach((from, i) => {
				const to = ring[(i + 1) % ring.length];
				const length = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
				const normal: Vec3 = [
					(outward * (to[1] - from[1])) / length,
					(-outward * (to[0] - from[0])) / length,
					0,
				];
				const [a, b] = outward > 0 ? [from, to] : [to, from];
				builder.quad(
					[
						[a[0], a[1], -depth / 2],
						[b[0], b[1], -depth / 2],
						[b[0], b[1], depth / 2],
						[a[0], a[1], depth / 2],
					],
					normal,
				);
			});
		}
	}
}

/** Lines about a flat drawing, upright in either space. Null where it has none. */
function linesOf(drawing: Drawing, space: Space): Line[] | null {
	const ring = (points: Point[]): Line[] => [{ points, closed: true }];
	switch (drawing.kind) {
		case 'plane':
			return ring(cardRing(drawing.size[0], drawing.size[1], 0));
		case 'card':
			return ring(cardRing(drawing.size[0], drawing.size[1], drawing.radius));
		case 'ellipse':
			return ring(ellipseRing(drawing.size[0], drawing.size[1]));
		case 'path':
			return pathLines(drawing.d).map(({ points, closed }) => ({
				closed,
				points: space === 'world' ? points.map(([x, y]): Point => [x, -y]) : points,
			}));
		default:
			return null;
	}
}

function depthOf(drawing: Extract<Drawing, { filled?: boolean }>): number {
	return drawing.kind === 'path' ? drawing.depth : drawing.kind === 'plane' ? 0 : drawing.size[2];
}

/** How far the line about a drawing stands before its face, as a share of its width: else both would flicker. */
const STROKE_LIFT = 0.02;

/** A hollow drawing has one colour, its part's: the line takes it. */
export function strokeColour({ drawing, colour }: Pick<Part, 'drawing' | 'colour'>): string {
	if (!('stroke' in drawing) || !drawing.stroke || drawing.filled === false) return colour;
	return drawing.stroke.colour;
}

/** The mesh of the line about a drawing, as far as it is drawn; null where there is none. Throws as `meshOf` does. */
export function strokeMeshOf(drawing: Drawing, space: Space): Mesh | null {
	if (!('stroke' in drawing) || !drawing.stroke || !(drawing.stroke.width > 0)) return null;
	const { width, start, end } = drawing.stroke;
	const lines = linesOf(drawing, space) ?? [];
	const builder = new MeshBuilder();
	const z = depthOf(drawing) / 2 + STROKE_LIFT * width;
	for (const line of trimmed(lines, start, end)) {
		const { left, right, closed } = edgesOf(line, width);
		for (let i = 0; i + (closed ? 0 : 1) < left.length; i++) {
			const next = (i + 1) % left.length;
			builder.quad(
				[right[i], right[next], left[next], left[i]].map(([x, y]): Vec3 => [x, y, z]),
				[0, 0, 1],
			);
		}
	}
	return builder.indices.length > 0 ? builder.finish(drawing.offset) : null;
}

/**
 * The mesh of a drawing's body, or null where there is nothing to draw. Cards, ellipses, planes and paths lie in x and
 * y and face z; an SVG path is drawn upright in either space; a model stands for its bounds. Throws on a path that
 * cannot be read.
 */
export function meshOf(drawing: Drawing, space: Space, segments = SEGMENTS): Mesh | null {
	if ('filled' in drawing && drawing.filled === false) return null;
	const builder = new MeshBuilder();
	switch (drawing.kind) {
		case 'empty':
		case 'camera':
			return null;
		case 'box':
		case 'model':
			box(builder, drawing.size);
			break;
		case 'ball':
			revolve(builder, drawing.size, ball(segments), segments);
			break;
		case 'cylinder':
			revolve(builder, drawing.size, CYLINDER, segments);
			break;
		case 'cone':
			revolve(builder, drawing.size, CONE, segments);
			break;
		case 'label':
		case 'image':
			extrude(builder, [{ outer: cardRing(drawing.size[0], drawing.size[1], 0), holes: [] }], 0);
			break;
		default: {
			const areas = areasOf(ringsOf(linesOf(drawing, space)!));
			extrude(builder, areas, depthOf(drawing));
		}
	}
	if (builder.indices.length === 0) return null;
	const mesh = builder.finish(drawing.offset);
	return drawing.pattern === 'quarters' ? quartered(mesh, drawing.offset) : mesh;
}
