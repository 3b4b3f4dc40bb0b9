/** The JSON of a glTF file with nothing in it that readers take for granted. Source: glTF 2.0, its properties' defaults. */
import type { GLTF } from '@gltf-transform/core';

/** The shortest decimal that is the same float32. */
export function shortest(value: number): number {
	const wanted = Math.fround(value);
	for (let digits = 1; digits < 9; digits++) {
		const short = Number(wanted.toPrecision(digits));
		if (Math.fround(short) === wanted) return short;
	}
	return Number(wanted.toPrecision(9));
}

const FLOAT = 5126;
const isAll = (values: readonly number[], ...wanted: number[]) => values.every((v, k) => v === wanted[k]);

function compactNode(node: GLTF.INode): void {
	for (const path of ['translation', 'rotation', 'scale'] as const)
		if (node[path]) node[path] = node[path].map(shortest) as never;
	if (node.translation && isAll(node.translation, 0, 0, 0)) delete node.translation;
	if (node.rotation && isAll(node.rotation, 0, 0, 0, 1)) delete node.rotation;
	if (node.scale && isAll(node.scale, 1, 1, 1)) delete node.scale;
}

/** Shortens a file's JSON where it is. */
export function compact(json: GLTF.IGLTF): void {
	for (const accessor of json.accessors ?? []) {
		if (accessor.byteOffset === 0) delete accessor.byteOffset;
		if (accessor.normalized === false) delete accessor.normalized;
		if (accessor.componentType !== FLOAT) continue;
		accessor.min &&= accessor.min.map(shortest);
		accessor.max &&= accessor.max.map(shortest);
	}
	for (const view of json.bufferViews ?? []) if (view.byteOffset === 0) delete view.byteOffset;
	for (const scene of json.scenes ?? [])
		if (scene.nodes?.length === 0) delete (scene as Partial<GLTF.IScene>).nodes;
	for (const node of json.nodes ?? []) compactNode(node);
	for (const { samplers } of json.animations ?? [])
		for (const sampler of samplers) if (sampler.interpolation === 'LINEAR') delete sampler.interpolation;
}

const MAGIC = 0x46546c67;
const VERSION = 2;
const JSON_CHUNK = 0x4e4f534a;
const BINARY_CHUNK = 0x004e4942;
const HEADER = 12;
const CHUNK_HEADER = 8;
const padded = (length: number) => Math.ceil(length / 4) * 4;

/** A binary file of a JSON and what it counts on. Source: glTF 2.0, 4 "GLB File Format Specification". */
export function binaryFile(json: GLTF.IGLTF, numbers: Uint8Array | null): Uint8Array {
	const text = new TextEncoder().encode(JSON.stringify(json));
	const textLength = padded(text.length);
	const total = HEADER + CHUNK_HEADER + textLength + (numbers ? CHUNK_HEADER + padded(numbers.length) : 0);
	const file = new Uint8Array(total);
	const view = new DataView(file.buffer);
	const head = (at: number, ...words: number[]) =>
		words.forEach((word, i) => view.setUint32(at + 4 * i, word, true));
	head(0, MAGIC, VERSION, total);
	head(HEADER, textLength, JSON_CHUNK);
	file.fill(0x20, HEADER + CHUNK_HEADER, HEADER + CHUNK_HEADER + textLength);
	file.set(text, HEADER + CHUNK_HEADER);
	if (numbers) {
		const at = HEADER + CHUNK_HEADER + textLength;
		head(at, padded(numbers.length), BINARY_CHUNK);
		file.set(numbers, at + CHUNK_HEADER);
	}
	return file;
}
