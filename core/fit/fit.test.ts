import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileCurve, curvePieces } from '../curve/compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import { PLAYS_ONCE } from '../curve/handles';
import { EASING_FAMILIES, EASING_WAYS, type Shape } from '../../player/easing/shape';
import type { Key } from '../curve/types';
import { eulerInto } from '../../player/maths/quaternion';
import { bake, fit } from './fit';
import { measure } from './measure';
import { sampleRuns } from './samples';
import { sampleAt, samplerBytes, type Sampler } from './sampler';
import { mergePieces } from '../clip/trace';
import type { Source } from './source';
import { worstOf } from './testing';
import type { Piece } from '../curve/piece';
import { Stabber } from './stabber';
import { between } from '../../player/testing';

const HOLD = { before: 'hold', after: 'hold' } as const;
const unit = between(0, 1);
const shape: fc.Arbitrary<Shape> = fc.oneof(
	fc.constantFrom<Shape>({ kind: 'hold' }, { kind: 'linear' }, { kind: 'fall' }, { kind: 'rise' }),
	fc.record({ kind: fc.constant('eased' as const), start: unit, finish: unit }),
	fc.record({
		kind: fc.constant('family' as const),
		family: fc.constantFrom(...EASING_FAMILIES),
		way: fc.constantFrom(...EASING_WAYS),
	}),
	fc.constant<Shape>({ kind: 'spring', mass: 1, stiffness: 120, damping: 6, velocity: 3, time: 'real' }),
	fc.record({
		kind: fc.constant('bounce' as const),
		restitution: between(0.2, 0.8),
		count: fc.integer({ min: 1, max: 5 }),
	}),
	fc.constant<Shape>({ kind: 'steps', count: 5, jump: 'jump-both' }),
);
const channel = fc
	.array(fc.tuple(fc.integer({ min: 1200, max: 90_000 }), between(-20, 20), shape), {
		minLength: 2,
		maxLength: 6,
	})
	.map((rows) => {
		let t = 0;
		const keys = rows.map(([gap, v, s], i): Key => ({ t: (t += i === 0 ? 0 : gap), v, shape: s }));
		const curve = compileCurve(keys, HOLD, PLAYS_ONCE);
		const pieces = curvePieces(keys);
		return {
			value: (ticks: number) => evaluateCurve(curve, ticks),
			pieces,
			end: t,
		};
	});
type Channel = { value: (ticks: number) => number; pieces: Piece[]; end: number };

function sourceOf(channels: Channel[], rotates: boolean): Source {
	const pieces = mergePieces(channels.map((c) => c.pieces));
	return {
		size: rotates ? 4 : channels.length,
		start: 0,
		end: Math.max(...channels.map((c) => c.end)),
		pieces,
		evaluate: (t, out) => {
			if (rotates)
				eulerInto(8 * channels[0].value(t), 8 * channels[1].value(t), 8 * channels[2].value(t), 'XYZ', out);
			else channels.forEach((c, k) => (out[k] = c.value(t)));
		},
	};
}

describe('a fitted sampler', () => {
	it.each([
		['a number', 1, false],
		['a vector', 3, false],
		['a rotation', 3, true],
	] as const)('of %s stays within its bound everywhere', (_, count, rotates) => {
		fc.assert(
			fc.property(
				fc.array(channel, { minLength: count, maxLength: count }),
				fc.constantFrom(0.3, 0.05, 0.01),
				(channels, bound) => {
					const source = sourceOf(channels, rotates);
					const { sampler, error } = fit(source, bound);
					expect(error).toBeLessThanOrEqual(bound);
					expect(worstOf(source, sampler, bound)).toBeLessThanOrEqual(bound);
					for (let i = 1; i < sampler.times.length; i++)
						expect(sampler.times[i]).toBeGreaterThan(sampler.times[i - 1]);
					expect(sampler.values.every(Number.isFinite)).toBe(true);
				},
			),
			{ numRuns: 60, endOnFailure: true },
		);
	});

	const only = (value: (ticks: number) => number, pieces: Source['pieces'] = []): Source => ({
		size: 1,
		start: 0,
		end: 72_000,
		pieces,
		evaluate: (t, out) => (out[0] = value(t)),
	});

	it('measures on both sides of a jump: a file that is off only right beside one is found out', () => {
		// A step at the middle, and beside it a needle a millionth of the clip wide, too thin for any cell.
		const needle = (t: number) => (t < 36_000 && t > 36_000 - 0.05 ? 1 : 0);
		const source = only((t) => (t < 36_000 ? 0 : 5) + needle(t), [{ t: 36_000, jump: true }]);
		const sampler: Sampler = {
			interpolation: 'STEP',
			size: 1,
			times: Float32Array.of(0, 0.5),
			values: Float32Array.of(0, 5),
		};
		expect(measure(source, sampler, 0.01).error).toBeCloseTo(1, 6);
		const plain = only((t) => (t < 36_000 ? 0 : 5), [{ t: 36_000, jump: true }]);
		expect(measure(plain, sampler, 0.01).error).toBe(0);
	});

	it('takes any number of weights as plain numbers, four of them too', () => {
		for (const size of [2, 4, 7]) {
			const weights: Source = {
				size,
				plain: true,
				start: 0,
				end: 144_000,
				pieces: [],
				evaluate(t, out) {
					for (let k = 0; k < size; k++)
						out[k] = 0.5 - 0.5 * Math.cos((t / 144_000) * 2 * Math.PI * (1 + k / 3));
				},
			};
			const { sampler, error } = fit(weights, 0.002);
			expect(error).toBeLessThanOrEqual(0.002);
			const read = new Float32Array(size);
			const truth = new Float64Array(size);
			for (let i = 0; i <= 777; i++) {
				sampleAt(sampler, (2 * i) / 777, read);
				weights.evaluate((144_000 * i) / 777, truth);
				for (let k = 0; k < size; k++) expect(Math.abs(read[k] - truth[k])).toBeLessThanOrEqual(0.002);
			}
			expect(samplerBytes(sampler)).toBeLessThan(0.35 * samplerBytes(bake(weights, 60)));
		}
	});

	it('has one key where nothing moves, three steps for three holds, two keys for a cubic', () => {
		expect(
			fit(
				only(() => 5),
				1e-3,
			).sampler,
		).toMatchObject({ interpolation: 'STEP', times: Float32Array.of(0) });
		const holds = only(
			(t) => (t < 24_000 ? 0 : t < 48_000 ? 2 : 1),
			[
				{ t: 24_000, jump: true },
				{ t: 48_000, jump: true },
			],
		);
		expect(fit(holds, 1e-3).sampler).toMatchObject({
			interpolation: 'STEP',
			times: Float32Array.of(0, 1 / 3, 2 / 3, 1),
		});
		const cubic = fit(
			only((t) => (t / 72_000) ** 3),
			1e-5,
		).sampler;
		expect([cubic.interpolation, cubic.times.length]).toEqual(['CUBICSPLINE', 2]);
	});

	it('of a sine costs a small part of dense keys, and less for a wider bound', () => {
		const sine = only((t) => Math.sin(t / 4000));
		const [fine, wide] = [1e-4, 1e-2].map((bound) => samplerBytes(fit(sine, bound).sampler));
		expect(wide).toBeLessThan(fine);
		expect(fine).toBeLessThan(61 * 8);
	});

	it('of a spin keeps every turn', () => {
		const spin: Source = {
			size: 4,
			start: 0,
			end: 72_000,
			pieces: [],
			evaluate: (t, out) => eulerInto(0, (t / 72_000) * 1080, 0, 'XYZ', out),
		};
		const { sampler } = fit(spin, 0.1);
		expect(sampler.interpolation).toBe('LINEAR');
		expect(sampler.times.length).toBeGreaterThanOrEqual(8);
		expect(worstOf(spin, sampler, 0.1)).toBeLessThanOrEqual(0.1);
	});

	it('follows both sides of a cusp that is finer than its times', () => {
		const tip = 64_409;
		const cusp = only((t) => -2 * Math.sqrt(Math.abs(t - tip)), [{ t: tip, jump: false }]);
		const { sampler } = fit(cusp, 0.05);
		expect(sampler.times.length).toBeLessThan(60);
		expect(worstOf(cusp, sampler, 0.05)).toBeLessThanOrEqual(0.05);
	});

	it('keeps its bound right beside a jump, where what comes after it sets off', () => {
		fc.assert(
			fc.property(between(-40, 40), between(-60, 60), between(0.01, 0.3), (rate, bend, bound) => {
				const jump = 30_000.3;
				const after = (t: number) => rate * t + bend * t * t;
				const torn = only(
					(t) => (t < jump ? 0 : 1 + after((t - jump) / 72_000)),
					[{ t: jump, jump: true, degree: 3 }],
				);
				const { sampler } = fit(torn, bound);
				const read = new Float32Array(1);
				for (const ticks of [0.02, 0.1, 1]) {
					sampleAt(sampler, (jump + ticks) / 72_000, read);
					expect(Math.abs(read[0] - 1 - after(ticks / 72_000))).toBeLessThanOrEqual(bound);
				}
			}),
			{ numRuns: 400 },
		);
	});

	it('refuses a bound finer than its times can show', () => {
		const steep = only((t) => Math.sin(t * 3) * 1e6);
		expect(() => fit(steep, 1e-6)).toThrow(RangeError);
	});

	it('samples more finely whatever it could sample, where a fit was found to be off', () => {
		const samples = (height: number, extra?: ReadonlySet<number>): number => {
			const wave = only((t) => height * Math.sin(t / 1000), [{ t: 0, jump: false }]);
			return sampleRuns(wave, 0.01, [], extra).reduce((sum, { count }) => sum + count, 0);
		};
		let height = 1;
		for (; height < 1e6; height *= 1.2) {
			try {
				samples(height);
			} catch {
				break;
			}
			expect(samples(height, new Set([36_000]))).toBeGreaterThan(1.5 * samples(height));
		}
		// There are sources that are refused: the last one tried was near to them.
		expect(height).toBeLessThan(1e6);
		expect(height).toBeGreaterThan(2);
	});
});

it('the stabber finds a line exactly when there is one', () => {
	fc.assert(
		fc.property(
			fc.array(fc.tuple(between(-5, 5), between(0.05, 3)), { minLength: 2, maxLength: 9 }),
			(rows) => {
				const segments = rows.map(([middle, half], x) => ({ x, low: middle - half, high: middle + half }));
				const stabber = new Stabber();
				const found = segments.every(({ x, low, high }) => {
					if (!stabber.accepts(x, low, high)) return false;
					stabber.add(x, low, high);
					return true;
				});
				// A line through all exists if and only if one goes through a low end and a high end of two of them.
				const through = (a: number, b: number, ya: number, yb: number) =>
					segments.every(({ x, low, high }) => {
						const y = ya + ((yb - ya) * (x - a)) / (b - a);
						return y >= low - 1e-9 && y <= high + 1e-9;
					});
				const exists = segments.some((p) =>
					segments.some(
						(q) =>
							p.x !== q.x &&
							(through(p.x, q.x, p.low, q.high) ||
								through(p.x, q.x, p.high, q.low) ||
								through(p.x, q.x, p.low, q.low)),
					),
				);
				expect(found).toBe(exists);
				if (!found) return;
				const line = new Float64Array(2);
				stabber.middle(line);
				for (const { x, low, high } of segments) {
					expect(line[0] + line[1] * x).toBeGreaterThanOrEqual(low - 1e-9);
					expect(line[0] + line[1] * x).toBeLessThanOrEqual(high + 1e-9);
				}
			},
		),
		{ numRuns: 400 },
	);
});
