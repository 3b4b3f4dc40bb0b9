/** What reads and writes glTF, with the extensions that files of this application have. */
import { Format, GLB_BUFFER, WebIO, type Document } from '@gltf-transform/core';
import { KHRMaterialsUnlit, KHRNodeVisibility, KHRONOS_EXTENSIONS } from '@gltf-transform/extensions';
import { strFromU8, strToU8 } from 'fflate';
import type { Written } from '../../tracks/ship';
import type { GltfChoices } from './choices';
import { binaryFile, compact } from './compact';
import { AnimationPointer } from './pointer';

export function newIO(): WebIO {
	return new WebIO().registerExtensions([AnimationPointer, KHRMaterialsUnlit, KHRNodeVisibility]);
}

/** Knows whatever the models of a project may have, too. */
export function modelIO(): WebIO {
	return new WebIO().registerExtensions([AnimationPointer, ...KHRONOS_EXTENSIONS]);
}

/** A document as one binary file, or as text with what it refers to beside it. */
export async function writeFiles(
	document: Document,
	{ isSeparate }: Pick<GltfChoices, 'isSeparate'>,
	name: string,
): Promise<Written> {
	if (!isSeparate) {
		const { json, resources } = await modelIO().writeJSON(document, { format: Format.GLB });
		compact(json);
		return { bytes: binaryFile(json, resources[GLB_BUFFER] ?? null) };
	}
	// The library names what stands beside a file by its resources.
	document
		.getRoot()
		.listBuffers()
		.forEach((buffer) => buffer.setURI(`${name}.bin`));
	const { json, resources } = await modelIO().writeJSON(document, { basename: name });
	compact(json);
	return {
		bytes: strToU8(`${JSON.stringify(json)}\n`),
		beside: Object.entries(resources).map(([own, bytes]) => ({ name: own, bytes })),
	};
}

/** Reads what was written. Throws where it cannot be read. */
export function readWritten({ bytes, beside }: Written): Promise<Document> {
	if (!beside || bytes[0] !== 0x7b) return newIO().readBinary(bytes);
	const resources = Object.fromEntries(
		beside.map(({ name, bytes }) => [name, bytes as Uint8Array<ArrayBuffer>]),
	);
	return newIO().readJSON({ json: JSON.parse(strFromU8(bytes)) as never, resources });
}
