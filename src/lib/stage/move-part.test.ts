import { describe, expect, it } from 'vitest';
import { linear, ProjectBuilder } from '../../../demo/builder';
import { makeQuay } from '../../../demo/quay';
import { toEuler } from '$core/pose/quaternion';
import { placePart, whyStuck, type Placement } from './move-part';

const quay = makeQuay();
const FRAME = 2400;
const NO_TURN = [0, 0, 0];

function place(part: string, change: Partial<Placement> = {}): Placement {
	return { clip: 'sack-drop', part, t: 10 * FRAME, autoKey: false, keyAll: false, ...change };
}
const keysOf = (doc: typeof quay, part: string, path: string) =>
	doc.channels[`sack-drop/${part}/${path}`]?.keys ?? null;

describe('a part moved by hand', () => {
	it('that does not move in the clip gets another rest pose', () => {
		const moved = placePart(quay, place('buoy'), 'translation', 1, 7, NO_TURN);
		expect(moved.parts.buoy.rest.translation[1]).toBe(7);
		expect(moved.channels).toBe(quay.channels);
	});

	it('on one of its keys changes that key, between them nothing, and says why', () => {
		const at = keysOf(quay, 'mail-sack', 'translation/y')![1].t;
		const onKey = place('mail-sack', { t: at });
		expect(whyStuck(quay, onKey, 'translation', 1)).toBe(null);
		const moved = placePart(quay, onKey, 'translation', 1, 7, NO_TURN);
		expect(keysOf(moved, 'mail-sack', 'translation/y')![1]).toMatchObject({ t: at, v: 7 });
		expect(keysOf(moved, 'mail-sack', 'translation/y')).toHaveLength(
			keysOf(quay, 'mail-sack', 'translation/y')!.length,
		);
		const between = place('mail-sack');
		expect(whyStuck(quay, between, 'translation', 1)).toMatch(/turn on auto-key/);
		expect(placePart(quay, between, 'translation', 1, 7, NO_TURN)).toBe(quay);
	});

	it('with auto-key gets keys on what moves already, and rests otherwise elsewhere', () => {
		const keying = place('mail-sack', { autoKey: true });
		const moved = placePart(quay, keying, 'translation', 1, 7, NO_TURN);
		expect(keysOf(moved, 'mail-sack', 'translation/y')).toContainEqual(
			expect.objectContaining({ t: keying.t, v: 7 }),
		);
		// Its depth does not move: not told otherwise, it is not to.
		const deeper = placePart(quay, keying, 'translation', 2, 3, NO_TURN);
		expect(keysOf(deeper, 'mail-sack', 'translation/z')).toBe(null);
		expect(deeper.parts['mail-sack'].rest.translation[2]).toBe(3);
		const told = placePart(quay, { ...keying, keyAll: true }, 'translation', 2, 3, NO_TURN);
		expect(keysOf(told, 'mail-sack', 'translation/z')).toContainEqual(
			expect.objectContaining({ t: keying.t, v: 3 }),
		);
	});

	it('of which nothing moves yet gets keys for whatever is moved, from rest on', () => {
		const moved = placePart(quay, place('buoy', { autoKey: true }), 'translation', 1, 7, NO_TURN);
		const rest = quay.parts.buoy.rest.translation[1];
		expect(keysOf(moved, 'buoy', 'translation/y')!.map(({ t, v }) => [t, v])).toEqual([
			[0, rest],
			[10 * FRAME, 7],
		]);
	});

	it('is not moved where a formula computes it', () => {
		expect(whyStuck(quay, place('mail-sack', { autoKey: true }), 'scale', 0)).toMatch(
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
		const turned = placePart(
			keyed,
			{ ...place('vane'), clip: 'c', t: 60 * FRAME },
			'rotation',
			2,
			90,
			NO_TURN,
		);
		const { vector } = turned.channels[id].keys[1];
		expect(toEuler(vector!, 'XYZ')[2]).toBeCloseTo(90, 6);
		expect(turned.parts.vane.rest).toEqual(keyed.parts.vane.rest);
	});
});
