import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeQuay } from '../../demo/quay';
import { curveOf } from '../clip/compile';
import { colourIn } from '../clip/layout';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { Key } from '../curve/types';
import type { Shape } from '../../player/easing/shape';
import { between } from '../../player/testing';
import { shownAt } from '../testing';
import { channelsOfClip, type Channel, type Doc } from '../document/types';
import { goesRound, shiftRound } from './round';

const quay = makeQuay();
const ID = 'kelp-sway/kelp-1/rotation/z';
const LENGTH = quay.clips['kelp-sway'].length;
const share = between(0, 1);

const shape: fc.Arbitrary<Shape> = fc.oneof(
	fc.constantFrom<Shape>({ kind: 'hold' }, { kind: 'linear' }, { kind: 'fall' }, { kind: 'handles' }),
	fc.record({ kind: fc.constant('eased' as const), start: share, finish: share }),
);
/** Keys anywhere in the clip, smooth where a span has handles; `closes` gives the last the value of the first. */
const keysOf = (closes: boolean) =>
	fc
		.array(fc.tuple(fc.integer({ min: 0, max: 100 }), between(-40, 40), shape), {
			minLength: 2,
			maxLength: 7,
		})
		.map((rows) => {
			const byTime = new Map(rows.map(([at, v, own]) => [Math.round((at / 100) * LENGTH), { v, own }]));
			const keys = [...byTime]
				.sort(([a], [b]) => a - b)
				.map(([t, { v, own }]): Key => ({
					t,
					v,
					shape: own,
					left: { mode: 'smooth' },
					right: { mode: 'smooth' },
				}));
			return closes ? keys.with(-1, { ...keys.at(-1)!, v: keys[0].v }) : keys;
		});

function withKeys(keys: Key[], change: Partial<Channel> = {}): Doc {
	return { ...quay, channels: { ...quay.channels, [ID]: { ...quay.channels[ID], ...change, keys } } };
}
/** The value of round after round, at any time. */
function goingOn(doc: Doc, t: number): number {
	const curve = curveOf(doc.channels[ID], doc.clips['kelp-sway']);
	const round = Math.floor(t / LENGTH);
	const change = doc.channels[ID].accumulates ? evaluateCurve(curve, LENGTH) - evaluateCurve(curve, 0) : 0;
	return evaluateCurve(curve, t - round * LENGTH) + round * change;
}

describe('a channel moved round the loop', () => {
	it.each([
		['closes', true, false],
		['adds up', false, true],
	] as const)('plays the same at another phase where it %s', (_, closes, accumulates) => {
		fc.assert(
			fc.property(keysOf(closes), between(-1.4, 1.4), share, (keys, by, where) => {
				const before = withKeys(keys, { accumulates });
				const shift = Math.round(by * LENGTH);
				const after = shiftRound(before, ID, shift);
				// What adds up is as far as in the round that comes in at the start.
				const later = ((shift % LENGTH) + LENGTH) % LENGTH;
				const times = after.channels[ID].keys.map((key) => key.t);
				expect(times).toEqual([...new Set(times)].sort((a, b) => a - b));
				for (let i = 0; i < 12; i++) {
					const t = (i + where) * (LENGTH / 12);
					// A hold jumps exactly at its end.
					if (times.some((own) => Math.abs(own - t) < 1e-3)) continue;
					expect(goingOn(after, t)).toBeCloseTo(goingOn(before, t - later), 6);
				}
			}),
			{ numRuns: 300 },
		);
	});

	it('moved to and fro has the keys that it had', () => {
		const before = quay.channels[ID].keys.map((key) => key.t);
		fc.assert(
			fc.property(fc.array(share, { minLength: 1, maxLength: 5 }), (shares) => {
				const shifts = shares.map((x) => Math.round(x * LENGTH));
				const back = -shifts.reduce((sum, shift) => sum + shift, 0);
				const doc = [...shifts, back].reduce((next, shift) => shiftRound(next, ID, shift), quay);
				expect(doc.channels[ID].keys.map((key) => key.t)).toEqual(before);
			}),
		);
	});

	it('jumps where it jumped at the seam, a tick early, and carries whole turns on', () => {
		const line = (to: number): Key[] => [
			{ t: 0, v: 0, shape: { kind: 'linear' } },
			{ t: LENGTH, v: to, shape: { kind: 'linear' } },
		];
		const torn = shiftRound(withKeys(line(90)), ID, LENGTH / 3);
		expect(torn.channels[ID].keys.map(({ t, v }) => [t, Math.round(v * 1e6) / 1e6])).toEqual([
			[0, 60],
			[LENGTH / 3 - 1, 90],
			[LENGTH / 3, 0],
			[LENGTH, 60],
		]);
		// A key a tick before the seam gives way to the jump.
		const close = shiftRound(withKeys(line(90).toSpliced(1, 0, { ...line(90)[1], t: LENGTH - 1 })), ID, 4800);
		const times = close.channels[ID].keys.map(({ t }) => t);
		expect(times).toEqual([0, 4799, 4800, LENGTH]);
		const turning = shiftRound(withKeys(line(720)), ID, LENGTH / 4);
		expect(turning.channels[ID].keys.map(({ t, v }) => [t, v])).toEqual([
			[0, -180],
			[LENGTH, 540],
		]);
	});

	it('leaves a channel alone whose clip plays once, or that goes on beyond its keys', () => {
		const keys: Key[] = [
			{ t: 4800, v: 1, shape: { kind: 'linear' } },
			{ t: 9600, v: 2, shape: { kind: 'linear' } },
		];
		const straight = withKeys(keys, { ends: { before: 'straight', after: 'hold' } });
		expect(goesRound(straight, straight.channels[ID])).toBe(false);
		expect(shiftRound(straight, ID, 2400)).toBe(straight);
		const once = Object.values(quay.channels).find(({ clip }) => clip === 'sack-drop')!;
		expect(shiftRound(quay, once.id, 2400)).toBe(quay);
	});

	it('carries colours along', () => {
		const clip = 'signal-blink';
		const id = channelsOfClip(quay, clip).find(({ property }) => property === 'colour')!.id;
		const { length } = quay.clips[clip];
		const shift = Math.round(length / 3);
		const colourAt = (doc: Doc, t: number) =>
			colourIn(shownAt(doc, clip, t).posed, doc.parts[doc.channels[id].part]).slice(0, 3);
		const after = shiftRound(quay, id, shift);
		const times = [0.1, 0.3, 0.55, 0.9].map((x) => x * length);
		const shown = times.map((t) => colourAt(after, (t + shift) % length));
		times.forEach((t, i) => colourAt(quay, t).forEach((v, k) => expect(shown[i][k]).toBeCloseTo(v, 6)));
		expect(new Set(shown.map(String)).size).toBeGreaterThan(1);
	});
});
