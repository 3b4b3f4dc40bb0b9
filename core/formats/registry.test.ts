import { zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../demo/parcel-slip';
import { makeQuay } from '../../demo/quay';
import { clipsInOrder } from '../document/types';
import { shipGltf } from './gltf/testing';
import { writeProjectFile } from './project/file';
import { writePack } from './project/pack';
import { loadShipper, takeIn } from './loaders';
import { ACCEPTED, formatOf, FORMATS, SHIPPING } from './registry';

const quay = makeQuay();
const text = (value: string) => new TextEncoder().encode(value);
const idOf = (bytes: Uint8Array, name = '') => formatOf(bytes, name)?.id ?? null;
const take = (bytes: Uint8Array, name: string) =>
	takeIn(formatOf(bytes, name), { bytes, name, sha256: 'f'.repeat(64) });

describe('a file is told', () => {
	it('by its bytes, whatever it is called', async () => {
		const glb = (await shipGltf(quay, clipsInOrder(quay).slice(0, 1))).bytes;
		expect(idOf(glb, 'quay.json')).toBe('gltf');
		expect(idOf(writePack(quay, []), 'quay.glb')).toBe('pack');
		expect(idOf(text(writeProjectFile(quay)))).toBe('project');
		expect(idOf(text('{"asset":{"version":"2.0"},"scenes":[]}'), 'model.gltf')).toBe('gltf');
	});

	it('by its name where its bytes leave a choice, or are torn', () => {
		expect(idOf(text('{}'), 'a.gltf')).toBe('gltf');
		expect(idOf(text('{}'), 'a.hillock.json')).toBe('project');
		expect(idOf(text('xx'), 'torn.glb')).toBe('gltf');
		expect(idOf(text('xx'), 'song.txt')).toBe(null);
	});
});

describe('what comes in', () => {
	it('is read by the format that it is told to be', async () => {
		const read = await take(text(writeProjectFile(quay)), 'quay.hillock.json');
		expect(read.ok && read.value.doc.clips).toEqual(quay.clips);
	});

	it.each([
		['a song', text('la la la'), 'song.txt', /no file that can be taken in: there are \.hillock\.json/],
		['a torn model', text('glT'), 'torn.glb', /no glTF file/],
		['a zip of something else', zipSync({ 'a.txt': text('a') }), 'a.zip', /There is no project/],
		['text that is no UTF-8', Uint8Array.of(0x7b, 0xff, 0x7d), 'a.json', /not UTF-8/],
	])('%s is refused with a word', async (_, bytes, name, message) => {
		const read = await take(bytes, name);
		expect(read.ok ? '' : read.problems[0].message).toMatch(message);
	});
});

it('a format is a line of the registry, and nothing else keeps a list of them', async () => {
	expect(new Set(FORMATS.map(({ id }) => id)).size).toBe(FORMATS.length);
	for (const format of SHIPPING) {
		const { id, extensions, ships } = format;
		const doc = ships.spaces?.includes('world') === false ? makeParcelSlip() : quay;
		const shipped = await (await loadShipper(format)).ship(doc, [clipsInOrder(doc)[0]], {});
		expect(format.detect(shipped.bytes)).toBe(2);
		if (format.takes) {
			expect(formatOf(shipped.bytes, `written${extensions[0]}`)?.id).toBe(id);
			expect(ACCEPTED).toContain(extensions[0]);
		}
		for (const file of [
			'cli/export.ts',
			'cli/jobs.ts',
			'cli/program.ts',
			'src/lib/api/openapi.ts',
			'src/lib/server/exports/request.ts',
			'src/lib/ship/ShipChoices.svelte',
			'src/lib/ship/ship-state.svelte.ts',
		])
			expect(readFileSync(file, 'utf8'), file).not.toMatch(new RegExp(`['"]${id}['"]`));
	}
});
