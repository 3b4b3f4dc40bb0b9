import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { readClips } from '../../../player/file/read';
import type { PageData } from '../../../player/page/looks';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import type { Drawing } from '../../document/drawing';
import { clipsInOrder, type Doc } from '../../document/types';
import { loadShipper, takeIn } from '../loaders';
import { formatOf, shippingFormat } from '../registry';

const format = shippingFormat('player')!;
async function written(doc: Doc) {
	const shipped = await (await loadShipper(format)).ship(doc, clipsInOrder(doc).slice(0, 3), {});
	const files = unzipSync(shipped.bytes);
	const text = (name: string) => strFromU8(files[name]);
	/** What stands on the page between the tags of an id. */
	const onPage = (id: string) =>
		JSON.parse(new RegExp(`id="${id}">([\\s\\S]*?)</script>`).exec(text('index.html'))![1]) as unknown;
	return { ...shipped, files, text, onPage };
}

describe('a clip file with its player', () => {
	it('holds the file, the player with its types, a page with the same file, and a readme', async () => {
		const { files, text, onPage } = await written(makeParcelSlip());
		expect(Object.keys(files)).toEqual(
			expect.arrayContaining([
				'parcel-slip.clips.json',
				'parcel-slip.clips.d.ts',
				'hillock-player.js',
				'hillock-player-dom.js',
				'hillock-player-three.js',
				'hillock-player.d.ts',
				'types/index.d.ts',
				'index.html',
				'README.md',
			]),
		);
		expect(onPage('clip-file')).toEqual(JSON.parse(text('parcel-slip.clips.json')));
		expect(text('README.md').split('\n').length).toBeLessThan(26);
		expect(/<script[^>]* src|<link[^>]*href="(?!data:)/.exec(text('index.html'))).toBeNull();
	});

	it('names of any kind neither end the page nor write on it, and find their parts again', async () => {
		const odd = '</script><b id="x">&amp; "é"';
		const slip = makeParcelSlip();
		const parts = { ...slip.parts, slip: { ...slip.parts.slip, name: odd } };
		const { onPage, text } = await written({ ...slip, parts, project: { ...slip.project, name: odd } });
		expect(text('index.html').includes('<b id')).toBe(false);
		expect((onPage('page-data') as PageData).title).toBe(odd);
		expect(readClips(onPage('clip-file')).parts.map(({ name }) => name)).toContain(odd);
	});

	it('draws what it can and says what it draws plainer', async () => {
		const quay = makeQuay();
		const label: Drawing = { kind: 'label', text: 'harbour', size: [1, 1, 0], offset: [0, 0, 0] };
		const parts = { ...quay.parts, buoy: { ...quay.parts.buoy, drawing: label } };
		const { plainer, onPage } = await written({ ...quay, parts });
		expect(plainer).toEqual(['buoy: its label is a plain card']);
		const { looks } = onPage('page-data') as PageData;
		const sizes = looks.map(({ solids = [] }) =>
			solids.reduce((sum, { indices }) => sum + indices.length, 0),
		);
		expect(sizes.filter((size) => size > 0).length).toBeGreaterThan(20);
		for (const { solids = [] } of looks)
			for (const { positions, indices, normals } of solids) {
				expect(Math.max(...indices)).toBeLessThan(positions.length / 3);
				expect(normals.length).toBe(positions.length);
			}
	});

	it('has the same bytes each time, and is known for what it is when it comes back', async () => {
		const doc = makeQuay();
		const [{ bytes }, again] = [await written(doc), await written(doc)];
		expect(again.bytes).toEqual(bytes);
		const found = formatOf(bytes, 'quay.player.zip');
		expect(found?.id).toBe('player');
		expect(await takeIn(found, { bytes, name: 'quay', sha256: '' })).toMatchObject({
			ok: false,
			problems: [{ message: expect.stringMatching(/Clip file with player: such a file holds what leaves/) }],
		});
	});
});
