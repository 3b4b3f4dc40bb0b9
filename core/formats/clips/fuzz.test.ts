/** Clip files with something wrong in them: refused with the place of it, or played as a whole. */
import { strFromU8 } from 'fflate';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import { readClips } from '../../../player/file/read';
import { evaluateClip } from '../../../player/motion';
import { Player } from '../../../player/player';
import { clipsInOrder, type Doc } from '../../document/types';
import { DEFAULT_BOUNDS } from '../../tracks/bounds';
import { draftClips } from './shipping';

const textOf = (doc: Doc) => strFromU8(draftClips(doc, clipsInOrder(doc), DEFAULT_BOUNDS));
const TEXTS = [textOf(makeQuay()), textOf(makeParcelSlip())];

/** Every place in a JSON value. */
function places(value: unknown, path: (string | number)[] = []): (string | number)[][] {
	if (typeof value !== 'object' || value === null) return [path];
	const own = Object.entries(value).flatMap(([key, member]) =>
		places(member, [...path, Array.isArray(value) ? Number(key) : key]),
	);
	return [path, ...own];
}
const PLACES = TEXTS.map((text) => places(JSON.parse(text)).slice(1));

const odd = fc.oneof(
	fc.constantFrom<unknown>(
		null,
		true,
		'',
		'x',
		-1,
		0,
		1,
		2,
		3,
		4,
		0.5,
		1e9,
		-1e9,
		1e300,
		2 ** 60,
		[],
		{},
		[1],
		[[]],
		'hasOwnProperty',
		'__proto__',
	),
	fc.integer({ min: -40, max: 40 }),
	fc.constant(undefined),
);

/** The file with one place changed: undefined takes the member away. */
function changed(file: unknown, path: readonly (string | number)[], to: unknown): unknown {
	const holder = path.slice(0, -1).reduce((at, key) => (at as Record<string, unknown>)?.[key], file);
	const last = path.at(-1)!;
	if (typeof holder !== 'object' || holder === null) return file;
	if (to !== undefined) (holder as Record<string, unknown>)[last] = to;
	else if (Array.isArray(holder)) holder.splice(Number(last), 1);
	else delete (holder as Record<string, unknown>)[last];
	return file;
}

/** Whether all of a file can be played, whatever is done: every pose is of numbers. */
function playsWhole(file: unknown): boolean {
	const set = readClips(file);
	const pose = set.layout.rest.slice();
	const isSound = (numbers: Float64Array) => numbers.every(Number.isFinite);
	for (const { motion } of set.clips.values())
		for (const ticks of [0, 1, 7201, motion.length / 2, motion.length, 3.3 * motion.length]) {
			evaluateClip(motion, ticks, pose);
			if (!isSound(pose)) return false;
		}
	const player = new Player(set, { oncue: () => {}, onend: () => {}, onmessage: () => {} });
	player.start();
	for (const { when } of set.triggers ?? [])
		if (when.kind === 'parameter') player.set(when.name, when.value + 1);
		else player.send(when);
	for (const clip of set.clips.keys()) player.play({ clip });
	for (let i = 0; i < 4; i++) {
		player.advance(0.37);
		if (!isSound(player.pose)) return false;
	}
	return true;
}

describe('a clip file', () => {
	it('that is whole is taken', () => {
		for (const text of TEXTS) expect(playsWhole(JSON.parse(text))).toBe(true);
	});

	it('with one to three places changed is refused with a pointer, or plays as a whole', () => {
		let refused = 0;
		let played = 0;
		const edits = fc
			.nat(1)
			.chain((which) =>
				fc.tuple(
					fc.constant(which),
					fc.array(fc.tuple(fc.constantFrom(...PLACES[which]), odd), { minLength: 1, maxLength: 3 }),
				),
			);
		fc.assert(
			fc.property(edits, ([which, list]) => {
				const file = list.reduce(
					(at, [path, to]) => changed(at, path, to),
					JSON.parse(TEXTS[which]) as unknown,
				);
				let isRefused = false;
				try {
					readClips(file);
				} catch (error) {
					expect(error).toBeInstanceOf(TypeError);
					expect((error as Error).message).toMatch(/^(\/[^:]*: |this is no clip file|clip files of version)/);
					isRefused = true;
				}
				if (isRefused) refused++;
				else {
					expect(playsWhole(file)).toBe(true);
					played++;
				}
			}),
			{ numRuns: 3000 },
		);
		// Both happen, or the one is not tried.
		expect(Math.min(refused, played)).toBeGreaterThan(100);
	});

	it.each([
		['/parts/1/parent', { parts: [{ name: 'a' }, { name: 'b', parent: 1 }] }],
		['/clips/0/curves/0/values', { values: [0] }],
		['/clips/0/curves/0/times/1', { times: [0, 0] }],
		['/clips/0/curves/0/spans/0', { spans: [9] }],
		['/clips/0/curves/0/path', { path: 'translation' }],
		['/clips/0/curves/0/part', { part: 4 }],
	])('tells of %s', (pointer, { parts = [{ name: 'a' }], ...own }: Record<string, unknown>) => {
		const curve = {
			part: 0,
			path: 'translation.x',
			times: [0, 9],
			quantum: 1,
			values: [0, 1],
			spans: [1],
			...own,
		};
		const file = {
			format: 'hillock-clips',
			version: 1,
			ticks: 72_000,
			space: 'world',
			parts,
			shapes: [],
			blends: [],
			clips: [{ name: 'c', length: 9, curves: [curve] }],
		};
		expect(() => readClips(file)).toThrow(new RegExp(`^${pointer}: `));
	});
});
