import { describe, expect, it } from 'vitest';
import { linear, ProjectBuilder } from '../../demo/builder';
import { makeQuay } from '../../demo/quay';
import { evaluateVector } from '../../player/curve/vector';
import { toEuler } from '../../player/maths/quaternion';
import type { Four } from '../../player/maths/vector';
import { vectorOf } from '../clip/compile';
import { AXES, type Doc, type Property } from '../document/types';
import { setColour, setVector } from './keys';
import { decide, writeByHand, writeColourByHand, type Hand } from './by-hand';

const quay = makeQuay();
const FRAME = 2400;

/** One number set by hand, where it may be. */
function placePart(doc: Doc, hand: Hand, property: Property, axis: number, value: number): Doc {
	const target = { property, component: AXES[axis] };
	const decision = decide(doc, hand, [target]);
	return decision.ok ? writeByHand(doc, decision, target, value) : doc;
}
function whyStuck(doc: Doc, hand: Hand, property: Property, axis: number): string | null {
	const decision = decide(doc, hand, [{ property, component: AXES[axis] }]);
	return decision.ok ? null : decision.why;
}
function place(part: string, change: Partial<Hand> = {}): Hand {
	return { clip: 'sack-drop', part, t: 10 * FRAME, autoKey: 'off', keysExisting: false, ...change };
}
const keysOf = (doc: typeof quay, part: string, path: string) =>
	doc.channels[`sack-drop/${part}/${path}`]?.keys ?? null;

describe('a part moved by hand', () => {
	it('that does not move in the clip gets another rest pose', () => {
		const moved = placePart(quay, place('buoy'), 'translation', 1, 7);
		expect(moved.parts.buoy.rest.translation[1]).toBe(7);
		expect(moved.channels).toBe(quay.channels);
	});

	it('on one of its keys changes that key, between them nothing, and says why', () => {
		const at = keysOf(quay, 'mail-sack', 'translation/y')![1].t;
		const onKey = place('mail-sack', { t: at });
		expect(whyStuck(quay, onKey, 'translation', 1)).toBe(null);
		const moved = placePart(quay, onKey, 'translation', 1, 7);
		expect(keysOf(moved, 'mail-sack', 'translation/y')![1]).toMatchObject({ t: at, v: 7 });
		expect(keysOf(moved, 'mail-sack', 'translation/y')).toHaveLength(
			keysOf(quay, 'mail-sack', 'translation/y')!.length,
		);
		const between = place('mail-sack');
		expect(whyStuck(quay, between, 'translation', 1)).toMatch(/turn on auto-key/);
		expect(placePart(quay, between, 'translation', 1, 7)).toBe(quay);
	});

	it('with auto-key gets keys on everything that is changed, from rest on, and never another rest pose', () => {
		const hand = place('mail-sack', { autoKey: 'everything' });
		const targets = (['x', 'y', 'z'] as const).map((component) => ({
			property: 'translation' as const,
			component,
		}));
		const decision = decide(quay, hand, targets);
		if (!decision.ok) throw new Error(decision.why);
		const moved = targets.reduce((doc, target, k) => writeByHand(doc, decision, target, 7 + k), quay);
		expect(moved.parts).toBe(quay.parts);
		for (const [k, axis] of AXES.entries())
			expect(keysOf(moved, 'mail-sack', `translation/${axis}`)).toContainEqual(
				expect.objectContaining({ t: hand.t, v: 7 + k }),
			);
		const rest = quay.parts['mail-sack'].rest.translation[2];
		expect(keysOf(moved, 'mail-sack', 'translation/z')![0]).toMatchObject({ t: 0, v: rest });
		const faded = placePart(quay, place('buoy', { autoKey: 'everything' }), 'scale', 1, 2);
		expect(keysOf(faded, 'buoy', 'scale/y')!.map(({ t, v }) => [t, v])).toEqual([
			[0, 1],
			[10 * FRAME, 2],
		]);
	});

	it('with auto-key for channels that are there is refused as a whole where one is not', () => {
		const hand = place('mail-sack', { autoKey: 'existing' });
		const y = { property: 'translation', component: 'y' } as const;
		const z = { property: 'translation', component: 'z' } as const;
		expect(decide(quay, hand, [y]).ok).toBe(true);
		const both = decide(quay, hand, [y, z]);
		expect(both.ok ? '' : both.why).toMatch(/^translation z has no channel/);
	});

	it('takes its colour as a key while auto-key is on, from its own colour on, else as its own', () => {
		const target = [{ property: 'colour', component: 'value' }] as const;
		const write = (hand: Hand) => {
			const decision = decide(quay, hand, target);
			return decision.ok ? writeColourByHand(quay, decision, '#ff0000') : quay;
		};
		const keyed = write(place('buoy', { autoKey: 'everything' }));
		expect(keyed.parts).toBe(quay.parts);
		expect(keysOf(keyed, 'buoy', 'colour/value')!.map(({ t, vector }) => [t, vector![0]])).toEqual([
			[0, parseInt(quay.parts.buoy.colour.slice(1, 3), 16) / 255],
			[10 * FRAME, 1],
		]);
		expect(write(place('buoy')).parts.buoy.colour).toBe('#ff0000');
	});

	it('keeps how opaque it is where its colour is changed, at a key and between keys', () => {
		const address = {
			clip: 'signal-blink',
			part: 'signal-lamp',
			property: 'colour',
			component: 'value',
		} as const;
		const id = 'signal-blink/signal-lamp/colour/value';
		const half = setVector(setVector(quay, address, 0, [1, 0, 0, 0.25]), address, 24_000, [0, 0, 1, 0.75]);
		const alphaAt = (t: number) => {
			const shown: Four = [0, 0, 0, 1];
			evaluateVector(vectorOf(half.channels[id], half.clips['signal-blink']), t, shown);
			return shown[3];
		};
		for (const t of [0, 24_000, 9_000]) {
			const set = setColour(half, address, t, [0, 1, 0, 1]);
			expect(set.channels[id].keys.find((key) => key.t === t)!.vector).toEqual([0, 1, 0, alphaAt(t)]);
		}
		expect([alphaAt(0), alphaAt(24_000)]).toEqual([0.25, 0.75]);
	});

	it('is not moved where a formula computes it', () => {
		expect(whyStuck(quay, place('mail-sack', { autoKey: 'everything' }), 'scale', 0)).toMatch(
			/formula computes scale x/,
		);
	});

	it('turns by its orientation where it has one', () => {
		const doc = new ProjectBuilder('Vane', 'world', 30)
			.part('vane', { kind: 'box', size: [1, 1, 1] })
			.startClip('c', 60)
			.keys('vane', 'orientation', [
				[0, 0, linear],
				[60, 0, linear],
			])
			.build();
		const id = 'c/vane/orientation/value';
		const keyed = {
			...doc,
			channels: {
				[id]: {
					...doc.channels[id],
					keys: doc.channels[id].keys.map((key) => ({ ...key, vector: [0, 0, 0, 1] as const })),
				},
			},
		} as typeof doc;
		const turned = placePart(keyed, { ...place('vane'), clip: 'c', t: 60 * FRAME }, 'rotation', 2, 90);
		const { vector } = turned.channels[id].keys[1];
		expect(toEuler(vector!, 'XYZ')[2]).toBeCloseTo(90, 6);
		expect(turned.parts.vane.rest).toEqual(keyed.parts.vane.rest);
	});
});
