import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileCurve } from '../curve/compile';
import { spanEasing } from './css-span';
import { evaluateCurve } from '../../player/curve/evaluate';
import { PLAYS_ONCE } from '../curve/handles';
import type { Key } from '../curve/types';
import type { Shape } from '../../player/easing/shape';
import { readCssEasing } from '../easing/css';
import { stopsEase } from '../../player/easing/steps';
import { despike, oneEuro, smooth, type Samples } from './take-filter';
import { evenKeys, keysWithin, sourceOfSamples } from './to-keys';
import { between } from '../../player/testing';

const HOLDS = { before: 'hold', after: 'hold' } as const;

/** Samples at uneven times, as devices give them. */
function taken(count: number, value: (seconds: number, i: number) => number): Samples {
	const times = Float64Array.from({ length: count }, (_, i) => 1200 * i + ((i * 7919) % 400));
	return { times, values: times.map((t, i) => value(t / 72_000, i)) };
}

/** Noise that is the same in every run, in −1…1. */
const noise = (i: number) => {
	let h = Math.imul(i + 1, 0x45d9f3b);
	h = Math.imul(h ^ (h >>> 16), 0x45d9f3b);
	return ((h ^ (h >>> 16)) >>> 0) / 2 ** 31 - 1;
};

describe('cleaning a take', () => {
	it('takes out single spikes and leaves the rest as it was', () => {
		const clean = taken(200, (s) => Math.sin(3 * s));
		const spoilt = { times: clean.times, values: clean.values.slice() };
		for (const i of [20, 77, 150]) spoilt.values[i] += 5;
		const { samples, replaced } = despike(spoilt);
		expect(replaced).toBe(3);
		samples.values.forEach((v, i) => expect(Math.abs(v - clean.values[i])).toBeLessThan(0.1));
		expect(despike(clean).replaced).toBe(0);
	});

	it('finds spikes on fast slopes, among noise, at any rate, and hardly takes anything else for one', () => {
		let [found, missed, wrong, looked] = [0, 0, 0, 0];
		for (const rate of [60, 120, 240])
			for (const pace of [2, 9, 20])
				for (const grain of [0, 0.004, 0.02]) {
					const count = 4 * rate;
					const times = Float64Array.from({ length: count }, (_, i) =>
						Math.round((72_000 * (i + 0.2 * noise(i))) / rate),
					);
					const clean = times.map((t, i) => Math.sin((pace * t) / 72_000) + grain * noise(i + 7));
					const values = clean.slice();
					const spikes = Array.from({ length: 7 }, (_, n) => Math.floor(((n + 0.5) * count) / 7.2));
					spikes.forEach((i, n) => (values[i] += (n % 2 === 0 ? 1 : -1) * Math.max(0.35, 12 * grain)));
					const { samples } = despike({ times, values });
					samples.values.forEach((v, i) => {
						const isSpike = spikes.includes(i);
						if (isSpike && v !== values[i]) found++;
						else if (isSpike) missed++;
						else if (v !== values[i]) wrong++;
						else looked++;
					});
					spikes.forEach((i) => expect(Math.abs(samples.values[i] - clean[i])).toBeLessThan(0.36));
				}
		expect([found, missed]).toEqual([189, 0]);
		expect(wrong / looked).toBeLessThan(0.01);
	});

	it('makes nothing up where a device told several moments at once', () => {
		fc.assert(
			fc.property(fc.array(fc.nat(3), { minLength: 12, maxLength: 60 }), between(0.5, 2), (bursts, pace) => {
				// At each tenth of a second up to four moments, a few ticks apart.
				const times = Float64Array.from(
					bursts.flatMap((more, i) => Array.from({ length: more + 1 }, (_, k) => 7200 * i + 3 * k)),
				);
				const values = times.map((t, i) => Math.sin((pace * t) / 72_000) + 0.05 * noise(i));
				const { samples } = despike({ times, values });
				samples.values.forEach((v, i) => expect(Math.abs(v - values[i])).toBeLessThan(1));
			}),
			{ numRuns: 200, endOnFailure: true },
		);
	});

	it('smooths without delay: a cubic comes out unchanged at any times, also at the ends', () => {
		const cubic = taken(60, (s) => 2 * s ** 3 - s + 1);
		smooth(cubic, 5).values.forEach((v, i) => expect(v).toBeCloseTo(cubic.values[i], 9));
	});

	it('the one-Euro filter calms what stands still and follows what moves, without delay', () => {
		const still = taken(120, (_, i) => (i % 2 === 0 ? 0.01 : -0.01));
		// A first sample has nothing before it: how calm it is shows some way in.
		const spread = ({ values }: Samples) => Math.max(...values.subarray(20, 100).map(Math.abs));
		expect(spread(oneEuro(still))).toBeLessThan(0.25 * spread(still));
		const ramp = taken(120, (s) => 8 * s);
		const middle = (list: Samples) => list.values[60];
		expect(Math.abs(middle(oneEuro(ramp, 1.5, 4)) - middle(ramp))).toBeLessThan(0.02);
		// The same forwards and backwards, so that no side is favoured: a step is crossed half way at its place.
		const step = oneEuro(taken(121, (_, i) => (i < 60 ? 0 : i === 60 ? 0.5 : 1)));
		expect(step.values[60]).toBeCloseTo(0.5, 1);
	});

	it('smooths most of the trembling away', () => {
		const still = taken(300, (_, i) => noise(i));
		const spread = (values: Float64Array) =>
			Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length);
		expect(spread(smooth(still, 12).values)).toBeLessThan(0.45 * spread(still.values));
	});

	it('makes few keys that stay within the tolerance at every sample and between', () => {
		fc.assert(
			fc.property(between(0.5, 6), between(0.01, 0.2), (pace, tolerance) => {
				const samples = taken(
					240,
					(s, i) => Math.sin(pace * s) + 0.3 * Math.cos(2.3 * pace * s) + 0.002 * noise(i),
				);
				const { keys, largest, rms } = keysWithin(sourceOfSamples(samples), tolerance);
				const curve = compileCurve(keys, HOLDS, PLAYS_ONCE);
				let worst = 0;
				samples.times.forEach(
					(t, i) => (worst = Math.max(worst, Math.abs(evaluateCurve(curve, t) - samples.values[i]))),
				);
				expect(worst).toBeLessThanOrEqual(tolerance);
				expect(largest).toBeLessThanOrEqual(tolerance);
				expect(rms).toBeLessThanOrEqual(largest);
				expect(keys.length).toBeLessThan(60);
				expect([keys[0].t, keys.at(-1)!.t]).toEqual([samples.times[0], samples.times.at(-1)]);
			}),
			{ numRuns: 30, endOnFailure: true },
		);
	});

	it('finds a curve again that was made of one span', () => {
		const own: Key[] = [
			{ t: 0, v: 0, shape: { kind: 'handles' }, right: { mode: 'split', rise: 2 } },
			{ t: 72_000, v: 1, shape: { kind: 'linear' }, left: { mode: 'split', rise: 0.5 } },
		];
		const curve = compileCurve(own, HOLDS, PLAYS_ONCE);
		const samples = taken(61, () => 0);
		const values = samples.times.map((t) => evaluateCurve(curve, t));
		expect(keysWithin(sourceOfSamples({ times: samples.times, values }), 0.01).keys).toHaveLength(2);
	});

	it('samples evenly on request, the end included', () => {
		const keys = evenKeys(sourceOfSamples(taken(100, (s) => s)), 24_000);
		expect(keys.map((key) => key.t)).toEqual([0, 24_000, 48_000, 72_000, 96_000, keys.at(-1)!.t]);
		keys.forEach((key) => expect(key.v).toBeCloseTo(key.t / 72_000, 12));
	});

	it('refuses a tolerance of nothing', () => {
		expect(() => keysWithin(sourceOfSamples(taken(3, (s) => s)), 0)).toThrow(RangeError);
	});
});

describe('CSS stops', () => {
	const span = (shape: Shape, ticks = 72_000): Key[] => [
		{ t: 0, v: 3, shape },
		{ t: ticks, v: 5, shape: { kind: 'linear' } },
	];
	const spring = (mass: number, stiffness: number, damping: number): Shape => ({
		kind: 'spring',
		mass,
		stiffness,
		damping,
		velocity: 0,
		time: 'fitted',
	});

	it.each<[string, Shape, number]>([
		['elastic', { kind: 'family', family: 'elastic', way: 'out' }, 40],
		['bounce', { kind: 'bounce', restitution: 0.5, count: 3 }, 38],
		['spring', spring(1, 100, 10), 28],
		['spring that rings', spring(0.5, 170, 2.5), 94],
	])('of %s are few, end where they must, and read back stay within a thousandth', (_, shape, most) => {
		const keys = span(shape);
		const easing = spanEasing(keys, 0, PLAYS_ONCE, 0.001)!;
		expect(easing.exact).toBe(false);
		expect(easing.stops).toBeLessThanOrEqual(most);
		const read = readCssEasing(easing.text);
		if (!read.ok || read.value.kind !== 'stops') throw new Error('not read back');
		const { stops } = read.value;
		expect([stops[0], stops.at(-1)]).toEqual([
			{ x: 0, y: 0 },
			{ x: 1, y: 1 },
		]);
		const ease = stopsEase(stops);
		const curve = compileCurve(keys, HOLDS, PLAYS_ONCE);
		// The text has four digits, which is a twentieth of a thousandth more.
		for (let i = 0; i <= 5000; i++) {
			const truth = (evaluateCurve(curve, 72_000 * (i / 5000)) - 3) / 2;
			expect(Math.abs(ease(i / 5000) - truth)).toBeLessThan(0.00112);
		}
	});

	it('are left out where CSS has the words, and where nothing changes', () => {
		expect(spanEasing(span({ kind: 'eased', start: 0.4, finish: 0.2 }), 0, PLAYS_ONCE, 0.001)).toMatchObject({
			exact: true,
		});
		const back: Key[] = [
			{ t: 0, v: 3, shape: spring(1, 100, 10) },
			{ t: 1000, v: 3, shape: { kind: 'linear' } },
		];
		expect(spanEasing(back, 0, PLAYS_ONCE, 0.001)).toBeNull();
		expect(spanEasing(back, 1, PLAYS_ONCE, 0.001)).toBeNull();
	});
});
