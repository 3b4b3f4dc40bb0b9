/** The clip file: what the player plays from it is the clip within its bound, in every round, with its events and blends. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Ajv from 'ajv/dist/2020';
import fc from 'fast-check';
import { strFromU8 } from 'fflate';
import { describe, expect, it } from 'vitest';
import { hold, linear, ONCE, ProjectBuilder, REPEAT, type KeyRow } from '../../../demo/builder';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import { END_KINDS } from '../../../player/curve/flat';
import { EASING_FAMILIES, EASING_WAYS, type Shape, type SpringShape } from '../../../player/easing/shape';
import { NAMED, type ClipFile } from '../../../player/file/format';
import { readClips } from '../../../player/file/read';
import { angleBetween } from '../../../player/maths/quaternion';
import { evaluateClip } from '../../../player/motion';
import { placeOf } from '../../../player/layout';
import { Player, type ClipSet } from '../../../player/player';
import { between } from '../../../player/testing';
import { clipSet } from '../../blend/clip-set';
import { compileTogether } from '../../clip/compile';
import { newFormula, putFormula } from '../../edits/formulas';
import { channelId, clipsInOrder, type Channel, type Doc } from '../../document/types';
import type { Shipped } from '../../tracks/ship';
import { quantumWithin } from './encode';
import { clipFileShipper } from './shipping';

interface Written {
	shipped: Shipped;
	file: ClipFile;
}

async function write(doc: Doc, relative = 0.001): Promise<Written> {
	const shipped = await clipFileShipper.ship(doc, clipsInOrder(doc), { bounds: { relative } });
	return { shipped, file: JSON.parse(strFromU8(shipped.bytes)) as ClipFile };
}

/** Errors over their bounds, of everything that clips move, at times since their starts. */
function sharesAt(doc: Doc, { shipped, file }: Written, ticks: readonly number[]): number[] {
	const read = readClips(file);
	return compileTogether(doc, clipsInOrder(doc)).flatMap((compiled, c) => {
		const { layout } = compiled;
		const [truth, played] = [layout.rest.slice(), read.layout.rest.slice()];
		const motion = read.clips.get(file.clips[c].name)!.motion;
		return ticks.flatMap((t) => {
			evaluateClip(compiled, t, truth);
			evaluateClip(motion, t, played);
			return layout.targets.flatMap(({ part, path, kind, at, size }) => {
				const there = placeOf(read.layout, doc.parts[part].name, path);
				const track = shipped.clips[c].tracks.find(({ id }) => id.endsWith(`/${part}/${path}`));
				const [a, b] = [truth.subarray(at, at + size), played.subarray(there, there + size)];
				if (kind === 'angles') return [];
				const error =
					kind === 'rotation' ? angleBetween(a, b) : Math.max(...a.map((v, k) => Math.abs(v - b[k])));
				// What a clip does not move is exactly at rest, but for the rounding of a turn.
				return [error / (track?.bound ?? 1e-5)];
			});
		});
	});
}

describe.each([
	['Quay', makeQuay()],
	['Parcel slip', makeParcelSlip()],
])('the demo %s', (_, doc) => {
	it('is written whole, and plays within its bounds in all rounds', async () => {
		const written = await write(doc);
		expect(written.shipped.clips.flatMap(({ leftOut }) => leftOut)).toEqual([]);
		expect(written.file.clips.map(({ name }) => name)).toEqual(clipsInOrder(doc).map(({ name }) => name));
		const ticks = Array.from({ length: 400 }, (_, i) => 1013.7 * i);
		expect(Math.max(...sharesAt(doc, written, ticks))).toBeLessThanOrEqual(1.0001);
	});

	it('plays as in the editor: queues, blends and cues', async () => {
		const { file } = await write(doc);
		const [first, second] = clipsInOrder(doc).filter(({ id }) =>
			Object.values(doc.cues).some(({ clip }) => clip === id),
		);
		const play = (set: ClipSet, [a, b]: string[]) => {
			const events: string[] = [];
			const player = new Player(set, {
				oncue: ({ cue, at }) => events.push(`${cue.name} ${JSON.stringify(cue.payload)} ${Math.round(at)}`),
			});
			player.play({ clip: a });
			player.advance(0.9);
			player.play({ clip: b });
			player.advance(0.13);
			// Parts and paths lie in another order in a file, and are called by names.
			const pose = new Map(
				player.layout.targets.map(({ part, path, at, size }) => [
					`${doc.parts[part]?.name ?? part}/${path}`,
					[...player.pose.subarray(at, at + size)],
				]),
			);
			player.enqueue({ clip: a, delay: 0.1 });
			player.advance(7);
			return { pose, events };
		};
		const here = play(clipSet(doc), [first.id, second.id]);
		const there = play(readClips(file), [first.name, second.name]);
		expect(there.events).toEqual(here.events);
		expect(here.events.length).toBeGreaterThan(1);
		for (const [name, numbers] of there.pose)
			numbers.forEach((v, k) => {
				const own = here.pose.get(name)![k];
				expect(Math.abs(v - own), name).toBeLessThan(0.005 * Math.max(1, Math.abs(own)));
			});
	});
});

const FRAMES = 60;
const SHAPES: readonly Shape[] = [
	hold,
	linear,
	{ kind: 'fall' },
	{ kind: 'rise' },
	{ kind: 'handles' },
	{ kind: 'bounce', restitution: 0.5, count: 2 },
	{ kind: 'spring', mass: 1, stiffness: 120, damping: 6, velocity: 4, time: 'real' },
	{ kind: 'spring', mass: 1, stiffness: 300, damping: 9, velocity: 0, time: 'fitted' },
	{ kind: 'family', family: 'elastic', way: 'out' },
	{ kind: 'steps', count: 3, jump: 'jump-both' },
	{
		kind: 'stops',
		stops: [
			{ x: 0, y: 0 },
			{ x: 0.3, y: 1.2 },
			{ x: 1, y: 1 },
		],
	},
];
const shape: fc.Arbitrary<Shape> = fc.oneof(
	fc.constantFrom<Shape>(...SHAPES),
	fc.record({ kind: fc.constant('eased' as const), start: between(0, 1), finish: between(0, 1) }),
	fc.record({
		kind: fc.constant('bezier' as const),
		x1: between(0, 1),
		y1: between(-1, 2),
		x2: between(0, 1),
		y2: between(-1, 2),
	}),
);
const rows = (low: number, high: number): fc.Arbitrary<KeyRow[]> =>
	fc
		.array(fc.tuple(fc.integer({ min: 0, max: FRAMES }), between(low, high), shape), {
			minLength: 1,
			maxLength: 5,
		})
		.map((all) => [...new Map(all.map((row) => [row[0], row])).values()].sort((a, b) => a[0] - b[0]));
const channels = fc.record(
	{
		'translation.x': rows(-300, 300),
		'rotation.z': rows(-400, 400),
		'rotation.x': rows(-80, 80),
		'scale.y': rows(0.2, 2),
		opacity: rows(0, 1),
	},
	{ requiredKeys: ['translation.x'] },
);
const ends = fc.record({ before: fc.constantFrom(...END_KINDS), after: fc.constantFrom(...END_KINDS) });

function oneClip(
	own: Record<string, KeyRow[]>,
	change: (channel: Channel) => Channel = (c) => c,
	loop = REPEAT,
): Doc {
	const builder = new ProjectBuilder('Mast', 'world', 30)
		.part('flag', { kind: 'box', size: [1, 1, 1] })
		.startClip('wave', FRAMES, loop);
	for (const [path, keys] of Object.entries(own)) builder.keys('flag', path, keys);
	const doc = builder.build();
	return {
		...doc,
		channels: Object.fromEntries(Object.entries(doc.channels).map(([id, channel]) => [id, change(channel)])),
	};
}

/** A clip with every shape there is, one after another, that goes round and travels. */
function allShapes(): Doc {
	const families = EASING_FAMILIES.flatMap((family) =>
		EASING_WAYS.map((way): Shape => ({ kind: 'family', family, way })),
	);
	const rows = [...SHAPES, ...families].map((own, i): KeyRow => [i, i % 3, own]);
	return oneClip({ 'translation.x': [...rows, [FRAMES, 2]] }, (channel) => ({
		...channel,
		accumulates: true,
	}));
}

it('any clip plays from its file within its bounds, over many rounds too, however it ends and adds up', async () => {
	await fc.assert(
		fc.asyncProperty(
			channels,
			ends,
			fc.boolean(),
			fc.constantFrom(0.02, 1e-3, 1e-5),
			async (own, at, adds, bound) => {
				const doc = oneClip(own, (channel) =>
					channel.property === 'translation'
						? { ...channel, ends: at, accumulates: adds }
						: { ...channel, ends: { before: 'hold', after: 'alternate' } },
				);
				const written = await write(doc, bound);
				const ticks = [0.013, 0.31, 0.77, 1.4, 3.9, 40.2, 500.7].map((round) => round * FRAMES * 2400);
				expect(Math.max(...sharesAt(doc, written, ticks))).toBeLessThanOrEqual(1.001);
			},
		),
		{ numRuns: Number(process.env.HILLOCK_PROJECTS ?? 60) },
	);
}, 120_000);

it('what was typed is written as it was typed, in few letters', async () => {
	const doc = oneClip({
		'translation.x': [
			[0, -1.1, linear],
			[30, 3.2, hold],
			[60, 0.4],
		],
	});
	const { file, shipped } = await write(doc);
	expect(file.clips[0].curves).toEqual([
		{
			part: 0,
			path: 'translation.x',
			times: [0, 72000, 72000],
			quantum: 0.1,
			values: [-11, 43, -28],
			spans: [1, 0],
		},
	]);
	expect(shipped.clips[0].tracks[0]).toMatchObject({
		exact: true,
		encoding: 'linear, hold',
		keys: 3,
		path: 'translation',
	});
	expect(quantumWithin(0.0062)).toBe(0.005);
	expect(quantumWithin(0.001)).toBe(0.001);
	expect(quantumWithin(1.999e7)).toBe(1e7);
});

it('a shape stays a shape: a spring costs a key and a number, and is as exact as its keys', async () => {
	const spring: Shape = { kind: 'spring', mass: 1, stiffness: 210, damping: 11, velocity: 0, time: 'real' };
	const doc = oneClip(
		{
			'translation.x': [
				[0, 0, spring],
				[40, 2, spring],
				[60, 0],
			],
		},
		undefined,
		ONCE,
	);
	const { file, shipped } = await write(doc);
	const { kind, mass, stiffness, damping, velocity } = spring as SpringShape;
	expect(file.shapes).toEqual([{ kind, mass, stiffness, damping, velocity }]);
	expect(file.clips[0].curves[0].spans).toBe(4);
	expect(shipped.clips[0].tracks[0].error).toBeLessThan(1e-9);
});

it.each(['10 * a', 'floor(4 * time) + a', 'sin(9 * time) * a'])(
	'a formula is a curve within its bound, beside its jumps too: %s',
	async (text) => {
		const plain = oneClip({
			'translation.x': [
				[0, 0, { kind: 'eased', start: 0.6, finish: 0.3 }],
				[60, 3],
			],
		});
		const formula = {
			...newFormula('wave', 'flag', 'scale', 'y'),
			text,
			inputs: { a: { part: 'flag', property: 'translation', component: 'x' } as const },
		};
		const doc = putFormula(plain, formula);
		const written = await write(doc);
		const track = written.shipped.clips[0].tracks.find(({ path }) => path === 'scale')!;
		expect([track.guaranteed, track.exact]).toEqual([false, false]);
		const ticks = Array.from({ length: 3000 }, (_, i) => 47.3 * i).filter(
			(t) => Math.abs(t / 18000 - Math.round(t / 18000)) * 18000 > 3,
		);
		expect(Math.max(...sharesAt(doc, written, ticks))).toBeLessThanOrEqual(1.0001);
	},
);

it('orientations keep their turns and their tangents, colours their space', async () => {
	const doc = oneClip({ 'translation.x': [[0, 0]] });
	const turn = (degrees: number): [number, number, number, number] => {
		const half = (degrees * Math.PI) / 360;
		return [0, Math.sin(half) * 0.6, Math.sin(half) * 0.8, Math.cos(half)];
	};
	const part = Object.keys(doc.parts)[0];
	const base = {
		type: 'channel',
		clip: 'wave',
		part,
		component: 'value',
		ends: { before: 'hold', after: 'hold' },
		accumulates: false,
	} as const;
	const tangents = { left: [0.1, 0.4, 0, -0.2], right: [0, 0.5, 0.3, -0.1] } as const;
	const orientation = {
		...base,
		id: channelId('wave', part, 'orientation', 'value'),
		property: 'orientation',
		keys: [
			{ t: 0, v: 0, vector: turn(10), shape: { kind: 'tangents' }, tangents },
			{ t: 48_000, v: 0, vector: turn(130), shape: { kind: 'eased', start: 0.4, finish: 0.7 }, tangents },
			{ t: 144_000, v: 0, vector: turn(-40), shape: { kind: 'hold' } },
		],
	} as unknown as Channel;
	const colour = {
		...base,
		id: channelId('wave', part, 'colour', 'value'),
		property: 'colour',
		colourSpace: 'oklab',
		keys: [
			{ t: 0, v: 0, vector: [1, 0.2, 0, 1], shape: { kind: 'linear' } },
			{ t: 144_000, v: 0, vector: [0, 0.3, 0.9, 0.5], shape: { kind: 'hold' } },
		],
	} as unknown as Channel;
	const full: Doc = {
		...doc,
		channels: { ...doc.channels, [orientation.id]: orientation, [colour.id]: colour },
	};
	const written = await write(full);
	const ticks = Array.from({ length: 300 }, (_, i) => 480.7 * i);
	expect(Math.max(...sharesAt(full, written, ticks))).toBeLessThanOrEqual(1.0001);
	expect(written.file.clips[0].vectors?.map(({ mix }) => mix)).toEqual(['turn', 'oklab']);
	expect(written.file.clips[0].vectors?.[0].tangents?.map((row) => row === null)).toEqual([false, true]);
});

it('another file, and a newer one, are refused by name', async () => {
	const { file } = await write(makeParcelSlip());
	for (const other of [null, 7, {}, { format: 'hillock-project', version: 1 }])
		expect(() => readClips(other)).toThrow('this is no clip file');
	expect(() => readClips({ ...file, version: 2 })).toThrow(
		'clip files of version 2 are newer than this player',
	);
});

const hasPython = spawnSync('python3', ['--version']).status === 0;
describe.skipIf(!hasPython)('the reader in another language, of the documentation', () => {
	it('is at most 200 lines, and shows of the demo what the player shows, in every clip and round', async () => {
		const script = 'docs/formats/read_clips.py';
		expect(readFileSync(script, 'utf8').split('\n').length).toBeLessThanOrEqual(201);
		const folder = mkdtempSync(join(tmpdir(), 'clips-'));
		let compared = 0;
		for (const doc of [makeQuay(), makeParcelSlip(), allShapes()]) {
			const { file, shipped } = await write(doc);
			const path = join(folder, 'a.clips.json');
			writeFileSync(path, shipped.bytes);
			const { clips, layout, parts } = readClips(file);
			const pose = layout.rest.slice();
			for (const [name, { motion, mix }] of clips) {
				// What is made of clips as they play is none of a file's curves.
				if (mix) continue;
				const seconds = [0, 0.123, 0.5, 0.777, 1.31, 2.9, 7.03];
				const { stdout, stderr } = spawnSync('python3', [script, path, name, ...seconds.map(String)], {
					encoding: 'utf8',
				});
				expect(stderr).toBe('');
				const lines = stdout.trim().split('\n');
				seconds.forEach((at, i) => {
					evaluateClip(motion, at * 72_000, pose);
					const shown = JSON.parse(lines[i]) as Record<string, number | number[]>;
					for (const [called, value] of Object.entries(shown)) {
						const [part, dotted] = called.split('/');
						expect(parts.map((own) => own.name)).toContain(part);
						const [path, component] = dotted.split('.');
						const from = placeOf(
							layout,
							part,
							path === 'rotation' ? 'angles' : path === 'orientation' ? 'rotation' : path,
						);
						const names = NAMED[path];
						const own = [value].flat();
						own.forEach((v, k) => {
							const place = from + (names ? names.indexOf(component) : k);
							expect(Math.abs(v - pose[place]), `${name}, ${called} at ${at} s`).toBeLessThan(
								1e-6 * Math.max(1, Math.abs(v)),
							);
							compared++;
						});
					}
				});
			}
		}
		expect(compared).toBeGreaterThan(400);
	});
});

describe('the schema and the example of the documentation', () => {
	const schema = JSON.parse(readFileSync('docs/schema/clip-file.schema.json', 'utf8')) as object;
	const validate = new Ajv({ allErrors: true, strict: false }).compile(schema);

	it('takes every file that is written, and no other', async () => {
		for (const doc of [makeQuay(), makeParcelSlip(), allShapes()]) {
			const { file } = await write(doc);
			expect(validate(file) ? [] : validate.errors).toEqual([]);
			const [clip] = file.clips;
			const torn = { ...file, clips: [{ ...clip, curves: [{ ...clip.curves[0], times: [0.5] }] }] };
			expect(validate(torn)).toBe(false);
			expect(validate({ ...file, author: 'x' })).toBe(false);
		}
	});

	it('plays as the text says', () => {
		const text = readFileSync('docs/formats/clip.md', 'utf8');
		const file = JSON.parse(/```json\n([^`]*)```/.exec(text)![1]) as ClipFile;
		expect(validate(file) ? [] : validate.errors).toEqual([]);
		const { clips, layout } = readClips(file);
		const { motion, cues } = clips.get('ring')!;
		const pose = layout.rest.slice();
		const at = (part: string, path: string, k: number, ticks: number) => {
			evaluateClip(motion, ticks, pose);
			return pose[placeOf(layout, part, path) + k];
		};
		expect([0, 36_000, 144_000, 147_000].map((t) => at('bell', 'angles', 2, t))).toEqual([10, 40, 10, 10]);
		expect([0, 72_000, 144_000].map((t) => at('buoy', 'translation', 1, t))).toEqual([0, 0.25, 0]);
		expect(at('buoy', 'translation', 0, 5)).toBe(3);
		// The handles of the cubic: 0.3 m up from the first key within a third of the span.
		expect((72_000 / 3) * at('buoy', 'translation', 1, 1)).toBeCloseTo(0.3, 3);
		expect(at('bell', 'angles', 2, 151_200 + 36_000)).toBe(40);
		expect(cues[0].payload).toEqual({ loudness: 0.8 });
	});
});
