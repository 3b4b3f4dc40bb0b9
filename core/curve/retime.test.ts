import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileCurve } from './compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import { PLAYS_ONCE } from './handles';
import { holdPose, mirrorKeys, offsetFrom, scaleKeys, shiftFrom, stretchKeys } from './retime';
import { reverseKeys, reverseSwitch } from './reverse';
import { EASING_FAMILIES, EASING_WAYS, type Shape } from '../../player/easing/shape';
import type { Key } from './types';
import { between } from '../../player/testing';

const HOLD = { before: 'hold', after: 'hold' } as const;
const at = (keys: readonly Key[]) => {
	const curve = compileCurve(keys, HOLD, PLAYS_ONCE);
	return (t: number) => evaluateCurve(curve, t);
};
const unit = between(0, 1);
const shape = fc.oneof(
	fc.constantFrom<Shape>({ kind: 'linear' }, { kind: 'fall' }, { kind: 'rise' }, { kind: 'handles' }),
	fc.record({ kind: fc.constant('eased' as const), start: unit, finish: unit }),
	fc.record({
		kind: fc.constant('family' as const),
		family: fc.constantFrom(...EASING_FAMILIES),
		way: fc.constantFrom(...EASING_WAYS),
	}),
	fc.constant<Shape>({
		kind: 'stops',
		stops: [
			{ x: 0, y: 0 },
			{ x: 0.2, y: 0.7 },
			{ x: 1, y: 1 },
		],
	}),
);
const side = fc.record({
	mode: fc.constant('split' as const),
	reach: between(0.05, 1),
	rise: fc.integer({ min: -9, max: 9 }),
});
const keys = fc
	.array(
		fc.record({
			gap: fc.integer({ min: 600, max: 9000 }),
			v: fc.integer({ min: -20, max: 20 }),
			shape,
			left: side,
			right: side,
		}),
		{ minLength: 3, maxLength: 7 },
	)
	.map((rows) => {
		let t = 0;
		return rows.map(({ gap, ...key }, i): Key => ({ t: (t += i === 0 ? 0 : gap), ...key }));
	});

describe('keys', () => {
	it('reversed play the same motion backwards', () => {
		fc.assert(
			fc.property(keys, unit, (list, x) => {
				const all = new Set(list.map((key) => key.t));
				const end = list.at(-1)!.t;
				const t = 1 + x * (end - 2);
				expect(at(reverseKeys(list, all, PLAYS_ONCE))(end - t)).toBeCloseTo(at(list)(t), 6);
			}),
		);
	});

	it('of a switch reversed are on as long before the end as they were on after the start', () => {
		const switches = fc
			.uniqueArray(fc.integer({ min: 0, max: 50 }), { minLength: 3, maxLength: 9 })
			.map((times) =>
				times.sort((a, b) => a - b).map((t, i): Key => ({ t: 10 * t, v: i % 2, shape: { kind: 'hold' } })),
			);
		fc.assert(
			fc.property(switches, fc.nat(2), fc.nat(2), (list, skipFirst, skipLast) => {
				const picked = list.slice(skipFirst % (list.length - 1), list.length - (skipLast % 2));
				fc.pre(picked.length > 1);
				const [first, last] = [picked[0].t, picked.at(-1)!.t];
				const turned = reverseSwitch(list, new Set([first, last]));
				expect(turned.map((key) => key.t)).toEqual([...turned].map((key) => key.t).sort((a, b) => a - b));
				expect(turned.filter((key) => key.t < first || key.t > last)).toEqual(
					list.filter((key) => key.t < first || key.t > last),
				);
				for (let t = first + 5; t < last; t += 10) expect(at(turned)(first + last - t)).toBe(at(list)(t));
			}),
		);
	});

	it('reversed twice are what they were, also holds and steps', () => {
		const list: Key[] = [
			{ t: 0, v: 1, shape: { kind: 'hold' } },
			{ t: 100, v: 3, shape: { kind: 'steps', count: 4, jump: 'jump-end' } },
			{ t: 300, v: 2, shape: { kind: 'linear' } },
		];
		const all = new Set([0, 100, 300]);
		const turned = reverseKeys(list, all, PLAYS_ONCE);
		expect(at(turned)(250)).toBe(1);
		expect(reverseKeys(turned, all, PLAYS_ONCE)).toEqual(list);
	});

	it('scaled in time keep their form, with handles too', () => {
		fc.assert(
			fc.property(keys, unit, (list, x) => {
				const all = new Set(list.map((key) => key.t));
				const scaled = scaleKeys(list, all, { pivot: 0, factor: 3 }, { pivot: 5, factor: -2 });
				const t = x * list.at(-1)!.t;
				const was = at(list);
				// What rounding of time alone may change: almost nothing, but where the curve is vertical.
				const blur = 1e-6 + 4 * Math.abs(was(t + 1e-6) - was(t - 1e-6));
				expect(Math.abs(at(scaled)(3 * t) - (5 - 2 * (was(t) - 5)))).toBeLessThan(blur);
				expect(Math.abs(at(stretchKeys(list, 2))(2 * t) - was(t))).toBeLessThan(blur);
			}),
		);
	});

	it('mirrored twice are what they were', () => {
		fc.assert(
			fc.property(keys, (list) => {
				const all = new Set(list.map((key) => key.t));
				expect(mirrorKeys(mirrorKeys(list, all, 3), all, 3)).toEqual(list.map((key) => ({ ...key })));
			}),
		);
	});

	const line: Key[] = [0, 100, 200, 300].map((t) => ({ t, v: t, shape: { kind: 'linear' } }));

	it('held keep their value for a while, and what follows comes later', () => {
		const held = at(holdPose(line, 150, 40, PLAYS_ONCE));
		expect([held(140), held(150), held(189), held(190), held(240)]).toEqual([140, 150, 150, 150, 200]);
	});

	it('shifted open a gap, and close it again', () => {
		expect(shiftFrom(line, 200, 50).map((key) => key.t)).toEqual([0, 100, 250, 350]);
		expect(shiftFrom(line, 200, -120).map((key) => key.t)).toEqual([0, 80, 180]);
	});

	it('offset from one on keep what follows in form', () => {
		expect(offsetFrom(line, 200, 7).map((key) => key.v)).toEqual([0, 100, 207, 307]);
	});
});
