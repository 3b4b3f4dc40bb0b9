/** What pointers lead to, and what stands below a part's node: read by readers that know nothing of this application. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eased, hold, linear, ONCE, ProjectBuilder } from '../../../demo/builder';
import { linearFromSrgb } from '../../../player/maths/colour';
import { between } from '../../../player/testing';
import { TICKS_PER_SECOND } from '../../../player/time';
import { colourIn } from '../../clip/layout';
import { setValue } from '../../edits/keys';
import { putNumber } from '../../edits/own-numbers';
import { clipsInOrder, type Doc } from '../../document/types';
import { tellLeftOut } from '../../tracks/report';
import { shownAt } from '../../testing';
import { readGltf } from './read';
import { jsonOf, readChannels } from './foreign.testing';
import { shipGltf } from './testing';

const flag = (space: 'interface' | 'world' = 'interface') =>
	new ProjectBuilder('Flag', space, 60)
		.part('flag', {
			kind: 'card',
			size: [80, 40, 0],
			radius: 4,
			stroke: { width: 2, colour: '#102030', start: 0, end: 1 },
		})
		.part('eye', { kind: 'camera', fieldOfView: 40 })
		.startClip('wave', 60, ONCE);

describe('beside the places of nodes, a file says', () => {
	it('colour and opacity as one factor of a material of its own, of the line too', async () => {
		const shape = fc.constantFrom(linear, hold, eased(0.5, 0.5), eased(0.1, 0.8));
		await fc.assert(
			fc.asyncProperty(
				fc.array(fc.tuple(between(0, 1), shape), { minLength: 2, maxLength: 4 }),
				fc.array(fc.tuple(fc.constantFrom('#c8452c', '#2f6f8f', '#ffffff', '#000000'), shape), {
					minLength: 1,
					maxLength: 3,
				}),
				fc.constantFrom('linear' as const, 'srgb' as const, 'oklab' as const),
				async (fades, colours, colourSpace) => {
					const builder = flag().keys(
						'flag',
						'opacity',
						fades.map(([v, own], i) => [i * 20, v, own]),
					);
					builder.colours(
						'flag',
						colours.map(([hex, own], i) => [i * 25, hex, own]),
					);
					const made = builder.build();
					const mixed = Object.values(made.channels).map((own) =>
						own.property === 'colour' ? { ...own, colourSpace } : own,
					);
					const doc: Doc = { ...made, channels: Object.fromEntries(mixed.map((own) => [own.id, own])) };
					const { bytes, clips } = await shipGltf(doc, clipsInOrder(doc), { bounds: { relative: 0.002 } });
					expect(clips[0].leftOut).toEqual([]);
					const [body, line] = (await readChannels(bytes)).filter(({ there }) => there);
					expect([body.to, line.to]).toEqual([
						expect.stringMatching(/^\/materials\/\d+\/pbrMetallicRoughness\/baseColorFactor$/),
						expect.stringMatching(/^\/materials\/\d+\/pbrMetallicRoughness\/baseColorFactor$/),
					]);
					expect((body.there as number[]).length).toBe(4);
					const bound = clips[0].tracks.find(({ path }) => path === 'colour')!.bound;
					for (let i = 0; i < 31; i++) {
						const seconds = (i + 0.37) / 31;
						const { posed, number } = shownAt(doc, clipsInOrder(doc)[0].id, seconds * TICKS_PER_SECOND);
						const [r, g, b, a] = colourIn(posed, doc.parts.flag);
						const meant = [...[r, g, b].map(linearFromSrgb), a * number('flag', 'opacity')];
						body
							.at(seconds)
							.forEach((v, k) => expect(Math.abs(v - meant[k])).toBeLessThanOrEqual(1.001 * bound + 1e-6));
						expect(Math.abs(line.at(seconds)[3] - meant[3])).toBeLessThanOrEqual(1.001 * bound + 1e-6);
					}
				},
			),
			{ numRuns: 25 },
		);
	});

	it('size as the scale of a drawing that others do not hang on, and a camera’s field of view', async () => {
		const doc = flag()
			.part('bird', { kind: 'card', size: [5, 5, 0], radius: 0 }, { parent: 'flag' })
			.keys('flag', 'size.x', [
				[0, 80, eased(0.5, 0.5)],
				[60, 200],
			])
			.keys('eye', 'fieldOfView', [
				[0, 40, linear],
				[60, 70],
			])
			.build();
		const { bytes, clips, plainer } = await shipGltf(doc, clipsInOrder(doc), {});
		expect([clips[0].leftOut, plainer]).toEqual([[], ['flag: its round corners stretch with its size']]);
		const [size, field] = await readChannels(bytes);
		const json = jsonOf(bytes);
		const node = json.nodes.find(({ name }) => name === 'flag')!;
		expect([node.mesh, node.children!.map((i) => json.nodes[i].name).sort()]).toEqual([
			undefined,
			['bird', 'flag · drawing'],
		]);
		expect(size.to).toBe('flag · drawing/scale');
		expect([field.to, field.there]).toEqual([
			'/cameras/0/perspective/yfov',
			expect.closeTo((40 * Math.PI) / 180, 6),
		]);
		for (const seconds of [0, 0.21, 0.53, 1]) {
			const { number } = shownAt(doc, clipsInOrder(doc)[0].id, seconds * TICKS_PER_SECOND);
			expect(size.at(seconds)[0] * 80).toBeCloseTo(number('flag', 'size', 'x'), 0);
			expect((field.at(seconds)[0] * 180) / Math.PI).toBeCloseTo(number('eye', 'fieldOfView'), 1);
		}
		const read = await readGltf(bytes, 'back');
		const back = (read as { value: { doc: Doc } }).value.doc;
		const eye = Object.values(back.channels).find(({ property }) => property === 'fieldOfView')!;
		expect(eye.keys.map(({ v }) => v)).toEqual([expect.closeTo(40, 4), expect.closeTo(70, 4)]);
	});

	it('numbers of one’s own as nodes, whose names no part has', async () => {
		const plain = flag()
			.part('flag · blur', { kind: 'empty' })
			.keys('flag', 'opacity', [[0, 1]])
			.build();
		const named = putNumber(plain, 'flag', {
			key: 'n3',
			name: 'blur',
			unit: 'px',
			low: 0,
			high: 9,
			value: 4,
		});
		const at = { clip: 'wave', part: 'flag', property: 'custom', component: 'n3' } as const;
		const doc = setValue(setValue(named, at, 0, 1), at, TICKS_PER_SECOND, 7);
		const { bytes } = await shipGltf(doc, clipsInOrder(doc), { switches: { curvesOnly: true } });
		const [own] = await readChannels(bytes);
		expect(own.to).toBe('flag · blur 2/translation');
		expect([own.at(0)[0], own.at(1)[0]]).toEqual([1, 7]);
	});

	it('opacity so that it is read back, and nothing of drawings that are not in it', async () => {
		const doc = flag()
			.keys('flag', 'opacity', [
				[0, 1, linear],
				[30, 0.25, hold],
				[60, 0.5],
			])
			.build();
		const { bytes } = await shipGltf(doc, clipsInOrder(doc), {});
		expect(jsonOf(bytes).extensionsUsed!.sort()).toEqual(['KHR_animation_pointer', 'KHR_materials_unlit']);
		expect(jsonOf(bytes).extensionsRequired).toBeUndefined();
		const read = await readGltf(bytes, 'back');
		const back = (read as { value: { doc: Doc } }).value.doc;
		const clip = clipsInOrder(back)[0];
		const part = Object.values(back.parts).find(({ name }) => name === 'flag')!;
		for (const seconds of [0.1, 0.25, 0.49, 0.6, 0.99])
			expect(shownAt(back, clip.id, seconds * TICKS_PER_SECOND).number(part.id, 'opacity')).toBeCloseTo(
				shownAt(doc, clipsInOrder(doc)[0].id, seconds * TICKS_PER_SECOND).number('flag', 'opacity'),
				3,
			);
		const bare = await shipGltf(doc, clipsInOrder(doc), { switches: { curvesOnly: true } });
		expect(bare.clips[0].leftOut.map(tellLeftOut)).toEqual([
			'flag / opacity: a file of curves only has no drawings',
		]);
	});

	it('each within the bound of other numbers, where that is set', async () => {
		const doc = flag()
			.keys('flag', 'opacity', [
				[0, 1, { kind: 'family', family: 'elastic', way: 'out' }],
				[60, 0.1],
			])
			.build();
		const shipped = async (number?: number) => {
			const { clips } = await shipGltf(doc, clipsInOrder(doc), { bounds: { relative: 0.1, number } });
			return clips[0].tracks.find(({ path }) => path === 'colour')!;
		};
		const [wide, narrow] = [await shipped(), await shipped(0.002)];
		expect([wide.bound > 0.05, narrow.bound]).toEqual([true, 0.002]);
		expect(narrow.error).toBeLessThanOrEqual(0.002);
		expect(narrow.keys).toBeGreaterThan(wide.keys);
	});

	it('a part that nobody sees, which fades, without a word or a hole', async () => {
		const builder = flag().keys('flag', 'opacity', [
			[0, 1],
			[60, 0],
		]);
		const doc = builder.build();
		const hidden = { ...doc, parts: { ...doc.parts, flag: { ...doc.parts.flag, visible: false } } };
		const { clips } = await shipGltf(hidden, clipsInOrder(hidden), {});
		expect(clips[0].tracks.map(({ path }) => path)).toEqual(['colour', 'stroke']);
	});
});
