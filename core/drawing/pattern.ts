/** Quarters of a mesh, darker in turn, so that turning shows on what is round. */
import type { Vec3 } from '../../player/maths/vector';
import type { Mesh } from './triangles';

/** A corner: position and normal. */
type Corner = readonly [number, number, number, number, number, number];

/** What is left of a dark quarter's colour, in linear light. */
export const DARK = 0.45;
const FLAT = 1e-9;

function between(a: Corner, b: Corner, u: number): Corner {
	return a.map((v, k) => v + (b[k] - v) * u) as unknown as Corner;
}

/** Triangles cut along a plane through a place, so that each lies on one side of it. */
function cut(triangles: readonly (readonly Corner[])[], axis: number, at: number): (readonly Corner[])[] {
	return triangles.flatMap((triangle) => {
		const sides = triangle.map((corner) => corner[axis] - at);
		if (!(Math.min(...sides) < -FLAT && Math.max(...sides) > FLAT)) return [triangle];
		const polygons: Corner[][] = [[], []];
		triangle.forEach((corner, i) => {
			const next = (i + 1) % 3;
			if (sides[i] >= 0) polygons[0].push(corner);
			if (sides[i] <= 0) polygons[1].push(corner);
			if (sides[i] * sides[next] >= 0) return;
			// From the lower side, so that both triangles of an edge are cut at the very same place.
			const [low, high] = sides[i] < 0 ? [i, next] : [next, i];
			const crossing = between(triangle[low], triangle[high], sides[low] / (sides[low] - sides[high]));
			polygons[0].push(crossing);
			polygons[1].push(crossing);
		});
		return polygons.flatMap((polygon) =>
			polygon.slice(2).map((corner, i) => [polygon[0], polygon[i + 1], corner]),
		);
	});
}

/** The same surface cut at the three planes through `centre`, every other part of it dark. */
export function quartered({ positions, normals, indices }: Mesh, centre: Vec3): Mesh {
	const cornerOf = (i: number): Corner => [
		positions[3 * i],
		positions[3 * i + 1],
		positions[3 * i + 2],
		normals[3 * i],
		normals[3 * i + 1],
		normals[3 * i + 2],
	];
	let triangles: (readonly Corner[])[] = [];
	for (let i = 0; i < indices.length; i += 3)
		triangles.push([cornerOf(indices[i]), cornerOf(indices[i + 1]), cornerOf(indices[i + 2])]);
	for (const axis of [0, 1, 2]) triangles = cut(triangles, axis, centre[axis]);
	const corners = triangles.flat();
	const shades = triangles.flatMap((triangle) => {
		const negative = [0, 1, 2].filter(
			(axis) => triangle.reduce((sum, corner) => sum + corner[axis] - centre[axis], 0) < -FLAT,
		);
		return new Array<number>(3).fill(negative.length % 2 === 1 ? DARK : 1);
	});
	return {
		positions: Float32Array.from(corners.flatMap((corner) => corner.slice(0, 3))),
		normals: Float32Array.from(
			corners.flatMap((corner) => {
				const length = Math.hypot(corner[3], corner[4], corner[5]) || 1;
				return corner.slice(3).map((v) => v / length);
			}),
		),
		indices: Uint32Array.from(corners, (_, i) => i),
		shades: Float32Array.from(shades),
	};
}
