import { Document, WebIO } from '@gltf-transform/core';
import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { linear, ProjectBuilder } from '../../../demo/builder';
import { makeQuay } from '../../../demo/quay';
import { numberIn, orientationIn, vectorIn } from '../../clip/layout';
import { shownAt } from '../../testing';
import { clipsInOrder, type Doc } from '../../document/types';
import { angleBetween, fromEuler } from '../../../player/maths/quaternion';
import { readGltf } from './read';
import { shipGltf } from './testing';

async function read(bytes: Uint8Array): Promise<Doc> {
	const result = await readGltf(bytes, 'test');
	if (!result.ok) throw new Error(result.problems[0].message);
	return result.value.doc;
}

/** A file with one node and one channel. */
async function oneChannel(
	path: 'translation' | 'rotation' | 'scale',
	interpolation: string,
	times: number[],
	values: number[],
): Promise<Uint8Array> {
	const document = new Document();
	const buffer = document.createBuffer();
	const node = document.createNode('buoy');
	document.createScene().addChild(node);
	const input = document
		.createAccessor()
		.setType('SCALAR')
		.setArray(Float32Array.from(times))
		.setBuffer(buffer);
	const output = document
		.createAccessor()
		.setType(path === 'rotation' ? 'VEC4' : 'VEC3')
		.setArray(Float32Array.from(values))
		.setBuffer(buffer);
	const sampler = document
		.createAnimationSampler()
		.setInterpolation(interpolation as 'LINEAR')
		.setInput(input)
		.setOutput(output);
	const channel = document
		.createAnimationChannel()
		.setTargetNode(node)
		.setTargetPath(path)
		.setSampler(sampler);
	document.createAnimation('bob').addSampler(sampler).addChannel(channel);
	return new WebIO().writeBinary(document);
}
const keysOf = (doc: Doc, component: string) =>
	Object.values(doc.channels).find((channel) => channel.component === component)!.keys;

describe('a glTF file', () => {
	it('gives straight spans, holds and handles of thirds for its three interpolations', async () => {
		const linear = await read(await oneChannel('translation', 'LINEAR', [0, 1], [0, 0, 0, 2, 0, 0]));
		expect(keysOf(linear, 'x').map((key) => [key.t, key.v, key.shape.kind])).toEqual([
			[0, 0, 'linear'],
			[72_000, 2, 'linear'],
		]);
		const step = await read(await oneChannel('scale', 'STEP', [0, 0.5, 1], [1, 1, 1, 1, 2, 1, 1, 1, 1]));
		expect(keysOf(step, 'y').map((key) => key.shape.kind)).toEqual(['hold', 'hold', 'hold']);
		// Turns about x that jump: each key has its own, and holds it.
		const [c, s] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
		const turns = await read(
			await oneChannel('rotation', 'STEP', [0, 0.5, 1], [0, 0, 0, 1, s, 0, 0, c, 0, 0, 0, 1]),
		);
		const shown = (t: number) =>
			orientationIn(shownAt(turns, Object.keys(turns.clips)[0], t).posed, Object.values(turns.parts)[0]);
		for (const [t, angle] of [
			[0, 0],
			[35_999, 0],
			[36_000, 60],
			[71_999, 60],
			[72_000, 0],
		])
			expect(angleBetween(shown(t), fromEuler([angle, 0, 0], 'XYZ')), `at ${t}`).toBeLessThan(1e-3);
		// p(u) = u²: tangents 0 and 2 a second.
		const cubic = await read(
			await oneChannel(
				'translation',
				'CUBICSPLINE',
				[0, 1],
				[0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 2, 0, 0, 1, 0, 0, 0, 0],
			),
		);
		const [[clip], [part]] = [Object.keys(cubic.clips), Object.keys(cubic.parts)];
		for (const x of [0.25, 0.5, 0.8])
			expect(shownAt(cubic, clip, x * 72_000).number(part, 'translation', 'y')).toBeCloseTo(x * x, 6);
	});

	it('turns by more than a whole turn within one cubic segment', async () => {
		const spring = {
			kind: 'spring',
			mass: 1,
			stiffness: 120,
			damping: 6,
			velocity: 0,
			time: 'real',
		} as const;
		const doc = new ProjectBuilder('Mast', 'world', 30)
			.part('flag', { kind: 'box', size: [1, 1, 1] })
			.startClip('wave', 60)
			.keys('flag', 'rotation.z', [
				[0, 328.25666439172653, spring],
				[41, -190.0376050686639, linear],
				[60, 188.86550766828725],
			])
			.build();
		const { bytes, clips } = await shipGltf(doc, [doc.clips.wave]);
		expect(clips[0].tracks[0].encoding).toBe('CUBICSPLINE');
		const back = await read(bytes);
		const [[clip], [part]] = [Object.keys(back.clips), Object.values(back.parts)];
		for (let frame = 41; frame <= 60; frame += 0.7) {
			const theirs = orientationIn(shownAt(back, clip, frame * 2400).posed, part);
			const ours = orientationIn(shownAt(doc, 'wave', frame * 2400).posed, doc.parts.flag);
			expect(angleBetween(ours, theirs)).toBeLessThan(0.3);
		}
	});

	it('with two keys a hair apart jumps there', async () => {
		const doc = await read(
			await oneChannel(
				'translation',
				'LINEAR',
				[0, 0.49999997, 0.5, 1],
				[1, 0, 0, 1, 0, 0, 4, 0, 0, 5, 0, 0],
			),
		);
		expect(keysOf(doc, 'x').map((key) => [key.t, key.v, key.shape.kind])).toEqual([
			[0, 1, 'hold'],
			[36_000, 4, 'linear'],
			[72_000, 5, 'linear'],
		]);
	});

	it('keeps turning past half a turn', async () => {
		const turns = [0, 90, 180, 270, 360, 450].flatMap((angle) => fromEuler([0, 0, angle], 'XYZ'));
		const doc = await read(await oneChannel('rotation', 'LINEAR', [0, 1, 2, 3, 4, 5], turns));
		const z = keysOf(doc, 'z');
		expect(z.at(-1)!.v - z[0].v).toBeCloseTo(450, 3);
	});

	it.each([
		['Quay', makeQuay()],
		['Parcel slip', makeParcelSlip()],
	])('written from %s is read as the same poses', async (_, doc) => {
		const clips = clipsInOrder(doc);
		const back = await read((await shipGltf(doc, clips, { bounds: { relative: 0.0005 } })).bytes);
		expect(
			Object.values(back.parts)
				.map((part) => part.name)
				.sort(),
		).toEqual(
			Object.values(doc.parts)
				.map((part) => part.name)
				.sort(),
		);
		for (const clip of clips) {
			const twin = Object.values(back.clips).find((candidate) => candidate.name === clip.name);
			if (!twin) continue;
			const flip = doc.project.space === 'interface' ? -1 : 1;
			for (const x of [0.13, 0.41, 0.77]) {
				const ours = shownAt(doc, clip.id, x * clip.length).posed;
				const theirs = shownAt(back, twin.id, x * clip.length).posed;
				for (const part of Object.values(doc.parts)) {
					const other = Object.values(back.parts).find(({ name }) => name === part.name)!;
					const [qx, qy, qz, qw] = orientationIn(ours, part);
					expect(angleBetween([flip * qx, qy, flip * qz, qw], orientationIn(theirs, other))).toBeLessThan(
						0.2,
					);
					const shown = [ours, theirs].map((posed, i) =>
						numberIn(posed, [part, other][i], 'visible', 'value'),
					);
					expect(shown[1]).toBe(shown[0]);
					const [scale, read] = [vectorIn(ours, part, 'scale'), vectorIn(theirs, other, 'scale')];
					if (shown[0] === 1) scale.forEach((v, k) => expect(read[k]).toBeCloseTo(v, 2));
				}
			}
		}
	});
});

describe('a file that is no glTF', () => {
	const text = (value: string) => new TextEncoder().encode(value);
	it.each([
		['nothing', new Uint8Array(0)],
		['noise', Uint8Array.from({ length: 5000 }, (_, i) => (i * 197) % 251)],
		['a torn binary', new Uint8Array([0x67, 0x6c, 0x54, 0x46, 2, 0, 0, 0, 99, 0, 0, 0])],
		['JSON of something else', text('{"song":1}')],
		['deep nesting', text('['.repeat(100_000))],
		[
			'a buffer elsewhere',
			text(
				JSON.stringify({ asset: { version: '2.0' }, buffers: [{ uri: '../../secrets.bin', byteLength: 4 }] }),
			),
		],
	])('%s is refused with a reason', async (_, bytes) => {
		const result = await readGltf(bytes, 'test');
		expect(result.ok).toBe(false);
		expect(!result.ok && result.problems[0].message.length).toBeGreaterThan(15);
	});
});
