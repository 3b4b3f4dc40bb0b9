import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileCurve } from '../curve/compile';
import { PLAYS_ONCE } from '../curve/handles';
import type { Key } from '../curve/types';
import { CLEANING, type Cleaning } from '../document/takes';
import { evaluateCurve } from '../../player/curve/evaluate';
import { between } from '../../player/testing';
import { stillStretches, turnsOf } from './anchors';
import { ColumnCleaner, TakeCleaner } from './clean';
import { COUNTED_TOLERANCES, kneeOf } from './key-counts';
import { readTakeFile, writeTakeFile, type TakeSamples } from './samples-file';

const HOLDS = { before: 'hold', after: 'hold' } as const;
const RAW: Cleaning = { ...CLEANING, spikes: false, smoothing: 'none', stillness: 0, turns: false };

/** Noise that is the same in every run, in −1…1. */
const noise = (i: number) => {
	let h = Math.imul(i + 1, 0x45d9f3b);
	h = Math.imul(h ^ (h >>> 16), 0x45d9f3b);
	return ((h ^ (h >>> 16)) >>> 0) / 2 ** 31 - 1;
};

/** Uneven times at a rate. */
function timesAt(rate: number, seconds: number): Uint32Array {
	return Uint32Array.from({ length: Math.round(rate * seconds) }, (_, i) =>
		Math.round((72_000 * (i + 0.5 + 0.3 * noise(i))) / rate),
	);
}

const smoothStep = (x: number) => x * x * (3 - 2 * x);
/** Rises from 0 to 1 between two times, and is back at 0 after two others. */
const thereAndBack = (s: number) =>
	smoothStep(Math.min(1, Math.max(0, (s - 0.5) / 1))) - smoothStep(Math.min(1, Math.max(0, (s - 2.5) / 1)));

const samplesOf = (times: Uint32Array, value: (seconds: number, i: number) => number) => ({
	times: Float64Array.from(times),
	values: Float64Array.from(times, (t, i) => value(t / 72_000, i)),
});

describe('the file of a take', () => {
	const take = (): TakeSamples => ({
		times: Uint32Array.of(0, 7, 43_000),
		columns: [Float32Array.of(1.5, NaN, -3e9), Float32Array.of(0, -0, 1e-20)],
	});

	it('comes back bit by bit, gaps too', () => {
		const read = readTakeFile(writeTakeFile(take()));
		expect(read).toEqual({ ok: true, value: take() });
		// Also where it lies in the middle of a larger piece of memory.
		const inside = new Uint8Array(100);
		const content = writeTakeFile(take());
		inside.set(content, 7);
		expect(readTakeFile(inside.subarray(7, 7 + content.length))).toEqual({ ok: true, value: take() });
		expect(readTakeFile(Buffer.from(content))).toEqual({ ok: true, value: take() });
	});

	it('is refused whole when it is cut, lengthened, out of order or of another kind', () => {
		const good = writeTakeFile(take());
		const refused = (content: Uint8Array) => {
			const read = readTakeFile(content);
			return read.ok ? null : read.problems[0].message;
		};
		for (let length = 0; length < good.length; length++)
			expect(refused(good.subarray(0, length))).not.toBeNull();
		expect(refused(Uint8Array.from([...good, 0]))).toMatch(/cut or added/);
		const mixed = good.slice();
		new DataView(mixed.buffer).setUint32(24, 0, true);
		expect(refused(mixed)).toMatch(/Sample 2/);
		const endless = good.slice();
		new DataView(endless.buffer).setFloat32(32, Infinity, true);
		expect(refused(endless)).toMatch(/infinite/);
		const huge = good.slice();
		new DataView(huge.buffer).setUint32(12, 0xffffffff, true);
		expect(refused(huge)).toMatch(/samples/);
	});
});

describe('places for keys', () => {
	it('stretches that stand still are found to the sample, and a slow drift is none', () => {
		const times = timesAt(120, 4);
		const samples = samplesOf(times, (s, i) => thereAndBack(s) + 0.002 * noise(i));
		const found = stillStretches(samples, 0.01);
		expect(found.map(({ value }) => Math.abs(Math.round(100 * value)))).toEqual([0, 100, 0]);
		const ends = found.map(({ from, to }) => [times[from] / 72_000, times[to] / 72_000]);
		const truth = [
			[0, 0.5],
			[1.5, 2.5],
			[3.5, 4],
		];
		// It has left its rest by less than the tolerance for 0.06 s.
		ends.flat().forEach((end, i) => expect(Math.abs(end - truth.flat()[i])).toBeLessThan(0.08));
		expect(
			stillStretches(
				samplesOf(times, (s) => 0.1 * s),
				0.01,
			),
		).toEqual([]);
	});

	it('turns are the highest and lowest places, whatever trembles less', () => {
		const times = timesAt(120, 4);
		const samples = samplesOf(times, (s, i) => Math.sin(Math.PI * s) + 0.01 * noise(i));
		const turns = turnsOf(samples, 0.1).map((i) => times[i] / 72_000);
		expect(turns).toHaveLength(4);
		[0.5, 1.5, 2.5, 3.5].forEach((t, i) => expect(Math.abs(turns[i] - t)).toBeLessThan(0.06));
		expect(
			turnsOf(
				samplesOf(times, (s) => s),
				0.1,
			),
		).toEqual([]);
	});
});

describe('cleaning a column', () => {
	const value = (keys: readonly Key[]) => {
		const curve = compileCurve(keys, HOLDS, PLAYS_ONCE);
		return (t: number) => evaluateCurve(curve, t);
	};

	it('keeps within its tolerance at every sample, whatever was recorded and however it is cleaned', () => {
		const cleanings = fc.record({
			spikes: fc.boolean(),
			smoothing: fc.constantFrom('none' as const, 'even' as const, 'steady' as const),
			steadiness: between(0, 1),
			most: between(0, 0.1),
			stillness: fc.constantFrom(0, 0.005, 0.02),
			turns: fc.boolean(),
			tolerance: between(0.005, 0.1),
		});
		fc.assert(
			fc.property(
				cleanings,
				between(0.3, 8),
				between(0, 0.05),
				fc.array(fc.nat(), { maxLength: 3 }),
				(own, pace, grain, gaps) => {
					const cleaning = { ...CLEANING, ...own };
					const times = timesAt(90, 3);
					const column = Float32Array.from(times, (t, i) =>
						t < 72_000 ? 5 : 5 + Math.sin((pace * (t - 72_000)) / 72_000) + grain * noise(i),
					);
					for (const gap of gaps) column[gap % column.length] = NaN;
					const { stretches, cleaned, figures } = new ColumnCleaner(times, column).clean(cleaning);
					const all = cleaned.flatMap((own) => [...own.values]);
					// Shares are of what goes over before it is smoothed, which takes a tenth off each end at most.
					const range = Math.max(1e-6, Math.max(...all) - Math.min(...all));
					stretches.forEach((keys, i) => {
						const at = value(keys);
						const { times: own, values } = cleaned[i];
						own.forEach((t, k) =>
							expect(Math.abs(at(t) - values[k])).toBeLessThanOrEqual(
								Math.max(cleaning.tolerance, cleaning.stillness) * range * 1.25 + 1e-9,
							),
						);
						expect([keys[0].t, keys.at(-1)!.t]).toEqual([own[0], own.at(-1)]);
						expect(
							keys.every((key, k) => Number.isInteger(key.t) && (k === 0 || key.t > keys[k - 1].t)),
						).toBe(true);
					});
					expect(figures.samples).toBe(column.filter((v) => !Number.isNaN(v)).length);
					expect(figures.keys).toBe(stretches.flat().length);
					expect(figures.smoothed).toBeLessThanOrEqual(cleaning.most * range * 1.25 + 1e-9);
				},
			),
			{ numRuns: 60, endOnFailure: true },
		);
	});

	it('still stretches become true holds, and what leads there stands level at them', () => {
		const times = timesAt(120, 4);
		const column = Float32Array.from(times, (t, i) => thereAndBack(t / 72_000) + 0.002 * noise(i));
		const { stretches, figures } = new ColumnCleaner(times, column).clean({ ...CLEANING, tolerance: 0.02 });
		const [keys] = stretches;
		expect(figures.holds).toBe(3);
		expect(keys.filter(({ shape }) => shape.kind === 'hold')).toHaveLength(3);
		expect(keys.length).toBeLessThanOrEqual(9);
		const at = value(keys);
		expect(at(1.7 * 72_000)).toBe(at(2.3 * 72_000));
		expect(at(1.7 * 72_000)).toBeCloseTo(1, 2);
	});

	it('keys stand where it turns, level, and those are nearly all it needs', () => {
		const times = timesAt(120, 4);
		const column = Float32Array.from(times, (t) => Math.sin((Math.PI * t) / 72_000));
		const { stretches } = new ColumnCleaner(times, column).clean({ ...RAW, turns: true, tolerance: 0.03 });
		const [keys] = stretches;
		for (const turn of [0.5, 1.5, 2.5, 3.5]) {
			const key = keys.find(({ t }) => Math.abs(t / 72_000 - turn) < 0.03);
			expect([key?.left?.mode, key?.right?.mode]).toEqual(['flat', 'flat']);
		}
		expect(keys.length).toBeLessThanOrEqual(8);
	});

	it('cleaning again with other settings comes to the same as cleaning anew', () => {
		const times = timesAt(90, 2);
		const column = Float32Array.from(
			times,
			(t, i) => Math.sin(t / 9000) + 0.02 * noise(i) + (i === 70 ? 3 : 0),
		);
		const again = new ColumnCleaner(times, column);
		const settings: Cleaning[] = [
			CLEANING,
			RAW,
			{ ...CLEANING, steadiness: 0.9 },
			{ ...CLEANING, tolerance: 0.1 },
			CLEANING,
		];
		for (const cleaning of settings)
			expect(again.clean(cleaning)).toEqual(new ColumnCleaner(times, column).clean(cleaning));
		expect(again.clean(CLEANING).figures.spikes).toBe(1);
	});

	it('finer tolerances need more keys, and the knee is where finer hardly pays', () => {
		const times = timesAt(60, 3);
		const column = Float32Array.from(times, (t, i) => Math.sin(t / 12_000) + 0.01 * noise(i));
		const cleaner = new TakeCleaner({ times, columns: [column] });
		const counts = COUNTED_TOLERANCES.map((tolerance) => {
			const [{ figures }] = cleaner.clean({ ...CLEANING, smoothing: 'none', tolerance });
			return { tolerance, keys: figures.keys };
		});
		counts.slice(1).forEach(({ keys }, i) => expect(keys).toBeLessThanOrEqual(counts[i].keys * 1.1));
		const knee = kneeOf(counts)!;
		// Below the noise each sample wants its key.
		expect(knee.tolerance).toBeGreaterThan(0.004);
		expect(knee.tolerance).toBeLessThan(0.06);
		expect(kneeOf(counts.map((point) => ({ ...point, keys: 2 })))).toBeNull();
	});
});
