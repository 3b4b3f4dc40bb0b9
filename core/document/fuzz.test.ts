/** Random and hostile documents through everything that reads them. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { makeParcelSlip } from '../../demo/parcel-slip';
import { makeQuay } from '../../demo/quay';
import { checkClip } from '../check/check';
import { compileClip } from '../clip/compile';
import { evaluateClip } from '../../player/motion';
import { fit } from '../fit/fit';
import { gltfTracks } from '../formats/gltf/testing';
import { VERSION } from './migrate';
import type { Doc } from './types';
import { validateDocument } from './validate';
import { between } from '../../player/testing';

type Json = null | boolean | number | string | Json[] | { [name: string]: Json };

const hostile = fc.oneof(
	fc.constantFrom<Json>(
		null,
		true,
		'',
		'__proto__',
		'constructor',
		'../../etc',
		-1,
		0,
		0.5,
		1e9,
		-1e9,
		1e300,
		43_200_000,
		[],
		{},
		[[]],
		{ kind: 'spring' },
		{ kind: 'spring', mass: 0.01, stiffness: 100_000, damping: 0.01, velocity: 1e6, time: 'real' },
		{ kind: 'spring', mass: 1000, stiffness: 0.01, damping: 10_000, velocity: -1e6, time: 'fitted' },
		{ kind: 'bounce', restitution: 0.99, count: 20 },
		{ kind: 'steps', count: 1000, jump: 'jump-both' },
		{ kind: 'family', family: 'elastic', way: 'in-out', amplitude: 10, period: 0.05 },
		{ kind: 'handles' },
		{ mode: 'split', reach: 1, rise: 1e9 },
		{
			kind: 'stops',
			stops: [
				{ x: 0, y: -100 },
				{ x: 0, y: 100 },
			],
		},
	),
	fc.double({ noNaN: true, noDefaultInfinity: true }) as fc.Arbitrary<Json>,
	fc.string({ maxLength: 30 }) as fc.Arbitrary<Json>,
);

/** Puts a value at the place that a walk of choices leads to. */
function spoil(root: Json, choices: readonly number[], value: Json): void {
	let at = root;
	for (const [i, choice] of choices.entries()) {
		if (typeof at !== 'object' || at === null) return;
		const names = Object.keys(at);
		if (names.length === 0) return;
		const name = names[choice % names.length];
		const holder = at as Record<string, Json>;
		const next = holder[name];
		if (i === choices.length - 1 || typeof next !== 'object' || next === null) {
			holder[name] = value;
			return;
		}
		at = next;
	}
}

const documents: Doc[] = [makeQuay(), makeParcelSlip()];

/** Places within the keys of some channel: of its value (1) or its shape (2). */
const inKey = (member: 1 | 2) =>
	fc.tuple(fc.constant(5), fc.nat(1000), fc.constant(6), fc.nat(1000), fc.constant(member));
const shapes = hostile.filter((value) => typeof value === 'object' && value !== null && 'kind' in value);

/** Anything anywhere; or, as often, what a key may well be, however wild. */
const spoils = fc.oneof(
	fc.tuple(fc.array(fc.nat(1000), { minLength: 1, maxLength: 8 }), hostile),
	fc.tuple(inKey(1), between(-1e9, 1e9) as fc.Arbitrary<Json>),
	fc.tuple(inKey(2), shapes),
);

it('whatever is in a document, it is refused with a place, or it plays without a number that is none', () => {
	let taken = 0;
	fc.assert(
		fc.property(
			fc.nat(1),
			fc.array(spoils, {
				minLength: 1,
				maxLength: 2,
			}),
			(which, list) => {
				const file = JSON.parse(
					JSON.stringify({ format: 'hillock-project', version: VERSION, ...documents[which] }),
				) as Json;
				for (const [choices, value] of list) spoil(file, choices, value);
				const checked = validateDocument(file);
				if (!checked.ok) {
					expect(checked.problems[0].message.length).toBeGreaterThan(5);
					return;
				}
				taken++;
				for (const clip of Object.values(checked.value.clips)) {
					const compiled = compileClip(checked.value, clip);
					const pose = compiled.layout.rest.slice();
					for (const t of [0, 1, 12_345, clip.length, 7.5 * clip.length, 1e12]) {
						evaluateClip(compiled, t, pose);
						expect(pose.every(Number.isFinite)).toBe(true);
					}
					for (const finding of checkClip(checked.value, clip)) expect(finding.t).toBeGreaterThanOrEqual(0);
				}
			},
		),
		{ numRuns: 400, endOnFailure: true },
	);
	// Enough of them must be good for this to say something.
	expect(taken).toBeGreaterThan(60);
});

it('the fit of any channel that a document can hold ends, with keys that are numbers or a plain refusal', () => {
	const id = 'sack-drop/mail-sack/translation/y';
	fc.assert(
		fc.property(
			fc.array(fc.tuple(shapes, fc.integer({ min: -1e9, max: 1e9 })), { minLength: 2, maxLength: 4 }),
			(spans) => {
				const keys = spans.map(([own, v], i) => ({ t: 20_000 * i, v, shape: own }));
				const doc = documents[0];
				const file = {
					format: 'hillock-project',
					version: VERSION,
					...doc,
					channels: { [id]: { ...doc.channels[id], keys } },
				};
				const checked = validateDocument(file);
				if (!checked.ok) return;
				const clip = checked.value.clips['sack-drop'];
				const own = gltfTracks(checked.value, clip).filter(({ part }) => part.id === 'mail-sack');
				for (const path of own) {
					try {
						const { sampler, error } = fit(path.source, 0.01 * Math.max(path.range, 1e-6));
						expect(sampler.times.every(Number.isFinite) && sampler.values.every(Number.isFinite)).toBe(true);
						expect(error).toBeLessThanOrEqual(0.01 * Math.max(path.range, 1e-6));
					} catch (problem) {
						expect(problem).toBeInstanceOf(RangeError);
					}
				}
			},
		),
		{ numRuns: 40, endOnFailure: true },
	);
});
