/** glTF files from outside as documents. */
import { BufferUtils, type Document, type WebIO } from '@gltf-transform/core';
import { parseJson } from '../../json';
import { fail, type Result } from '../../result';
import { modelIO, newIO } from './io';

async function parse(io: WebIO, bytes: Uint8Array): Promise<Result<Document>> {
	try {
		if (bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46) {
			return { ok: true, value: await io.readBinary(bytes) };
		}
		const parsed = parseJson(BufferUtils.decodeText(bytes));
		if (!parsed.ok)
			return fail('', `This is no glTF file, neither binary nor text. ${parsed.problems[0].message}`);
		const json = parsed.value as { buffers?: { uri?: string }[]; images?: { uri?: string }[] };
		const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
		for (const [i, { uri }] of [...(json.buffers ?? []), ...(json.images ?? [])].entries()) {
			if (uri === undefined) continue;
			if (!uri.startsWith('data:')) {
				return fail(
					`/buffers/${i}/uri`,
					`The file refers to another file ("${uri}"): import a .glb or embed it.`,
				);
			}
			resources[uri] = BufferUtils.createBufferFromDataURI(uri) as Uint8Array<ArrayBuffer>;
		}
		return { ok: true, value: await io.readJSON({ json: parsed.value as never, resources }) };
	} catch (error) {
		return fail(
			'',
			`This is no glTF file that can be read: ${error instanceof Error ? error.message : String(error)}`,
		);
	}
}

export function parseGltf(bytes: Uint8Array): Promise<Result<Document>> {
	return parse(newIO(), bytes);
}

/** With all extensions of materials that a file may have: it is to be written again. */
export function parseModel(bytes: Uint8Array): Promise<Result<Document>> {
	return parse(modelIO(), bytes);
}
