/** glTF files that nobody should believe: each is refused with a sentence and a place, or comes in with all that is left out told. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeQuay } from '../../../demo/quay';
import { clipsInOrder } from '../../document/types';
import { binaryFile } from './compact';
import { readGltf } from './read';
import { shipGltf } from './testing';

interface Json {
	[name: string]: any; // eslint-disable-line @typescript-eslint/no-explicit-any
}
const quay = makeQuay();
const glb = (await shipGltf(quay, clipsInOrder(quay), { switches: { curvesOnly: true } })).bytes;

/** The JSON and the numbers of the file. */
function taken(): { json: Json; numbers: Uint8Array } {
	const view = new DataView(glb.buffer, glb.byteOffset, glb.byteLength);
	const length = view.getUint32(12, true);
	return {
		json: JSON.parse(new TextDecoder().decode(glb.subarray(20, 20 + length))) as Json,
		numbers: glb.slice(20 + length + 8),
	};
}
async function changed(change: (json: Json, numbers: Uint8Array) => void) {
	const { json, numbers } = taken();
	change(json, numbers);
	return readGltf(binaryFile(json as never, numbers), 'changed');
}

/** What refusals never are: the language's own words. */
const RAW =
	/undefined|is not a function|is not iterable|Cannot read|call stack|Invalid array length|\[object|NaN|offset is out/;

describe('a glTF file', () => {
	it.each<[string, (json: Json, numbers: Uint8Array) => void, RegExp]>([
		['whose lists are none', (json) => (json.buffers = 7), /“buffers” must be a list/],
		['with a number for a name', (json) => (json.nodes[0].name = 4), /A name must be a text/],
		['of a node that hangs on itself', (json) => (json.nodes[0].children = [0]), /ring|hangs on/],
		[
			'of nodes in a chain without an end',
			(json) => {
				json.nodes = Array.from({ length: 100_000 }, (_, i) => ({
					children: i < 99_999 ? [i + 1] : undefined,
				}));
				json.scenes = [{ nodes: [0] }];
			},
			/more than 1000 deep/,
		],
		['that counts beyond all', (json) => (json.accessors[0].count = 5e7), /more than|not where/],
		['that counts less than nothing', (json) => (json.accessors[0].count = -3), /whole number above 0/],
		[
			'whose sampler has no input',
			(json) => delete json.animations[0].samplers[0].input,
			/an input and an output/,
		],
		['without samplers', (json) => delete json.animations[0].samplers, /list of samplers/],
		[
			'whose channel leads nowhere',
			(json) => (json.animations[0].channels[0].sampler = 99),
			/no such sampler/,
		],
		[
			'of another interpolation',
			(json) => (json.animations[0].samplers[0].interpolation = 'CURVE'),
			/no interpolation "CURVE"/,
		],
		['of another version', (json) => (json.asset.version = '1.0'), /version is "1\.0"/],
		[
			'whose times run back',
			(json, numbers) => {
				const { input } = json.animations[0].samplers[0];
				const at = json.accessors[input].byteOffset ?? 0;
				new DataView(numbers.buffer).setFloat32(at + 4, 99, true);
			},
			/key times are not in order/,
		],
		[
			'that is longer than any clip',
			(json, numbers) => {
				const { input } = json.animations[0].samplers[0];
				const { byteOffset = 0, count } = json.accessors[input];
				new DataView(numbers.buffer).setFloat32(byteOffset + 4 * (count - 1), 700, true);
			},
			/lasts 700 s; 600 s is the longest clip/,
		],
		[
			'with numbers that are none',
			(json, numbers) => {
				const { output } = json.animations[0].samplers[0];
				new DataView(numbers.buffer).setFloat32(json.accessors[output].byteOffset ?? 0, NaN, true);
			},
			/numbers that are none/,
		],
	])('%s is refused: it says why', async (_, change, message) => {
		const result = await changed(change);
		expect(result.ok).toBe(false);
		if (!result.ok) expect(result.problems[0].message).toMatch(message);
	});

	it('with odd extras comes in, and tells what it left', async () => {
		const result = await changed((json) => {
			json.animations[0].extras = {
				hillock: {
					loop: { mode: 'repeat', count: -3, pause: 'long' },
					cues: [{ name: 4 }, { name: 'thump', time: 1e9 }],
					accumulates: 5,
				},
			};
			json.animations[1].name = `${'a'.repeat(119)}👍`;
		});
		if (!result.ok) throw new Error(result.problems[0].message);
		const { doc, leftOut } = result.value;
		expect(leftOut.filter((text) => text.startsWith('sack drop'))).toEqual([
			'sack drop: a cue without a name or a time',
			'sack drop: its number of iterations',
			'sack drop: its pause',
		]);
		const [first, second] = clipsInOrder(doc);
		expect(first.loop).toEqual({ mode: 'repeat', count: null, pause: 0 });
		expect(Object.values(doc.cues).find(({ clip, name }) => clip === first.id && name === 'thump')?.t).toBe(
			first.length,
		);
		expect(second.name).toBe('a'.repeat(119));
	});

	it('changed anywhere never ends in words of the language, nor takes in what is not checked', async () => {
		const paths: (string | number)[][] = [];
		const walk = (value: unknown, path: (string | number)[]) => {
			if (path.length > 0) paths.push(path);
			if (typeof value !== 'object' || value === null || path.length > 5) return;
			for (const [key, own] of Object.entries(value).slice(0, 4))
				walk(own, [...path, Array.isArray(value) ? Number(key) : key]);
		};
		walk(taken().json, []);
		const value = fc.constantFrom<unknown>(
			null,
			-1,
			0,
			1e9,
			0.5,
			'x',
			'',
			[],
			{},
			true,
			[null],
			[[]],
			'👍'.repeat(99),
		);
		await fc.assert(
			fc.asyncProperty(fc.constantFrom(...paths), value, async (path, own) => {
				const result = await changed((json) => {
					const above = path.slice(0, -1).reduce<Json>((at, key) => at[key] as Json, json);
					above[path.at(-1)!] = own;
				});
				if (result.ok) return;
				const [{ message }] = result.problems;
				expect(message).toMatch(/^(glTF|[A-Z“]).{10,}/su);
				expect(message).not.toMatch(RAW);
			}),
			{ numRuns: 100 },
		);
	});

	it('torn anywhere is refused', async () => {
		await fc.assert(
			fc.asyncProperty(fc.nat(glb.length - 2), async (length) => {
				const result = await readGltf(glb.slice(0, length + 1), 'torn');
				expect(result.ok).toBe(false);
				if (!result.ok) expect(result.problems[0].message).not.toMatch(RAW);
			}),
			{ numRuns: 80 },
		);
	});
});
