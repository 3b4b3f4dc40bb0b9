/** Triangles of drawings as meshes of a glTF document. */
import type { Buffer, Document, Primitive } from '@gltf-transform/core';
import type { Mesh } from '../../drawing/triangles';
import type { Vec3 } from '../../../player/maths/vector';

/** A mesh in the file's units with y up; where an axis is mirrored, faces keep their outside. */
export function meshWithin(mesh: Mesh, factors: Vec3): Mesh {
	const positions = mesh.positions.map((v, i) => v * factors[i % 3]);
	if (factors.every((f) => f > 0)) return { ...mesh, positions };
	const normals = mesh.normals.map((v, i) => v * Math.sign(factors[i % 3]));
	const indices = mesh.indices.slice();
	for (let i = 0; i < indices.length; i += 3)
		[indices[i + 1], indices[i + 2]] = [indices[i + 2], indices[i + 1]];
	return { ...mesh, positions, normals, indices };
}

/** The same triangles with each corner once, where faces share it with its normal and shade. */
export function welded({ positions, normals, indices, shades }: Mesh): Mesh {
	const places = new Map<string, number>();
	const kept: number[] = [];
	const to = Uint32Array.from({ length: positions.length / 3 }, (_, i) => {
		const at = [...positions.subarray(3 * i, 3 * i + 3), ...normals.subarray(3 * i, 3 * i + 3), shades?.[i]];
		const key = at.join(' ');
		const known = places.get(key);
		if (known !== undefined) return known;
		places.set(key, kept.length);
		kept.push(i);
		return kept.length - 1;
	});
	const of = (array: Float32Array) =>
		Float32Array.from(kept.flatMap((i) => [...array.subarray(3 * i, 3 * i + 3)]));
	return {
		positions: of(positions),
		normals: of(normals),
		indices: indices.map((i) => to[i]),
		shades: shades && Float32Array.from(kept, (i) => shades[i]),
	};
}

/** Two bytes reach so many corners; the last number is none. */
const MOST_SHORT = 65_535;

/** The media type of a picture by its first bytes, where glTF has such; else null. */
export function pictureType(bytes: Uint8Array): 'image/png' | 'image/jpeg' | null {
	if (bytes[0] === 0x89 && bytes[1] === 0x50 && bytes[2] === 0x4e && bytes[3] === 0x47) return 'image/png';
	return bytes[0] === 0xff && bytes[1] === 0xd8 ? 'image/jpeg' : null;
}

/** Places on a picture that covers a flat drawing from corner to corner. */
export function pictureCorners(
	positions: Float32Array,
	[width, height]: Vec3,
	[x, y]: Vec3,
	isDown: boolean,
): Float32Array {
	const corners = new Float32Array((positions.length / 3) * 2);
	for (let i = 0; i < corners.length / 2; i++) {
		const [right, up] = [(positions[3 * i] - x) / width + 0.5, (positions[3 * i + 1] - y) / height + 0.5];
		corners.set([right, isDown ? up : 1 - up], 2 * i);
	}
	return corners;
}

/** Triangles as a primitive of a document. */
export function addTriangles(document: Document, buffer: Buffer, mesh: Mesh): Primitive {
	const { positions, normals, indices, shades } = welded(mesh);
	const vectors = (array: Float32Array) =>
		document
			.createAccessor()
			.setType('VEC3')
			.setArray(array as Float32Array<ArrayBuffer>)
			.setBuffer(buffer);
	const isSmall = positions.length / 3 < MOST_SHORT;
	const primitive = document
		.createPrimitive()
		.setAttribute('POSITION', vectors(positions))
		.setAttribute('NORMAL', vectors(normals))
		.setIndices(
			document
				.createAccessor()
				.setType('SCALAR')
				.setArray(isSmall ? Uint16Array.from(indices) : (indices as Uint32Array<ArrayBuffer>))
				.setBuffer(buffer),
		);
	if (shades) {
		const rows = Float32Array.from({ length: positions.length }, (_, i) => shades[Math.floor(i / 3)]);
		primitive.setAttribute('COLOR_0', vectors(rows));
	}
	return primitive;
}
