import fc from 'fast-check';
import { BVHLoader } from 'three/addons/loaders/BVHLoader.js';
import { Matrix4, Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { TICKS_PER_SECOND } from '../../../player/time';
import { clipsInOrder, type Doc } from '../../document/types';
import { shownAt } from '../../testing';
import { worldMatrix } from '../../clip/path';
import { takeBvh } from './read';

const take = async (text: string) =>
	takeBvh({ bytes: new TextEncoder().encode(text), name: 'walk', sha256: '' });
async function read(text: string): Promise<{ doc: Doc; leftOut: string[] }> {
	const taken = await take(text);
	if (!taken.ok) throw new Error(taken.problems[0].message);
	return taken.value;
}

const ROOT = 'Xposition Yposition Zposition';
const ORDERS = [
	'Zrotation Xrotation Yrotation',
	'Xrotation Yrotation Zrotation',
	'Yrotation Zrotation Xrotation',
];
const ARM = `HIERARCHY
ROOT hips
{
	OFFSET 0 1 0
	CHANNELS 6 ${ROOT} ${ORDERS[0]}
	JOINT arm
	{
		OFFSET 0 0.5 0
		CHANNELS 3 ${ORDERS[1]}
		End Site
		{
			OFFSET 0.4 0 0
		}
	}
}
MOTION
Frames: 3
Frame Time: 0.02
0 0 0  0 0 0   0 0 0
1 0 0  0 0 170  0 30 0
2 0 0  0 0 -170  0 60 10
`;

describe('a skeleton with motion', () => {
	it('comes in as a part a joint, drawn along its bone, with keys at the frames', async () => {
		const { doc, leftOut } = await read(ARM);
		expect(leftOut).toEqual([]);
		const [hips, arm] = Object.values(doc.parts);
		expect([hips.name, hips.parent, hips.eulerOrder]).toEqual(['hips', null, 'ZXY']);
		expect([arm.name, arm.parent, arm.eulerOrder]).toEqual(['arm', hips.id, 'XYZ']);
		expect(arm.drawing).toMatchObject({ kind: 'box', offset: [0.2, 0, 0] });
		const [clip] = clipsInOrder(doc);
		expect([clip.length, doc.project.frameRate]).toEqual([0.04 * TICKS_PER_SECOND, 50]);
		// 170° to −170° is a turn by 20°, not back by 340°.
		const turn = doc.channels[`${clip.id}/${hips.id}/rotation/y`];
		expect(turn.keys.map(({ v }) => v)).toEqual([0, 170, 190]);
	});

	it('is read as three.js reads it, at every joint and frame', async () => {
		const angle = fc.double({ min: -360, max: 360, noNaN: true });
		const place = fc.double({ min: -1, max: 1, noNaN: true });
		const joints = fc.array(
			fc.record({
				up: fc.nat(3),
				order: fc.constantFrom(...ORDERS),
				moves: fc.boolean(),
				at: fc.tuple(place, place, place),
			}),
			{ minLength: 1, maxLength: 7 },
		);
		await fc.assert(
			fc.asyncProperty(
				joints,
				fc.array(fc.tuple(angle, place), { minLength: 1, maxLength: 90 }),
				async (tree, numbers) => {
					// A tree in which each joint hangs on one of the last few before it.
					const children = tree.map((_, i) =>
						tree.flatMap((own, j) => (j > 0 && Math.max(0, j - 1 - own.up) === i ? [j] : [])),
					);
					const inOrder: number[] = [];
					const block = (i: number): string => {
						inOrder.push(i);
						const { order, moves, at } = tree[i];
						const head = i === 0 ? 'ROOT' : 'JOINT';
						const channels = moves ? `6 ${ROOT} ${order}` : `3 ${order}`;
						const below = children[i].map(block).join('');
						return `${head} j${i}\n{\nOFFSET ${at.join(' ')}\nCHANNELS ${channels}\n${below || 'End Site \n{\nOFFSET 0 1 0\n}\n'}}\n`;
					};
					const hierarchy = block(0);
					const frames = 4;
					let n = 0;
					const rows = Array.from({ length: frames }, () =>
						inOrder
							.flatMap((i) => [
								...(tree[i].moves ? [0, 1, 2].map(() => numbers[n++ % numbers.length][1]) : []),
								...[0, 1, 2].map(() => numbers[n++ % numbers.length][0]),
							])
							.join(' '),
					);
					const text = `HIERARCHY\n${hierarchy}MOTION\nFrames: ${frames}\nFrame Time: 0.0333333\n${rows.join('\n')}\n`;
					const taken = await take(text);
					// Numbers may be such that nothing moves.
					if (!taken.ok) {
						expect(taken.problems[0].message).toBe('Nothing moves in this file.');
						return;
					}
					const { doc } = taken.value;
					const { skeleton, clip } = new BVHLoader().parse(text);
					const byName = new Map(Object.values(doc.parts).map((part) => [part.name, part]));
					const [own] = clipsInOrder(doc);
					for (let frame = 0; frame < frames; frame++) {
						const ticks = Math.round(frame * 0.0333333 * TICKS_PER_SECOND);
						const { posed } = shownAt(doc, own.id, ticks);
						const world = new Map<string, Matrix4>();
						for (const bone of skeleton.bones) {
							if (bone.name === 'ENDSITE') continue;
							const [p, q] = ['position', 'quaternion'].map((kind) =>
								clip.tracks.find(({ name }) => name === `${bone.name}.${kind}`),
							);
							const local = new Matrix4().compose(
								p ? new Vector3().fromArray(p.values, 3 * frame) : bone.position,
								q ? new Quaternion().fromArray(q.values, 4 * frame) : new Quaternion(),
								new Vector3(1, 1, 1),
							);
							const above = bone.parent ? world.get(bone.parent.name) : undefined;
							world.set(bone.name, above ? above.clone().multiply(local) : local);
							const ours = worldMatrix(
								shownAt(doc, own.id, ticks).compiled,
								byName.get(bone.name)!.id,
								posed,
							);
							world
								.get(bone.name)!
								.elements.forEach((v, k) => expect(Math.abs(v - ours![k])).toBeLessThan(2e-5));
						}
					}
				},
			),
			{ numRuns: 40 },
		);
	});

	it('reads tabs, exponents, any case, names of several words, colons apart, ends with names', async () => {
		const odd = ARM.replace('ROOT hips', 'root\tthe hips ')
			.replace('End Site', 'end site finger')
			.replace('Frames: 3', 'FRAMES :\t3')
			.replace('Frame Time: 0.02', 'frame time:\r\n2.0e-2')
			.replace('OFFSET 0 1 0', 'offset +0\t1E0 -0.0');
		const { doc } = await read(odd.replaceAll('\n', '\r\n'));
		expect(Object.values(doc.parts)[0]).toMatchObject({
			name: 'the hips',
			rest: { translation: [0, 1, -0] },
		});
		expect(clipsInOrder(doc)[0].length).toBe(0.04 * TICKS_PER_SECOND);
	});

	it('takes what is whole of too few frames, and centimetres as such, and says so', async () => {
		const large = ARM.replace('OFFSET 0 0.5 0', 'OFFSET 0 50 0')
			.replace('OFFSET 0.4 0 0', 'OFFSET 40 0 0')
			.replace('Frames: 3', 'Frames: 9');
		const { doc, leftOut } = await read(large);
		expect(leftOut).toEqual([
			'frames: it says it has 9, and 3 are whole',
			'units: the file names none; its lengths are read as centimetres',
		]);
		expect(Object.values(doc.parts)[1].rest.translation).toEqual([0, 0.5, 0]);
	});

	it.each<[string, (text: string) => string, RegExp]>([
		['no motion', (text) => text.slice(0, text.indexOf('MOTION')), /no MOTION/],
		['a negative frame time', (text) => text.replace('0.02', '-0.02'), /Line 18: a frame time of -0.02 s/],
		[
			'no frame time',
			(text) => text.replace('Frame Time: 0.02', ''),
			/Line 19: FRAME TIME should be here, not “0”/,
		],
		['no frames', (text) => text.replace('Frames: 3', 'Frames: 0'), /Line 17: there has to be one frame/],
		['frames beyond number', (text) => text.replace('Frames: 3', 'Frames: 90000000'), /are too many/],
		['a row too many', (text) => `${text}7\n`, /Line 22: there is more here than the 3 frames/],
		['a word in a row', (text) => text.replace('170', 'NaN'), /Line 20: “NaN” is no number/],
		['a comma for a point', (text) => text.replace('0.5', '0,5'), /Line 8: “0,5” is no number/],
		[
			'an unknown channel',
			(text) => text.replace('Zrotation', 'Wrotation'),
			/Line 5: “wrotation” is no channel/,
		],
		['a channel twice', (text) => text.replace('Zrotation', 'Yrotation'), /Line 5: yrotation is here twice/],
		['an open joint', (text) => text.replace('}\nMOTION', 'MOTION'), /“hips” is not closed/],
		[
			'a brace too many',
			(text) => text.replace('}\nMOTION', '}\n}\nMOTION'),
			/Line 16: this brace closes nothing/,
		],
		[
			'an end without a joint',
			() => 'HIERARCHY End Site { OFFSET 0 0 0 }',
			/an end has to be within a joint/,
		],
		[
			'a joint without a root',
			() => 'HIERARCHY JOINT a { OFFSET 0 0 0 }',
			/a joint has to be within another/,
		],
		['nothing', () => 'HIERARCHY', /there is no joint/],
		['its end in the middle', (text) => text.slice(0, 77), /The file ends where/],
	])('%s is refused with its line', async (_, change, message) => {
		const taken = await take(change(ARM));
		expect(taken.ok ? '' : taken.problems[0].message).toMatch(message);
	});

	it('of anything that is changed in it, it says what is wrong, or reads it', async () => {
		await fc.assert(
			fc.asyncProperty(
				fc.nat(ARM.length),
				fc.nat(30),
				fc.constantFrom('', '{', '}', ' 1e999 ', ' -1 ', 'JOINT', 'CHANNELS 9', '\0', '\n'),
				async (at, length, put) => {
					const taken = await take(ARM.slice(0, at) + put + ARM.slice(at + length));
					if (!taken.ok)
						expect(taken.problems[0].message).toMatch(
							/^(Line \d+: |The file ends|It has no|Nothing moves|HIERARCHY)/,
						);
				},
			),
			{ numRuns: 400 },
		);
	});
});
