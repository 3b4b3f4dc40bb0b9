import { AnimationMixer, Vector3, type AnimationClip, type Object3D } from 'three';
import { GLTFLoader, type GLTF } from 'three/addons/loaders/GLTFLoader.js';
import validator from 'gltf-validator';
import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import { hold, linear, ProjectBuilder } from '../../../demo/builder';
import { clipsInOrder, type Clip, type Doc } from '../../document/types';
import { distance } from '../../fit/source';
import { ticksToSeconds } from '../../../player/time';
import { boundOf, type Bounds } from '../../tracks/bounds';
import { TRACK_PATHS, type TrackPath } from '../../tracks/track';
import { worstShare } from '../../tracks/report';
import type { Shipped } from '../../tracks/ship';
import { newIO } from './io';
import { readGltf } from './read';
import { gltfTracks, shipGltf } from './testing';

/** The file as three.js loads it: its clips, and its nodes by name. */
async function load(bytes: Uint8Array): Promise<GLTF> {
	const copy = bytes.slice().buffer;
	return new Promise((resolve, reject) => new GLTFLoader().parse(copy, '', resolve, reject));
}

function play(gltf: GLTF, name: string): (seconds: number) => (node: string) => Object3D {
	const mixer = new AnimationMixer(gltf.scene);
	const clip = gltf.animations.find((animation: AnimationClip) => animation.name === name)!;
	mixer.clipAction(clip).play();
	const safe = (node: string) => node.replace(/\s/g, '_');
	return (seconds) => {
		mixer.setTime(seconds);
		return (node) => gltf.scene.getObjectByName(safe(node))!;
	};
}

/** Largest share of its bound that any path of a clip uses up in three.js, at times off the keys. */
async function worstShareInThree(
	doc: Doc,
	clip: Clip,
	written: Pick<Shipped, 'bytes'>,
	bounds: Bounds,
): Promise<number> {
	const at = play(await load(written.bytes), clip.name);
	let worst = 0;
	// three.js follows no pointers: those have a test of their own.
	for (const track of gltfTracks(doc, clip).filter((own) => TRACK_PATHS.includes(own.path as TrackPath))) {
		const { source, path, part } = track;
		const { bound } = boundOf(track, bounds);
		const truth = new Float64Array(source.size);
		for (let i = 0; i < 397; i++) {
			const seconds = (ticksToSeconds(clip.length) * (i + 0.381)) / 397;
			const jumpNear = source.pieces.some((p) => p.jump && Math.abs(ticksToSeconds(p.t) - seconds) < 1e-6);
			if (jumpNear) continue;
			source.evaluate(seconds * 72_000, truth);
			const node = at(seconds)(part.name);
			const value =
				path === 'translation'
					? node.position.toArray()
					: path === 'scale'
						? node.scale.toArray()
						: node.quaternion.toArray();
			worst = Math.max(worst, distance(source, value, truth) / bound);
		}
	}
	return worst;
}

function oneChannel(shapes: 'hold' | 'linear' | 'fall', path = 'translation.y'): Doc {
	const shape = { kind: shapes } as const;
	return new ProjectBuilder('One', 'world', 30)
		.part('crate', { kind: 'box', size: [1, 1, 1] })
		.startClip('slide', 30)
		.keys('crate', path, [
			[0, 0, shape],
			[12, 2, shape],
			[30, 5],
		])
		.build();
}

describe('spans that glTF can say are written as they are', () => {
	it.each([
		['hold', 'translation.y', 'STEP', 3],
		['linear', 'translation.y', 'LINEAR', 3],
		['fall', 'translation.y', 'CUBICSPLINE', 3],
		['linear', 'rotation.z', 'LINEAR', 3],
	] as const)('%s on %s is %s with %i keys', async (shape, path, encoding, keys) => {
		const doc = oneChannel(shape, path);
		const { clips, bytes } = await shipGltf(doc, clipsInOrder(doc));
		expect(clips[0].tracks[0]).toMatchObject({ encoding, keys, exact: true });
		expect(clips[0].tracks[0].error).toBeLessThan(1e-4);
		expect(await worstShareInThree(doc, doc.clips.slide, { bytes }, { relative: 1e-4 })).toBeLessThan(1);
	});

	it('a full turn keeps turning in a reader of quaternions', async () => {
		const doc = new ProjectBuilder('Turn', 'world', 30)
			.part('wheel', { kind: 'cylinder', size: [1, 1, 1] })
			.startClip('spin', 60)
			.keys('wheel', 'rotation.y', [
				[0, 0, linear],
				[60, 720],
			])
			.build();
		const written = await shipGltf(doc, clipsInOrder(doc));
		const at = play(await load(written.bytes), 'spin');
		// A quarter of the way, 180°: forward is then backward.
		const quarter = at(0.5)('wheel').quaternion;
		expect(Math.abs(quarter.y)).toBeCloseTo(1, 5);
		expect(written.clips[0].tracks[0]).toMatchObject({ encoding: 'LINEAR', exact: true });
	});

	it('a jump between straight spans stays a jump', async () => {
		const doc = new ProjectBuilder('Jump', 'world', 30)
			.part('crate', { kind: 'box', size: [1, 1, 1] })
			.startClip('jump', 30)
			.keys('crate', 'translation.x', [
				[0, 0, linear],
				[10, 1, hold],
				[20, 5, linear],
				[30, 6],
			])
			.build();
		const written = await shipGltf(doc, clipsInOrder(doc));
		const at = play(await load(written.bytes), 'jump');
		expect(at(0.6666)('crate').position.x).toBeCloseTo(1, 4);
		expect(at(0.66675)('crate').position.x).toBeCloseTo(5, 2);
	});
});

describe.each([
	['Quay', makeQuay()],
	['Parcel slip', makeParcelSlip()],
])('the demo project %s', (_, doc) => {
	const clips = clipsInOrder(doc);

	it('plays the same motion in another reader, every path within its bound', async () => {
		const bounds = { relative: 0.001 };
		const written = await shipGltf(doc, clips, { bounds });
		for (const clip of clips) {
			if (written.clips.find((report) => report.clip === clip.id)!.tracks.length === 0) continue;
			expect(await worstShareInThree(doc, clip, written, bounds), clip.name).toBeLessThanOrEqual(1);
		}
		expect(worstShare(written)).toBeGreaterThan(0.1);
		expect(worstShare(written)).toBeLessThanOrEqual(1);
	});

	it('is valid glTF without a warning, the same bytes each time', async () => {
		const first = await shipGltf(doc, clips);
		const second = await shipGltf(doc, clips);
		expect(Buffer.compare(first.bytes, second.bytes)).toBe(0);
		const report = await validator.validateBytes(first.bytes);
		expect(report.issues.messages.filter((message: { severity: number }) => message.severity <= 1)).toEqual(
			[],
		);
		expect(report.info.animationCount).toBeGreaterThan(2);
	});

	it('reports every path, and fewer bytes than 60 Hz keys', async () => {
		const written = await shipGltf(doc, clips);
		const paths = written.clips.flatMap((clip) => clip.tracks);
		// Each thing that moves, once, in the order of the tree.
		expect(paths.map(({ id }) => id)).toEqual(
			clips.flatMap((clip) => gltfTracks(doc, clip)).map(({ id }) => id),
		);
		expect(new Set(paths.map(({ id }) => id)).size).toBe(paths.length);
		const sum = (pick: (path: (typeof paths)[number]) => number) =>
			paths.reduce((total, path) => total + pick(path), 0);
		expect(sum((path) => path.bytes)).toBeLessThan(0.4 * sum((path) => path.bakedBytes));
	});
});

describe('what a file tells beside its curves', () => {
	const doc = new ProjectBuilder('Told', 'world', 30)
		.part('crate', { kind: 'box', size: [1, 1, 1] })
		.startClip('slide', 30, { mode: 'repeat', count: 3, pause: 15 * 2400 })
		.keys(
			'crate',
			'translation.x',
			[
				[0, 0, linear],
				[30, 2],
			],
			true,
		)
		.cue('half', 15, { loud: 0.5 })
		.cue('end', 30)
		.build();

	it('reaches to the end of a pause, the last value held in it', async () => {
		const at = play(await load((await shipGltf(doc, clipsInOrder(doc))).bytes), 'slide');
		for (const [seconds, x] of [
			[0.5, 1],
			[1, 2],
			[1.25, 2],
			[1.49, 2],
		])
			expect(at(seconds)('crate').position.x).toBeCloseTo(x, 5);
		const [animation] = (await load((await shipGltf(doc, clipsInOrder(doc))).bytes)).animations;
		expect(animation.duration).toBeCloseTo(1.5, 6);
	});

	it('says how it loops, what adds up and when its cues come, and all of it comes back', async () => {
		const { bytes } = await shipGltf(doc, clipsInOrder(doc));
		const [animation] = (await newIO().readBinary(bytes)).getRoot().listAnimations();
		expect(animation.getExtras()).toEqual({
			hillock: {
				loop: { mode: 'repeat', count: 3, pause: 0.5 },
				accumulates: [{ part: 'crate', path: 'translation', component: 'x' }],
				cues: [
					{ name: 'half', time: 0.5, payload: { loud: 0.5 } },
					{ name: 'end', time: 1, payload: null },
				],
			},
		});
		const back = await readGltf(bytes, 'Told');
		if (!back.ok) throw new Error(back.problems[0].message);
		const [clip] = Object.values(back.value.doc.clips);
		expect(clip).toMatchObject({ name: 'slide', length: 72_000, loop: doc.clips.slide.loop });
		expect(Object.values(back.value.doc.cues).map(({ name, t, payload }) => [name, t, payload])).toEqual([
			['half', 36_000, { loud: 0.5 }],
			['end', 72_000, null],
		]);
		expect(Object.values(back.value.doc.channels).filter((own) => own.accumulates)).toHaveLength(1);
	});

	it.each(['world', 'interface'] as const)('has faces that look outwards, in the %s', async (space) => {
		const drawn = new ProjectBuilder('Solid', space, 30)
			.part('crate', { kind: 'box', size: [2, 2, 2] })
			.startClip('still', 30)
			.build();
		const document = await newIO().readBinary((await shipGltf(drawn, clipsInOrder(drawn))).bytes);
		const [primitive] = document.getRoot().listMeshes()[0].listPrimitives();
		const [positions, indices] = [primitive.getAttribute('POSITION')!, primitive.getIndices()!];
		const corner = (i: number) => new Vector3().fromArray(positions.getElement(indices.getScalar(i), []));
		for (let i = 0; i < indices.getCount(); i += 3) {
			const [a, b, c] = [corner(i), corner(i + 1), corner(i + 2)];
			const middle = a.clone().add(b).add(c);
			// Counter-clockwise seen from outside, as glTF has it.
			expect(b.sub(a).cross(c.sub(a)).dot(middle)).toBeGreaterThan(0);
		}
	});
});
