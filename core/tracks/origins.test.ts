import { describe, expect, it } from 'vitest';
import { linear, ProjectBuilder } from '../../demo/builder';
import { compileClip } from '../clip/compile';
import type { Sampler } from '../fit/sampler';
import { gltfShipping } from '../formats/gltf/shipping';
import { shipGltf } from '../formats/gltf/testing';
import { originErrors } from './origins';

/** An arm that turns by a quarter about its foot, with a hook 100 px out on it; both are moved by tracks. */
const doc = new ProjectBuilder('Crane', 'interface', 30)
	.part('arm', { kind: 'empty' }, { at: [40, 0, 0] })
	.part('hook', { kind: 'empty' }, { parent: 'arm', at: [100, 0, 0] })
	.startClip('turn', 30)
	.keys('arm', 'rotation.z', [
		[0, 90, linear],
		[30, 90],
	])
	.keys('hook', 'translation.x', [
		[0, 100, linear],
		[30, 100],
	])
	.build();
const terms = gltfShipping.terms(doc);
const [across, down] = terms.factors.translation;
const still = (...values: number[]): Sampler => ({
	size: values.length,
	interpolation: 'LINEAR',
	times: Float32Array.of(0, 1),
	values: Float32Array.of(...values, ...values),
});
const errors = (of: Record<string, Sampler>) =>
	originErrors(compileClip(doc, doc.clips.turn), terms, (part, path) => of[`${part} ${path}`]);
const worst = (of: Record<string, Sampler>) => errors(of).origin;

describe('how far origins are off in the world', () => {
	it("is told in the project's units, of the part that is off the most", () => {
		const hook = still(across * 103, down * 4, 0);
		expect(worst({ 'hook translation': hook })).toMatchObject({ part: 'hook', clip: 'turn' });
		expect(worst({ 'hook translation': hook })!.error).toBeCloseTo(5, 4);
	});

	it('counts what a parent is off by, as far out as its children hang', () => {
		// The arm read as if it did not turn: the hook is off by the side of a square.
		const found = worst({ 'arm rotation': still(0, 0, 0, 1) });
		expect(found!.part).toBe('hook');
		expect(found!.error).toBeCloseTo(100 * Math.SQRT2, 3);
	});

	it('is nothing where no track moves anything, and looks at the whole clip', () => {
		expect(worst({})).toBe(null);
		const late: Sampler = {
			...still(across * 100, 0, 0),
			interpolation: 'STEP',
			times: Float32Array.of(0, 0.0011),
			values: Float32Array.of(across * 109, 0, 0, across * 100, 0, 0),
		};
		expect(worst({ 'hook translation': late }) ?? { error: 0 }).toMatchObject({ error: 0 });
		const early: Sampler = { ...late, times: Float32Array.of(0, 0.003) };
		expect(worst({ 'hook translation': early })!.error).toBeCloseTo(9, 3);
	});
});

it('a foot that stands while its hip moves is told by how far it slides, and by no more', () => {
	const walk = new ProjectBuilder('Walk', 'world', 30)
		.part('hip', { kind: 'empty' }, { at: [0, 1, 0] })
		.part('foot', { kind: 'empty' }, { parent: 'hip', at: [0, -1, 0] })
		.startClip('step', 30)
		.keys('hip', 'translation.x', [
			[0, 0, linear],
			[30, 2],
		])
		.keys('foot', 'translation.x', [
			[0, 0, linear],
			[15, -1, linear],
			[30, 3],
		])
		.build();
	const shift = (by: number): Record<string, Sampler> => ({
		'foot translation': {
			...still(0, -1, 0),
			times: Float32Array.of(0, 0.5, 1),
			values: Float32Array.of(0, -1, 0, -1, -1, 0, 3, -1, 0),
		},
		'hip translation': {
			...still(0, 1, 0),
			// A little ahead when the foot is half through its stand; all along it is off by as much and more.
			times: Float32Array.of(0, 0.25, 0.5, 1),
			values: Float32Array.of(0.1, 1, 0, 0.6 + by, 1, 0, 1.1, 1, 0, 2.1, 1, 0),
		},
	});
	const found = (by: number) =>
		originErrors(
			compileClip(walk, walk.clips.step),
			gltfShipping.terms(walk),
			(part, path) => shift(by)[`${part} ${path}`],
		);
	expect(found(0.02).contact).toMatchObject({ part: 'foot', clip: 'step' });
	expect(found(0.02).contact!.error).toBeCloseTo(0.02, 3);
	expect(found(0.02).contact!.seconds).toBeCloseTo(0.25, 1);
	expect(found(0.02).origin!.error).toBeCloseTo(0.12, 3);
	expect(found(0).contact).toBe(null);
});

describe('spans that a sampler says exactly', () => {
	const ship = async (rows: [number, number, ({ kind: 'hold' } | typeof linear)?][], frames = 30) => {
		const own = new ProjectBuilder('Lift', 'world', 30)
			.part('cage', { kind: 'empty' })
			.startClip('up', frames)
			.keys('cage', 'translation.y', rows as never)
			.build();
		return (await shipGltf(own, [own.clips.up])).clips[0].tracks[0];
	};

	it('need no key for the jump of a hold between two like values', async () => {
		expect(
			await ship([
				[0, 0, { kind: 'hold' }],
				[10, 0, linear],
				[20, 4, linear],
				[30, 5],
			]),
		).toMatchObject({
			encoding: 'LINEAR',
			exact: true,
			keys: 4,
		});
		expect(
			(
				await ship([
					[0, 0, { kind: 'hold' }],
					[10, 1, linear],
					[20, 4, linear],
					[30, 5],
				])
			).keys,
		).toBe(5);
	});

	it('have one key for two times that float32 cannot tell apart', async () => {
		// 300 s in, neighbouring numbers are two ticks apart.
		const tick = 1 / 2400;
		const track = await ship(
			[
				[0, 0, linear],
				[9000, 4, linear],
				[9000 + tick, 4, linear],
				[9030, 5],
			],
			9030,
		);
		expect([track.exact, track.keys]).toEqual([true, 3]);
	});
});
