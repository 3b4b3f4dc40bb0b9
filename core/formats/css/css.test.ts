import { strFromU8 } from 'fflate';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linear, ONCE, ProjectBuilder, REPEAT, type KeyRow } from '../../../demo/builder';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import { between } from '../../../player/testing';
import type { Shape } from '../../../player/easing/shape';
import { clipsInOrder, type Doc } from '../../document/types';
import { formatOf } from '../registry';
import { cssShipper } from './shipping';
import { identifier } from './identifier';

const ship = (doc: Doc, relative = 0.001) =>
	cssShipper.ship(doc, clipsInOrder(doc), { bounds: { relative } });
const card = () =>
	new ProjectBuilder('Card', 'interface', 60).part('card', { kind: 'card', size: [80, 40, 0], radius: 4 });
const sheetOf = async (doc: Doc) => strFromU8((await ship(doc)).bytes);

describe('a style sheet', () => {
	it('keeps the keys and the easings that CSS has', async () => {
		const doc = card()
			.startClip('slide', 60, ONCE)
			.keys('card', 'translation.x', [
				[0, 0, { kind: 'bezier', x1: 0.3, y1: 0, x2: 0.2, y2: 1.4 }],
				[30, 90, { kind: 'hold' }],
				[45, 10, { kind: 'steps', count: 4, jump: 'jump-end' }],
				[60, 50],
			])
			.build();
		const { clips } = await ship(doc);
		expect(await sheetOf(doc)).toContain(
			[
				'	0% { translate: 0px 0px; animation-timing-function: cubic-bezier(0.3, 0, 0.2, 1.4) }',
				'	50% { translate: 90px 0px; animation-timing-function: step-end }',
				'	75% { translate: 10px 0px; animation-timing-function: steps(4, jump-end) }',
				'	100% { translate: 50px 0px }',
			].join('\n'),
		);
		expect(clips[0].tracks).toMatchObject([{ encoding: 'easings', exact: true, keys: 4 }]);
	});

	it('has keys of several numbers together where they share their times and shapes, and straight ones else', async () => {
		const spring: Shape = { kind: 'spring', mass: 1, stiffness: 90, damping: 8, velocity: 0, time: 'fitted' };
		const both = (y: KeyRow[]) =>
			card()
				.startClip('slide', 60, ONCE)
				.keys('card', 'scale.x', [
					[0, 1, spring],
					[60, 2],
				])
				.keys('card', 'scale.y', y)
				.build();
		const shared = await ship(
			both([
				[0, 3, spring],
				[60, 1],
			]),
		);
		expect(shared.clips[0].tracks).toMatchObject([{ encoding: 'linear()', keys: 2 }]);
		const apart = await ship(
			both([
				[0, 3, linear],
				[60, 1],
			]),
		);
		expect(apart.clips[0].tracks[0].encoding).toBe('straight');
		expect(apart.clips[0].tracks[0].keys).toBeGreaterThan(5);
	});

	it('keeps its bound whatever moves, and is smaller than a frame for a frame', async () => {
		const shape: fc.Arbitrary<Shape> = fc.oneof(
			fc.constantFrom<Shape>(
				{ kind: 'linear' },
				{ kind: 'hold' },
				{ kind: 'fall' },
				{ kind: 'rise' },
				{ kind: 'family', family: 'elastic', way: 'out' },
				{ kind: 'family', family: 'back', way: 'in-out' },
				{ kind: 'bounce', restitution: 0.6, count: 4 },
				{ kind: 'steps', count: 3, jump: 'jump-none' },
				{ kind: 'spring', mass: 1, stiffness: 300, damping: 9, velocity: 0, time: 'real' },
				{ kind: 'handles' },
			),
			fc.record({ kind: fc.constant('eased' as const), start: between(0, 1), finish: between(0, 1) }),
		);
		const rows = (low: number, high: number) =>
			fc
				.array(fc.tuple(fc.integer({ min: 0, max: 60 }), between(low, high), shape), {
					minLength: 1,
					maxLength: 5,
				})
				.map(
					(all) =>
						[...new Map(all.map((row) => [row[0], row])).values()].sort((a, b) => a[0] - b[0]) as KeyRow[],
				);
		const loop = fc.constantFrom(
			ONCE,
			REPEAT,
			{ mode: 'alternate', count: 4, pause: 3600 } as const,
			{ mode: 'repeat', count: 2, pause: 999 } as const,
		);
		await fc.assert(
			fc.asyncProperty(
				rows(-300, 300),
				rows(-300, 300),
				rows(-400, 400),
				rows(-90, 90),
				rows(0, 1),
				loop,
				between(0.0003, 0.02),
				async (x, y, z, turn, opacity, own, bound) => {
					const doc = card()
						.startClip('any', 60, own)
						.keys('card', 'translation.x', x)
						.keys('card', 'translation.y', y)
						.keys('card', 'rotation.z', z)
						.keys('card', 'rotation.x', turn)
						.keys('card', 'opacity', opacity)
						.build();
					const { clips } = await ship(doc, bound);
					for (const track of clips[0].tracks) expect(track.error).toBeLessThanOrEqual(track.bound);
					expect(clips[0].tracks.length).toBe(3);
				},
			),
			{ numRuns: 80 },
		);
	});

	it('says what it leaves out, and is for interfaces alone', async () => {
		const doc = card()
			.startClip('on', 60, REPEAT)
			.keys(
				'card',
				'translation.x',
				[
					[0, 0],
					[60, 9],
				],
				true,
			)
			.build();
		expect((await ship(doc)).clips[0].leftOut).toEqual([
			{ part: 'card', what: 'translation x', why: expect.stringMatching(/adds up/) },
		]);
		await expect(ship(makeQuay())).rejects.toThrow(/this project is a world/);
	});

	it('has the same bytes each time, and is known for what it is', async () => {
		const [one, other] = [await ship(makeParcelSlip()), await ship(makeParcelSlip())];
		expect(one.bytes).toEqual(other.bytes);
		expect(formatOf(one.bytes, 'slip.css')?.id).toBe('css');
	});

	it('takes any name: no class begins with a digit, two of one sound are told apart', async () => {
		expect([identifier('2nd Try!'), identifier('Ärger'), identifier('***')]).toEqual([
			'c-2nd-try',
			'ärger',
			'project',
		]);
		const odd = '"*/ } body { color: red } \\';
		const doc = new ProjectBuilder(odd, 'interface', 60)
			.part(odd, { kind: 'card', size: [80, 40, 0], radius: 4 })
			.startClip('Slide in', 60, ONCE)
			.keys(odd, 'opacity', [
				[0, 0],
				[60, 1],
			])
			.startClip('other', 60, ONCE)
			.keys(odd, 'opacity', [
				[0, 1],
				[60, 0],
			])
			.build();
		const clips = { ...doc.clips, other: { ...doc.clips.other, name: 'slide-in!' } };
		const sheet = await sheetOf({ ...doc, clips });
		expect(sheet.match(/@keyframes [^ ]+/g)).toEqual([
			'@keyframes slide-in--body-color-red--opacity',
			'@keyframes slide-in-2--body-color-red--opacity',
		]);
		expect(sheet.slice(0, sheet.indexOf('.slide-in '))).not.toMatch(/\*\/[^]*\*\//);
		expect(sheet).toContain('[data-part="\\"*/ } body { color: red } \\\\"]');
	});
});
