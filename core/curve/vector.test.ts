import { converter, interpolate } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evaluateCurve } from '../../player/curve/evaluate';
import { vectorOf } from '../clip/compile';
import { compileCurve } from './compile';
import { PLAYS_ONCE } from './handles';
import { compileVector } from './vector';
import { colourIn, rotationIn } from '../clip/layout';
import { expandSpans, insertKey, setModes, setShape, setValue, setVector } from '../edits/keys';
import { holdPose, reverseKeys } from '../edits/retime';
import { VERSION } from '../document/migrate';
import { channelId, type Doc, type VectorChannel } from '../document/types';
import { COLOUR_SPACES } from '../../player/maths/colour';
import { validateDocument } from '../document/validate';
import { ProjectBuilder, ONCE } from '../../demo/builder';
import { mixColours, oklabFromLinear, linearFromSrgb } from '../../player/maths/colour';
import { parseHex, writeHex } from '../pose/hex';
import { angleBetween, axisTurn, fromEuler, slerp, type Quaternion } from '../../player/maths/quaternion';
import { evaluateVector } from '../../player/curve/vector';
import type { Four } from '../../player/maths/vector';
import type { Shape } from '../../player/easing/shape';
import { between } from '../../player/testing';
import { shownAt } from '../testing';

const share = between(0, 1);
const colour = fc.tuple(share, share, share, share) as fc.Arbitrary<Four>;
const quaternion = fc
	.tuple(...[0, 1, 2].map(() => between(-180, 180)))
	.map((euler) => fromEuler(euler, 'XYZ'));

describe('colours', () => {
	it.each([
		['linear', 'lrgb'],
		['srgb', 'rgb'],
		['oklab', 'oklab'],
	] as const)('are mixed in %s as another library mixes them', (space, mode) => {
		const rgb = converter('rgb');
		fc.assert(
			fc.property(colour, colour, share, (a, b, x) => {
				const out = [0, 0, 0, 0];
				mixColours(a, 0, b, 0, x, space, out, 0);
				const [from, to] = [a, b].map(([r, g, blue]) => ({ mode: 'rgb' as const, r, g, b: blue }));
				const theirs = rgb(interpolate([from, to], mode)(x));
				const clamp = (v: number) => Math.min(1, Math.max(0, v));
				[theirs.r, theirs.g, theirs.b].forEach((v, i) => expect(out[i]).toBeCloseTo(clamp(v), 4));
				expect(out[3]).toBeCloseTo(a[3] + (b[3] - a[3]) * x, 12);
			}),
		);
	});

	it('are exactly their own at both ends, and a grey half way is brighter in light than in numbers', () => {
		for (const space of COLOUR_SPACES) {
			const out = [0, 0, 0, 0];
			mixColours([0.2, 0.4, 0.6, 1], 0, [0.9, 0.1, 0.3, 0], 0, 1, space, out, 0);
			[0.9, 0.1, 0.3, 0].forEach((v, i) => expect(out[i]).toBeCloseTo(v, 6));
		}
		const half = (space: 'linear' | 'srgb') => {
			const out = [0, 0, 0, 0];
			mixColours([0, 0, 0, 1], 0, [1, 1, 1, 1], 0, 0.5, space, out, 0);
			return out[0];
		};
		expect(half('srgb')).toBe(0.5);
		expect(half('linear')).toBeCloseTo(0.7354, 4);
		expect(oklabFromLinear([1, 1, 1].map(linearFromSrgb))[0]).toBeCloseTo(1, 6);
		expect(writeHex(parseHex('#3e6b4f'))).toBe('#3e6b4f');
	});
});

const COLOUR = { clip: 'c', part: 'lamp', property: 'colour', component: 'value' } as const;
const TURN = { ...COLOUR, property: 'orientation' } as const;

it('before its first key a channel is at that key, even where its span starts with a jump', () => {
	const { keys, ends } = {
		keys: [5, 10].map((t, i) => ({ t, v: i })),
		ends: { before: 'hold', after: 'hold' } as const,
	};
	const shape: Shape = { kind: 'steps', count: 2, jump: 'jump-start' };
	const vectors = keys.map((key, i) => ({ ...key, shape, vector: [i, i, i, 1] as Four }));
	const curve = compileVector(vectors, ends, PLAYS_ONCE, 'srgb');
	const number = compileCurve(
		keys.map((key) => ({ ...key, shape })),
		ends,
		PLAYS_ONCE,
	);
	const out = [0, 0, 0, 0];
	for (const t of [0, 4.9, 5, 7, 8, 12]) {
		evaluateVector(curve, t, out);
		expect(out[0], `at ${t}`).toBeCloseTo(evaluateCurve(number, t), 12);
	}
	expect(evaluateCurve(number, 5)).toBe(0.5);
});

function lamp(): Doc {
	return new ProjectBuilder('Lamp', 'world', 30)
		.part('lamp', { kind: 'box', size: [1, 1, 1] }, { colour: '#ff0000' })
		.startClip('c', 60, ONCE)
		.build();
}

function withKeys(address: typeof COLOUR | typeof TURN, rows: [number, Four, Shape][]): Doc {
	const id = channelId('c', 'lamp', address.property, 'value');
	return rows.reduce(
		(doc, [t, vector, shape]) =>
			setShape(setVector(doc, address, t, vector), new Map([[id, new Set([t])]]), shape),
		lamp(),
	);
}

function at(doc: Doc, property: 'colour' | 'orientation', t: number): number[] {
	const out = [0, 0, 0, 0];
	evaluateVector(vectorOf(doc.channels[channelId('c', 'lamp', property, 'value')], doc.clips.c), t, out);
	return out;
}

const RED: Four = [1, 0, 0, 1];
const BLUE: Four = [0, 0, 1, 1];
const linear: Shape = { kind: 'linear' };

const shapes = fc.constantFrom<Shape>(
	linear,
	{ kind: 'hold' },
	{ kind: 'eased', start: 0.7, finish: 0.2 },
	{ kind: 'fall' },
	{ kind: 'family', family: 'back', way: 'out' },
	{ kind: 'handles' },
);

describe('a channel of orientations', () => {
	const turns = fc.array(fc.tuple(quaternion, shapes), { minLength: 3, maxLength: 4 }).map((list) =>
		withKeys(
			TURN,
			list.map(([q, shape], i) => [i * 30_000, q, shape]),
		),
	);
	const id = channelId('c', 'lamp', 'orientation', 'value');

	it('turns the short way, at the pace of its shape', () => {
		const [a, b] = [axisTurn(1, 0), axisTurn(1, 90)];
		const doc = withKeys(TURN, [
			[0, a, { kind: 'fall' }],
			[60_000, b, linear],
		]);
		expect(angleBetween(at(doc, 'orientation', 30_000), a)).toBeCloseTo(22.5, 9);
		const angles = rotationIn(shownAt(doc, 'c', 30_000).posed, doc.parts.lamp);
		[0, 22.5, 0].forEach((v, k) => expect(angles[k]).toBeCloseTo(v, 9));
	});

	it('is not changed by a key put on it', () => {
		fc.assert(
			fc.property(turns, share, share, (doc, where, look) => {
				const t = Math.round(where * 60_000);
				const split = insertKey(doc, id, t);
				const off = angleBetween(
					at(split, 'orientation', look * 60_000),
					at(doc, 'orientation', look * 60_000),
				);
				// Families become handles first, within a thousandth of their turn.
				expect(off).toBeLessThan(0.5);
				if (!doc.channels[id].keys.some((key) => key.shape.kind === 'family')) expect(off).toBeLessThan(1e-4);
			}),
		);
	});

	it('with handles of its own is the same backwards', () => {
		const side = fc.record({
			mode: fc.constant('split' as const),
			reach: between(0.1, 0.9),
			rise: between(-0.6, 0.6),
		});
		fc.assert(
			fc.property(fc.array(fc.tuple(side, side), { minLength: 3, maxLength: 3 }), share, (sides, look) => {
				const plain = withKeys(TURN, [
					[0, axisTurn(1, 0), { kind: 'handles' }],
					[30_000, axisTurn(1, 70), { kind: 'handles' }],
					[60_000, axisTurn(1, 20), linear],
				]);
				const keys = plain.channels[id].keys.map((key, i) => ({
					...key,
					left: sides[i][0],
					right: sides[i][1],
				}));
				const doc: Doc = { ...plain, channels: { [id]: { ...plain.channels[id], keys } } };
				const turned = reverseKeys(doc, new Map([[id, new Set([0, 60_000])]]));
				const t = look * 60_000;
				const off = angleBetween(at(turned, 'orientation', 60_000 - t), at(doc, 'orientation', t));
				expect(off).toBeLessThan(1e-3);
			}),
		);
	});

	it('goes on turning the same way where a shape that overshoots past half a turn is split', () => {
		const doc = withKeys(TURN, [
			[0, axisTurn(2, 0), { kind: 'family', family: 'back', way: 'out' }],
			[30_000, axisTurn(2, 170), linear],
		]);
		// The overshoot is farthest about there: 187°.
		const split = insertKey(doc, id, 17_224);
		for (let t = 0; t <= 30_000; t += 250)
			expect(angleBetween(at(split, 'orientation', t), at(doc, 'orientation', t))).toBeLessThan(0.3);
	});

	it('comes again after its keys, or goes back and forth, whenever they begin', () => {
		const doc = withKeys(TURN, [
			[30_000, axisTurn(1, 20), linear],
			[60_000, axisTurn(1, 100), linear],
		]);
		const ending = (after: 'repeat' | 'alternate'): Doc => ({
			...doc,
			channels: { [id]: { ...doc.channels[id], ends: { before: after, after } } },
		});
		const angleAt = (of: Doc, t: number) => angleBetween(at(of, 'orientation', t), axisTurn(1, 0));
		expect(angleAt(ending('repeat'), 75_000)).toBeCloseTo(60, 6);
		expect(angleAt(ending('repeat'), 97_500)).toBeCloseTo(40, 6);
		expect(angleAt(ending('repeat'), 22_500)).toBeCloseTo(80, 6);
		expect(angleAt(ending('alternate'), 67_500)).toBeCloseTo(80, 6);
		expect(angleAt(ending('alternate'), 97_500)).toBeCloseTo(40, 6);
	});

	it('is the same backwards, and twice reversed what it was', () => {
		fc.assert(
			fc.property(turns, share, (doc, look) => {
				const { keys } = doc.channels[id];
				const [first, last] = [keys[0].t, keys.at(-1)!.t];
				const all = new Map([[id, new Set([first, last])]]);
				const turned = reverseKeys(doc, all);
				const t = first + look * (last - first);
				// A hold jumps at a key: on one side of it or the other.
				if (keys.some((key) => Math.abs(key.t - t) < 1)) return;
				const back = at(turned, 'orientation', first + last - t);
				expect(angleBetween(back, at(doc, 'orientation', t))).toBeLessThan(1e-3);
				expect(
					angleBetween(at(reverseKeys(turned, all), 'orientation', t), at(doc, 'orientation', t)),
				).toBeLessThan(1e-3);
			}),
		);
	});

	it('follows glTF tangents and stays of length 1', () => {
		const doc = withKeys(TURN, [
			[0, axisTurn(2, 0), linear],
			[36_000, axisTurn(2, 120), linear],
		]);
		const channel = doc.channels[id];
		const still: Four = [0, 0, 0, 0];
		const keys = (channel as VectorChannel).keys.map((key) => ({
			...key,
			shape: { kind: 'tangents' as const },
			tangents: { left: still, right: still },
		}));
		const cubic = { ...doc, channels: { [id]: { ...channel, keys } } };
		expect(validateDocument({ format: 'hillock-project', version: VERSION, ...cubic }).ok).toBe(true);
		// Tangents of 0 make an even start and finish: a smooth step, by symmetry half way at the middle.
		expect(angleBetween(at(cubic, 'orientation', 18_000), axisTurn(2, 60))).toBeCloseTo(0, 6);
		expect(angleBetween(at(cubic, 'orientation', 1800), axisTurn(2, 0))).toBeLessThan(1.5);
		for (let t = 0; t <= 36_000; t += 900)
			expect(Math.hypot(...at(cubic, 'orientation', t))).toBeCloseTo(1, 12);
	});
});

describe('a channel of colours', () => {
	const id = channelId('c', 'lamp', 'colour', 'value');

	it('starts from the colour of the part, and goes back to it where there is no key', () => {
		const doc = lamp();
		expect(colourIn(shownAt(doc, 'c', 0).posed, doc.parts.lamp)).toEqual([1, 0, 0, 1]);
	});

	it('waits while a pose is held, and what follows comes later', () => {
		const doc = withKeys(COLOUR, [
			[0, RED, { kind: 'eased', start: 0.5, finish: 0.5 }],
			[60_000, BLUE, linear],
		]);
		const held = holdPose(doc, doc.clips.c, 20_000, 12_000);
		for (const t of [20_000, 25_000, 32_000])
			at(held, 'colour', t).forEach((v, i) => expect(v).toBeCloseTo(at(doc, 'colour', 20_000)[i], 6));
		at(held, 'colour', 52_000).forEach((v, i) => expect(v).toBeCloseTo(at(doc, 'colour', 40_000)[i], 6));
	});

	it('rings as a spring, and keys put for it draw the same', () => {
		const spring: Shape = {
			kind: 'spring',
			mass: 1,
			stiffness: 120,
			damping: 6,
			velocity: 0,
			time: 'fitted',
		};
		const doc = withKeys(COLOUR, [
			[0, [0.2, 0.2, 0.2, 1], spring],
			[60_000, [0.6, 0.6, 0.6, 1], linear],
		]);
		const keyed = expandSpans(doc, new Map([[id, new Set([0])]]));
		expect(keyed.channels[id].keys.length).toBeGreaterThan(10);
		let brightest = 0;
		for (let t = 0; t <= 60_000; t += 500) {
			const [now, then] = [at(keyed, 'colour', t), at(doc, 'colour', t)];
			now.forEach((v, i) => expect(Math.abs(v - then[i])).toBeLessThan(0.004));
			brightest = Math.max(brightest, then[0]);
		}
		expect(brightest).toBeGreaterThan(0.65);
	});

	it('never has a value that is moved, and is refused what it cannot be', () => {
		const doc = withKeys(COLOUR, [[0, RED, linear]]);
		const broken = (change: object) => {
			const channel = { ...doc.channels[id], ...change };
			return validateDocument({
				format: 'hillock-project',
				version: VERSION,
				...doc,
				channels: { [id]: channel },
			}).ok;
		};
		expect(broken({})).toBe(true);
		expect(broken({ accumulates: true })).toBe(false);
		expect(broken({ keys: [{ t: 0, v: 0, shape: linear }] })).toBe(false);
		expect(broken({ keys: [{ t: 0, v: 0, shape: linear, vector: [1.2, 0, 0, 1] }] })).toBe(false);
	});

	it('keeps its mix when handles are made smooth', () => {
		const doc = withKeys(COLOUR, [
			[0, RED, { kind: 'handles' }],
			[30_000, BLUE, { kind: 'handles' }],
			[60_000, RED, linear],
		]);
		const smooth = setModes(doc, new Map([[id, new Set([30_000])]]), 'smooth');
		expect(at(smooth, 'colour', 30_000)).toEqual(BLUE);
		for (let t = 0; t <= 60_000; t += 1000)
			expect(at(smooth, 'colour', t).every((v) => v >= 0 && v <= 1)).toBe(true);
	});
});

describe('a switch', () => {
	const SEEN = { clip: 'c', part: 'lamp', property: 'visible', component: 'value' } as const;
	const id = channelId('c', 'lamp', 'visible', 'value');
	const doc = [
		[0, 1],
		[20_000, 0],
		[50_000, 1],
	].reduce((next, [t, v]) => setValue(next, SEEN, t, v), lamp());
	const seen = (d: Doc, t: number) => {
		return shownAt(d, 'c', t).number('lamp', 'visible');
	};

	it('holds whatever shape is asked for', () => {
		expect(doc.channels[id].keys.every((key) => key.shape.kind === 'hold')).toBe(true);
		const shaped = setShape(doc, new Map([[id, new Set([0, 20_000])]]), linear);
		expect([0, 19_999, 20_000, 49_999, 50_000].map((t) => seen(shaped, t))).toEqual([1, 1, 0, 0, 1]);
	});

	it('is off as long backwards as it was forwards', () => {
		const turned = reverseKeys(doc, new Map([[id, new Set([0, 20_000, 50_000])]]));
		expect([0, 1, 29_999, 30_000, 49_999].map((t) => seen(turned, t))).toEqual([0, 0, 0, 1, 1]);
	});
});

it('a part turns by angles or by an orientation, not by both in one clip', () => {
	const both = setValue(
		withKeys(TURN, [[0, [0, 0, 0, 1], linear]]),
		{ clip: 'c', part: 'lamp', property: 'rotation', component: 'y' },
		0,
		5,
	);
	const checked = validateDocument({ format: 'hillock-project', version: VERSION, ...both });
	expect(checked.ok).toBe(false);
	if (!checked.ok) expect(checked.problems[0].message).toMatch(/not by both/);
});

it('slerp goes on evenly where a shape overshoots', () => {
	const out: Quaternion = [0, 0, 0, 1];
	slerp(axisTurn(0, 0), axisTurn(0, 60), 1.2, out);
	expect(angleBetween(out, axisTurn(0, 72))).toBeCloseTo(0, 9);
});
