import { describe, expect, it } from 'vitest';
import { eased, linear, ProjectBuilder, type KeyRow } from '../../demo/builder';
import { loadShipper } from '../formats/loaders';
import { shippingFormat } from '../formats/registry';
import { gltfShipping } from '../formats/gltf/shipping';
import { shipGltf } from '../formats/gltf/testing';
import { worstShare } from './report';
import { shipClips, type Shipping } from './ship';

const swing = (space: 'world' | 'interface', rows: KeyRow[], path = 'translation.x') =>
	new ProjectBuilder('Swing', space, 30)
		.part('crate', { kind: 'box', size: [1, 1, 1] })
		.startClip('swing', 30)
		.keys('crate', path, rows)
		.build();
const ELASTIC: KeyRow[] = [
	[0, 0, { kind: 'family', family: 'elastic', way: 'out' }],
	[30, 40],
];

describe('a file that leaves', () => {
	const doc = swing('world', ELASTIC);
	const clips = [doc.clips.swing];

	it.each<[string, Partial<Shipping>, RegExp]>([
		[
			'does not say what was meant',
			{
				readBack: async (bytes, prepared) => {
					const read = await gltfShipping.readBack(bytes, prepared);
					return new Map(
						[...read].map(([id, sampler]) => [
							id,
							{ ...sampler, values: sampler.values.map((v, i) => (i % 9 === 0 ? v + 0.2 : v)) },
						]),
					);
				},
			},
			/swing · crate · translation: read back with an error of/,
		],
		['lacks a track', { readBack: async () => new Map() }, /read back with an error of Infinity/],
		['its own standard refuses', { problems: async () => ['NOT_NICE at /'] }, /1 errors: NOT_NICE/],
	])('is held back where it %s', async (_, broken, message) => {
		await expect(shipClips({ ...gltfShipping, ...broken }, doc, clips)).rejects.toThrow(message);
		expect((await shipClips(gltfShipping, doc, clips)).clips[0].tracks).toHaveLength(1);
	});

	it.each([
		['world', 1.5],
		['interface', 2],
	] as const)('keeps a bound in the units of the project: %s', async (space, bound) => {
		const own = swing(space, ELASTIC);
		const given = await shipGltf(own, [own.clips.swing], {
			bounds: { relative: 0.0001, translation: bound },
		});
		const close = await shipGltf(own, [own.clips.swing], { bounds: { relative: 0.0001 } });
		const [[wide], [narrow]] = [given.clips[0].tracks, close.clips[0].tracks];
		expect(wide.bound).toBeCloseTo(bound, 9);

		expect(wide.error).toBeGreaterThan(10 * narrow.error);
		expect(wide.keys).toBeLessThan(narrow.keys);
		expect(worstShare(given)).toBeLessThanOrEqual(1);
	});

	it.each(['gltf', 'clips', 'css', 'svg', 'animations'])(
		'keeps bounds of single parts and paths: %s',
		async (id) => {
			const doc = new ProjectBuilder('Two', 'interface', 30)
				.part('near', { kind: 'box', size: [1, 1, 1] })
				.part('far', { kind: 'box', size: [1, 1, 1] })
				.startClip('swing', 30)
				.keys('near', 'translation.x', ELASTIC)
				.keys('near', 'scale.x', ELASTIC)
				.keys('far', 'translation.x', ELASTIC)
				.build();
			const parts = { near: { translation: 0.02, relative: 0.05 } };
			const { ship } = await loadShipper(shippingFormat(id)!);
			const { clips } = await ship(doc, [doc.clips.swing], { bounds: { relative: 0.001, parts } });
			const told = new Map(clips[0].tracks.map((own) => [`${own.id.split('/')[1]} ${own.path}`, own]));
			const range = told.get('far translation')!.bound / 0.001;
			expect(told.get('near translation')!.bound).toBeCloseTo(0.02, 9);
			expect(told.get('near scale')!.bound).toBeCloseTo(0.05 * range, 6);
			// A clip file has the shape itself.
			if (id !== 'clips') expect(told.get('near scale')!.error).toBeGreaterThan(0.002 * range);
			for (const { error, bound } of told.values()) expect(error).toBeLessThanOrEqual(bound);
		},
	);

	it('thins a recording within its bound, and leaves keys as they are where that saves little', async () => {
		const recorded = (count: number, tremor: number) =>
			Array.from({ length: count + 1 }, (_, i): KeyRow => {
				const value = 40 * Math.sin((5 * i) / count) + tremor * Math.sin(i * i);
				return [(30 * i) / count, value, linear];
			});
		const track = async (rows: KeyRow[]) => {
			const own = swing('world', rows);
			return (await shipGltf(own, [own.clips.swing])).clips[0].tracks[0];
		};
		const dense = await track(recorded(240, 0.01));
		expect([dense.exact, dense.keys < 24]).toEqual([false, true]);
		expect(dense.error).toBeLessThanOrEqual(dense.bound);
		expect(await track(recorded(60, 0))).toMatchObject({ exact: true, keys: 61 });
		expect(await track(recorded(240, 30))).toMatchObject({ exact: true, keys: 241 });
	});

	it('ends a whole turn in the very numbers that it begins with, the signs perhaps turned', async () => {
		for (const shape of [linear, eased(0.6, 0.2)]) {
			const turn = swing(
				'world',
				[
					[0, 13, shape],
					[30, 373],
				],
				'rotation.z',
			);
			const prepared: Parameters<Shipping['readBack']>[1][] = [];
			const shipped = await shipClips(
				{
					...gltfShipping,
					write: (own, switches) => (prepared.push(own), gltfShipping.write(own, switches)),
				},
				turn,
				[turn.clips.swing],
			);
			const [sampler] = (await gltfShipping.readBack(shipped, prepared[0])).values();
			const numbersOf = (key: number) => {
				const stride = sampler.interpolation === 'CUBICSPLINE' ? 12 : 4;
				const from = key * stride + (stride === 12 ? 4 : 0);
				return [...sampler.values.slice(from, from + 4)];
			};
			const [first, last] = [numbersOf(0), numbersOf(sampler.times.length - 1)];
			const sign = Math.sign(first[3] * last[3]);
			expect(last).toEqual(first.map((v) => sign * v + 0));
		}
	});
});
