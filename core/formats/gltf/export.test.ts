/** What a file says where it counts: exact at the ends, still where nothing moves, closed where the loop closes, valid. */
import { bounceContacts } from '../../../player/easing/bounce';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eased, hold, linear, ProjectBuilder, type KeyRow } from '../../../demo/builder';
import type { Shape } from '../../../player/easing/shape';
import { newFormula, putFormula } from '../../edits/formulas';
import type { Doc } from '../../document/types';
import { sampleAt, type Sampler } from '../../fit/sampler';
import { between } from '../../../player/testing';
import { TRACK_PATHS, type TrackPath } from '../../tracks/track';
import { putNumber } from '../../edits/own-numbers';
import { setValue } from '../../edits/keys';
import { measuredOnly, tellLeftOut } from '../../tracks/report';
import { angleBetween } from '../../../player/maths/quaternion';
import { orientationIn, vectorIn } from '../../clip/layout';
import { shownAt } from '../../testing';
import { newIO } from './io';
import { readGltf } from './read';
import { gltfTracks, shipGltf } from './testing';
import { nodeSamplers } from './samplers';

const FRAMES = 60;
const LOOP = { mode: 'repeat', count: null, pause: 0 } as const;

function oneClip(channels: Record<string, KeyRow[]>, frames = FRAMES): Doc {
	const builder = new ProjectBuilder('Mast', 'world', 30)
		.part('flag', { kind: 'box', size: [1, 1, 1] })
		.startClip('wave', frames, LOOP);
	for (const [path, rows] of Object.entries(channels)) builder.keys('flag', path, rows);
	return builder.build();
}

async function exported(doc: Doc, relative = 0.001) {
	const file = await shipGltf(doc, [doc.clips.wave], {
		bounds: { relative },
		switches: { curvesOnly: true },
	});
	const document = await newIO().readBinary(file.bytes);
	return { file, samplers: new Map(nodeSamplers(document).map((own) => [own.path, own.sampler])) };
}

/** The numbers of a key, without its tangents. */
function valueOf({ interpolation, size, values }: Sampler, key: number): number[] {
	const at = interpolation === 'CUBICSPLINE' ? key * 3 * size + size : key * size;
	return [...values.slice(at, at + size)];
}
function truthOf(doc: Doc, path: TrackPath, ticks: number): number[] {
	const { source } = gltfTracks(doc, doc.clips.wave).find((track) => track.path === path)!;
	const out = new Float64Array(source.size);
	source.evaluate(ticks, out);
	return [...out].map(Math.fround);
}
const upToSign = (q: number[], like: number[]) =>
	q.map((v) => (q.reduce((dot, own, k) => dot + own * like[k], 0) < 0 ? 0 - v : v + 0));

/** The clip's length in seconds and ticks. */
const SECONDS = FRAMES / 30;
const END = FRAMES * 2400;

describe('a turn about one axis whose last key is reached by a jump', () => {
	it('ends in the orientation of that key', async () => {
		const doc = oneClip({
			'rotation.z': [
				[0, 0, eased(0.7, 0.2)],
				[30, 90, hold],
				[FRAMES, 20],
			],
		});
		const { samplers } = await exported(doc);
		const rotation = samplers.get('rotation')!;
		expect(rotation.interpolation).toBe('CUBICSPLINE');
		const last = valueOf(rotation, rotation.times.length - 1);
		const half = (10 * Math.PI) / 180;
		[0, 0, Math.sin(half), Math.cos(half)].forEach((v, k) => expect(last[k]).toBeCloseTo(v, 6));
	});
});

/** Random clips; a soak takes many more. */
const RUNS = Number(process.env.HILLOCK_PROJECTS ?? 80);
const shape: fc.Arbitrary<Shape> = fc.oneof(
	fc.constantFrom<Shape>(
		{ kind: 'hold' },
		{ kind: 'linear' },
		{ kind: 'fall' },
		{ kind: 'bounce', restitution: 0.5, count: 2 },
	),
	fc.record({ kind: fc.constant('eased' as const), start: between(0, 1), finish: between(0, 1) }),
	fc.constant<Shape>({ kind: 'spring', mass: 1, stiffness: 120, damping: 6, velocity: 0, time: 'real' }),
	fc.constantFrom<Shape>(
		{ kind: 'family', family: 'elastic', way: 'out' },
		{ kind: 'family', family: 'back', way: 'in' },
	),
);
/** Keys over the whole clip, the last one often reached by a jump, often back at the start's value. */
const rows = (low: number, high: number): fc.Arbitrary<KeyRow[]> =>
	fc
		.tuple(
			fc.array(fc.tuple(fc.integer({ min: 1, max: FRAMES - 1 }), between(low, high), shape), {
				maxLength: 4,
			}),
			between(low, high),
			fc.boolean(),
			shape,
			between(low, high),
		)
		.map(([inner, first, closes, firstShape, last]) => {
			const frames = [...new Map(inner.map((row) => [row[0], row])).values()].sort((a, b) => a[0] - b[0]);
			return [[0, first, firstShape], ...frames, [FRAMES, closes ? first : last]] as KeyRow[];
		});
const channels = fc
	.record(
		{
			'translation.x': rows(-3, 3),
			'translation.y': rows(-3, 3),
			'rotation.z': rows(-400, 400),
			'rotation.x': rows(-80, 80),
			'scale.y': rows(0.2, 2),
		},
		{ requiredKeys: [] },
	)
	.filter((own) => Object.keys(own).length > 0);

describe('what a formula computes', () => {
	const SECOND = 72_000;
	const LONG = 300;
	/** A flag that goes through nought fast, once, in a long span, and a formula that reads it. */
	const computed = (text: string): Doc => {
		const doc = oneClip(
			{
				'translation.x': [
					[0, -523, linear],
					[LONG, 400],
				],
			},
			LONG,
		);
		const formula = {
			...newFormula('wave', 'flag', 'scale', 'y'),
			text,
			inputs: { a: { part: 'flag', property: 'translation', component: 'x' } as const },
		};
		return putFormula(doc, formula);
	};

	it.each([
		'exp(-abs(a))',
		'exp(-a * a)',
		'300 * exp(-abs(a - 1.7) / 3)',
		'min(a, 1) + 90 * exp(-abs(a) / 2)',
	])('%s keeps its bound where it bends, and says that it is not guaranteed', async (text) => {
		const doc = computed(text);
		const { file, samplers } = await exported(doc);
		const report = file.clips[0].tracks.find(({ path }) => path === 'scale')!;
		expect(report.guaranteed).toBe(false);
		expect(measuredOnly(file)).toBe(1);
		const { source } = gltfTracks(doc, doc.clips.wave).find(({ path }) => path === 'scale')!;
		const [read, truth] = [new Float32Array(3), new Float64Array(3)];
		let worst = 0;
		for (let i = 0; i < 40_000; i++) {
			const ticks = (LONG * 2400 * (i + 0.37)) / 40_000;
			sampleAt(samplers.get('scale')!, ticks / SECOND, read);
			source.evaluate(ticks, truth);
			for (let k = 0; k < 3; k++) worst = Math.max(worst, Math.abs(read[k] - truth[k]));
		}
		expect(worst).toBeLessThanOrEqual(report.bound);
	});
});

describe('what is switched on and off', () => {
	const rows: Record<string, KeyRow[]> = {
		'translation.x': [
			[0, 0, linear],
			[FRAMES, 3],
		],
		'scale.y': [
			[0, 1, eased(0.5, 0.5)],
			[FRAMES, 2],
		],
		visible: [
			[0, 1, hold],
			[21, 0, hold],
			[40, 1, hold],
		],
	};

	it('has a scale of 0 while it is off, and its own one else', async () => {
		const doc = oneClip(rows);
		const { file, samplers } = await exported(doc);
		const scale = samplers.get('scale')!;
		const out = new Float32Array(3);
		for (let i = 0; i <= 400; i++) {
			const t = (END * i) / 400;
			const frame = t / 2400;
			// Right at the switch a float32 time is a hair beside it.
			if (Math.min(Math.abs(frame - 21), Math.abs(frame - 40)) < 0.01) continue;
			sampleAt(scale, t / 72_000, out);
			if (frame > 21 && frame < 40) expect([...out]).toEqual([0, 0, 0]);
			else expect(out[0]).toBe(1);
		}
		sampleAt(scale, SECONDS, out);
		expect([...out]).toEqual([1, 2, 1]);
		expect(file.clips[0].leftOut).toEqual([]);
		expect(file.plainer).toEqual([]);
		// Where it is while nobody sees it is no error.
		expect(file.origin?.error ?? 0).toBeLessThan(0.004);
	});

	it('is drawn where it is hidden at rest and comes up in the clip alone', async () => {
		const hidden = oneClip({
			visible: [
				[0, 0, hold],
				[10, 1, hold],
			],
		});
		const doc = { ...hidden, parts: { flag: { ...hidden.parts.flag, visible: false } } };
		const { bytes } = await shipGltf(doc, [doc.clips.wave]);
		const [node] = (await newIO().readBinary(bytes)).getRoot().listNodes();
		expect([node.getMesh() !== null, node.getScale()]).toEqual([true, [0, 0, 0]]);
		const still = { ...doc, channels: {} };
		const other = await shipGltf(still, [still.clips.wave]);
		const [bare] = (await newIO().readBinary(other.bytes)).getRoot().listNodes();
		expect([bare.getMesh(), bare.getScale()]).toEqual([null, [1, 1, 1]]);
	});
});

it('a clip that moves nothing that glTF can say is a file all the same, and says what is left out', async () => {
	const doc = oneClip({
		opacity: [
			[0, 1, linear],
			[FRAMES, 0],
		],
	});
	const { file } = await exported(doc);
	expect(file.clips[0].tracks).toEqual([]);
	expect(file.clips[0].leftOut.map(({ what }) => what)).toEqual(['opacity']);
});

const distanceOf = (a: readonly number[], b: readonly number[]) =>
	Math.max(...a.map((v, k) => Math.abs(v - b[k])));

it('what is revealed, numbers of one’s own and plain stand-ins are told, none left out in silence', async () => {
	const doc = new ProjectBuilder('Mast', 'interface', 30)
		.part('flag', {
			kind: 'card',
			size: [8, 4, 0],
			radius: 1,
			reveal: { top: 0, right: 0.5, bottom: 0, left: 0 },
		})
		.part('word', { kind: 'label', size: [8, 4, 0], text: 'noon' })
		.startClip('wave', FRAMES, LOOP)
		.keys('flag', 'reveal.left', [
			[0, 0, linear],
			[30, 1],
		])
		.build();
	const named = putNumber(doc, 'flag', { key: 'n3', name: 'blur', unit: 'px', low: 0, high: 9, value: 0 });
	const at = { clip: 'wave', part: 'flag', property: 'custom', component: 'n3' } as const;
	const full = setValue(setValue(named, at, 0, 1), at, 2400, 2);
	const file = await shipGltf(full, [full.clips.wave], { bounds: { relative: 0.001 }, switches: {} });
	expect(file.clips[0].leftOut.map(tellLeftOut)).toEqual([
		'flag / reveal left: glTF has nothing that could be moved so',
	]);
	expect(file.plainer).toEqual([
		'flag: it is revealed in part, here whole',
		'word: its label is a plain card',
	]);
});

describe('any clip', () => {
	it('comes back from its file as the same motion, within the bound twice', async () => {
		await fc.assert(
			fc.asyncProperty(channels, async (own) => {
				const doc = oneClip(own);
				const { file } = await exported(doc);
				const back = await readGltf(file.bytes, 'Mast');
				if (!back.ok) throw new Error(back.problems[0].message);
				const { doc: read } = back.value;
				const [clip] = Object.keys(read.clips);
				const [part] = Object.values(read.parts);
				for (const share of [0.07, 0.31, 0.52, 0.83, 0.96]) {
					// Off the places where holds jump; key times are read to the nearest tick.
					const t = share * END + 7;
					const theirs = shownAt(read, clip, t).posed;
					const near = Array.from({ length: 17 }, (_, i) => shownAt(doc, 'wave', t + (i - 8) / 8).posed);
					for (const { path, bound } of file.clips[0].tracks) {
						const off = near.map((ours) =>
							path === 'rotation'
								? angleBetween(orientationIn(ours, doc.parts.flag), orientationIn(theirs, part))
								: distanceOf(
										vectorIn(ours, doc.parts.flag, path as 'scale'),
										vectorIn(theirs, part, path as 'scale'),
									),
						);
						// Euler keys follow the turn within 0.02° besides.
						const room = path === 'rotation' ? 0.05 : 1e-5;
						expect(Math.min(...off)).toBeLessThanOrEqual(1.01 * bound + room);
					}
				}
			}),
			{ numRuns: Math.min(25, RUNS) },
		);
	});

	it('is exact at its ends, still where nothing moves, unit where it turns, and closes where it closes', async () => {
		await fc.assert(
			fc.asyncProperty(channels, fc.constantFrom(0.01, 0.001), async (own, relative) => {
				const doc = oneClip(own);
				// Refused with a RangeError where the validator finds anything or a bound is not kept.
				const { samplers } = await exported(doc, relative);
				for (const path of TRACK_PATHS) {
					const sampler = samplers.get(path);
					if (!sampler) continue;
					const [first, last] = [valueOf(sampler, 0), valueOf(sampler, sampler.times.length - 1)];
					const [start, end] = [truthOf(doc, path, 0), truthOf(doc, path, END)];
					const isTurn = path === 'rotation';
					if (isTurn) {
						upToSign(first, start).forEach((v, k) => expect(v).toBeCloseTo(start[k], 6));
						upToSign(last, end).forEach((v, k) => expect(v).toBeCloseTo(end[k], 6));
					} else expect([first, last]).toEqual([start, end]);
					const gap = Math.max(...upToSign(end, start).map((v, k) => Math.abs(v - start[k])));
					if (gap < 1e-12) expect(upToSign(last, first)).toEqual(first.map((v) => v + 0));
					if (isTurn)
						for (let key = 0; key < sampler.times.length; key++)
							expect(Math.hypot(...valueOf(sampler, key))).toBeCloseTo(1, 6);
					else
						['x', 'y', 'z'].forEach((axis, k) => {
							if (own[`${path}.${axis}` as keyof typeof own]) return;
							const out = new Float32Array(3);
							for (let i = 0; i <= 50; i++) {
								sampleAt(sampler, (SECONDS * i) / 50, out);
								expect(out[k]).toBe(start[k]);
							}
						});
				}
			}),
			{ numRuns: RUNS },
		);
	});

	it('stands still where a channel holds, and touches at a contact, exactly', async () => {
		const doc = oneClip({
			'translation.x': [
				[0, 0, { kind: 'spring', mass: 1, stiffness: 90, damping: 5, velocity: 0, time: 'real' }],
				[FRAMES, 3],
			],
			'translation.y': [
				[0, 2.1, { kind: 'bounce', restitution: 0.6, count: 3 }],
				[24, 0.3, linear],
				[40, 0.3, eased(0.8, 0.1)],
				[FRAMES, 1.7],
			],
		});
		const { samplers } = await exported(doc, 0.01);
		const sampler = samplers.get('translation')!;
		const out = new Float32Array(3);
		const held = [24, 40].map((frame) => sampler.times.indexOf(Math.fround(frame / 30)));
		for (const key of held) expect(valueOf(sampler, key)[1]).toBe(Math.fround(0.3));
		for (let frame = 24; frame <= 40; frame += 0.37) {
			sampleAt(sampler, frame / 30, out);
			// Both keys are the value itself; what a reader adds up between them may round.
			expect(Math.abs(out[1] - Math.fround(0.3))).toBeLessThan(4 * 2 ** -25);
		}
		// What rebounds by more than ten bounds is no tremor: all contacts of a finer file.
		const finer = (await exported(doc, 0.001)).samplers.get('translation')!;
		for (const share of bounceContacts(0.6, 3)) {
			const contact = finer.times.findIndex((t) => Math.abs(t - (share * 24) / 30) < 1e-5);
			expect(contact, `at ${share} of the bounce`).toBeGreaterThan(0);
			expect(valueOf(finer, contact)[1]).toBeCloseTo(0.3, 6);
		}
	});
});
