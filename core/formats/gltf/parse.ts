/** glTF files from outside as documents: looked through before anything of them is believed. */
import { shortName } from '../../text';
import { BufferUtils, type Document, type WebIO } from '@gltf-transform/core';
import { strFromU8 } from 'fflate';
import { parseJson } from '../../json';
import { fail, type Result } from '../../result';
import { modelIO, newIO } from './io';
import { soundness } from './sound';

const MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
/** Of a binary file before its JSON. Source: glTF 2.0, 4. */
const HEADERS = 20;

/** The JSON of a binary file; null where it has none. */
function jsonTextOf(bytes: Uint8Array): string | null {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	if (bytes.length < HEADERS || view.getUint32(16, true) !== JSON_CHUNK) return null;
	const length = view.getUint32(12, true);
	return HEADERS + length <= bytes.length ? strFromU8(bytes.subarray(HEADERS, HEADERS + length)) : null;
}

/** What else a file refers to, that is in it; the first that is elsewhere is told. */
function embedded(json: unknown): Result<Record<string, Uint8Array<ArrayBuffer>>> {
	const { buffers = [], images = [] } = json as {
		buffers?: { uri?: unknown }[];
		images?: { uri?: unknown }[];
	};
	const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
	for (const [name, list] of Object.entries({ buffers, images }))
		for (const [i, { uri }] of list.entries()) {
			if (uri === undefined) continue;
			if (typeof uri !== 'string' || !uri.startsWith('data:'))
				return fail(
					`/${name}/${i}/uri`,
					`The file refers to another file (“${shortName(String(uri), 80)}”): import a .glb or embed it.`,
				);
			resources[uri] = BufferUtils.createBufferFromDataURI(uri) as Uint8Array<ArrayBuffer>;
		}
	return { ok: true, value: resources };
}

/** What an error says to a person: the library's own sentences, and none of the language's. */
function sentenceOf(error: unknown): string {
	const isOwn =
		error instanceof Error && error.constructor === Error && /^[\x20-\x7e]{8,200}$/.test(error.message);
	return isOwn ? error.message : 'its numbers are not where it says that they are.';
}

async function parse(io: WebIO, bytes: Uint8Array): Promise<Result<Document>> {
	const isBinary =
		bytes.length >= 4 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) === MAGIC;
	const text = isBinary ? jsonTextOf(bytes) : BufferUtils.decodeText(bytes);
	if (text === null) return fail('', 'This binary glTF file is torn: its description is not in it.');
	const parsed = parseJson(text);
	if (!parsed.ok)
		return fail('', `This is no glTF file, neither binary nor text. ${parsed.problems[0].message}`);
	const sound = soundness(parsed.value);
	if (!sound.ok) return sound;
	try {
		if (isBinary) return { ok: true, value: await io.readBinary(bytes) };
		const resources = embedded(parsed.value);
		if (!resources.ok) return resources;
		return {
			ok: true,
			value: await io.readJSON({ json: parsed.value as never, resources: resources.value }),
		};
	} catch (error) {
		return fail('', `This glTF file cannot be read: ${sentenceOf(error)}`);
	}
}

export function parseGltf(bytes: Uint8Array): Promise<Result<Document>> {
	return parse(newIO(), bytes);
}

/** With all extensions of materials that a file may have: it is to be written again. */
export function parseModel(bytes: Uint8Array): Promise<Result<Document>> {
	return parse(modelIO(), bytes);
}
