import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeQuay } from '../../demo/quay';
import { compileCurve } from '../curve/compile';
import { PLAYS_ONCE } from '../curve/handles';
import type { Key } from '../curve/types';
import { CLEANING, type Cleaning, type Take } from '../document/takes';
import { VERSION } from '../document/migrate';
import { validateDocument } from '../document/validate';
import type { Samples } from '../fit/take-filter';
import { evaluateCurve } from '../../player/curve/evaluate';
import {
	angleBetween,
	axisTurn,
	fromEuler,
	multiply,
	toEuler,
	type Quaternion,
} from '../../player/maths/quaternion';
import { between } from '../../player/testing';
import { stillStretches, turnsOf } from './anchors';
import { TakeCleaner, groupsIn } from './clean';
import { COUNTED_TOLERANCES, kneeOf } from './key-counts';
import { putTake } from './put-take';
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

const cleanColumn = (times: Uint32Array, column: Float32Array, cleaning: Cleaning) =>
	new TakeCleaner({ times, columns: [column] }).cleanColumn(0, cleaning);

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
					const { stretches, cleaned, figures } = cleanColumn(times, column, cleaning);
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
		const { stretches, figures } = cleanColumn(times, column, { ...CLEANING, tolerance: 0.02 });
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
		const { stretches } = cleanColumn(times, column, { ...RAW, turns: true, tolerance: 0.03 });
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
		const again = new TakeCleaner({ times, columns: [column] });
		const settings: Cleaning[] = [
			CLEANING,
			RAW,
			{ ...CLEANING, steadiness: 0.9 },
			{ ...CLEANING, tolerance: 0.1 },
			CLEANING,
		];
		for (const cleaning of settings)
			expect(again.clean(cleaning)[0]).toEqual(cleanColumn(times, column, cleaning));
		expect(again.clean(CLEANING)[0].figures.spikes).toBe(1);
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

describe('turns are cleaned by what they mean together', () => {
	const order = 'XYZ';
	/** Turns about an axis that wanders: near the singularity the angles go wild, the orientation does not. */
	const wander = (s: number): Quaternion => {
		const about = (axis: number, degrees: number) => axisTurn(axis, degrees);
		return multiply(
			multiply(about(0, 40 * s), about(1, 86 + 8 * Math.sin(3 * s))),
			about(2, 15 * Math.sin(5 * s)),
		);
	};
	/** As a device tells it: each time the angles of its own, which flip over. */
	function told(seconds: number, rate: number, more: (i: number) => number) {
		const times = timesAt(rate, seconds);
		const rows = Array.from(times, (t, i) =>
			toEuler(multiply(wander(t / 72_000), axisTurn(0, more(i))), order),
		);
		return {
			samples: { times, columns: [0, 1, 2].map((k) => Float32Array.from(rows, (own) => own[k])) },
			truth: Array.from(times, (t) => wander(t / 72_000)),
		};
	}
	const worstOff = (cleaned: { cleaned: Samples[] }[], truth: readonly Quaternion[]) =>
		truth.reduce((worst, own, i) => {
			const euler = cleaned.map(({ cleaned: [{ values }] }) => values[i]);
			return Math.max(worst, angleBetween(fromEuler(euler, order), own));
		}, 0);
	const turns = [{ kind: 'turns', columns: [0, 1, 2], order }] as const;

	it('without a flip, and nearer than angle by angle', () => {
		const { samples, truth } = told(3, 90, (i) => 0.4 * noise(i));
		const cleaning: Cleaning = {
			...CLEANING,
			smoothing: 'even',
			span: 9000,
			most: 0.2,
			stillness: 0,
			tolerance: 0.01,
		};
		const together = new TakeCleaner(samples, turns).clean(cleaning);
		const apart = new TakeCleaner(samples).clean(cleaning);
		expect(worstOff(together, truth)).toBeLessThan(0.5);
		expect(worstOff(together, truth)).toBeLessThan(0.2 * worstOff(apart, truth));
		for (const { cleaned } of together)
			cleaned[0].values.forEach((v, i, all) => expect(Math.abs(v - (all[i - 1] ?? v))).toBeLessThan(90));
	});

	it('and a spike of the orientation is one in all three', () => {
		const { samples, truth } = told(3, 90, (i) => (i === 100 || i === 200 ? 25 : 0.05 * noise(i)));
		const cleaned = new TakeCleaner(samples, turns).clean({
			...CLEANING,
			smoothing: 'none',
			tolerance: 0.01,
		});
		expect(cleaned.map(({ figures }) => figures.spikes)).toEqual([2, 2, 2]);
		expect(worstOff(cleaned, truth)).toBeLessThan(1);
	});

	it('where a part has all three, told in its own order', () => {
		const doc = makeQuay();
		const part = doc.parts['crane-arm'] ?? Object.values(doc.parts)[0];
		const of = (component: 'x' | 'y' | 'z') => ({ part: part.id, property: 'rotation' as const, component });
		expect(groupsIn(doc, { columns: [of('z'), of('x'), of('y')] })).toEqual([
			{ kind: 'turns', columns: [1, 2, 0], order: part.eulerOrder },
		]);
		expect(groupsIn(doc, { columns: [of('z'), of('x')] })).toEqual([]);
	});
});

describe('colours are cleaned as they are seen', () => {
	const shown = (s: number): number[] => [
		0.5 + 0.4 * Math.sin(2 * s),
		0.3,
		0.5 + 0.4 * Math.cos(3 * s),
		0.75 + 0.2 * Math.cos(s),
	];
	const times = timesAt(60, 2);
	const told = [0, 1, 2, 3].map((k) =>
		Float32Array.from(times, (t, i) =>
			i === 50 ? (k < 3 ? 1 : 0.2) : shown(t / 72_000)[k] + (k < 3 ? 0.004 * noise(4 * i + k) : 0),
		),
	);
	const groups = [{ kind: 'colour', columns: [0, 1, 2, 3] }] as const;

	it('with keys of all four at the same times, few, within the tolerance, and without the flash', () => {
		const cleaned = new TakeCleaner({ times, columns: told }, groups).clean({ ...CLEANING, tolerance: 0.03 });
		const at = cleaned.map(({ stretches }) => stretches[0].map(({ t }) => t));
		for (const own of at) expect(own).toEqual(at[0]);
		expect(at[0].length).toBeLessThan(20);
		cleaned.forEach(({ figures, cleaned: [{ values }] }, k) => {
			expect(figures.largest).toBeLessThanOrEqual(0.03);
			expect(figures.spikes).toBeGreaterThan(0);
			values.forEach((v, i) => expect(Math.abs(v - shown(times[i] / 72_000)[k])).toBeLessThan(0.03));
		});
	});

	it('and put as keys of a colour, in the place of what was there', () => {
		const doc = makeQuay();
		const part = 'mail-sack';
		const columns = [0, 1, 2, 3].map((index) => ({
			part,
			property: 'colour' as const,
			component: 'value' as const,
			index,
		}));
		const take: Take = {
			...{ type: 'take', id: 'k', name: 'k', order: 'a', clip: 'sack-drop', asset: 'a'.repeat(64) },
			...{ samples: times.length, from: times[0], to: times.at(-1)!, columns, cleaning: CLEANING },
		};
		expect(groupsIn(doc, take)).toEqual([{ kind: 'colour', columns: [0, 1, 2, 3] }]);
		const cleaned = new TakeCleaner({ times, columns: told }, groups).clean(CLEANING);
		const { doc: next, leftOut } = putTake(doc, take, cleaned);
		expect(leftOut).toEqual([]);
		const { keys } = next.channels['sack-drop/mail-sack/colour/value'];
		expect(keys.map(({ t }) => t)).toEqual(cleaned[0].stretches[0].map(({ t }) => t));
		keys.forEach(({ vector }, i) =>
			expect(vector).toEqual(cleaned.map(({ stretches }) => stretches[0][i].v)),
		);
		const again = putTake(next, { ...take, id: 'l' }, cleaned).doc;
		expect(again.channels['sack-drop/mail-sack/colour/value'].keys.length).toBe(keys.length);
		expect(validateDocument({ format: 'hillock-project', version: VERSION, ...next }).ok).toBe(true);
		// A column of a colour that does not say which is none.
		const broken = { ...next, takes: { k: { ...take, columns: [{ ...columns[0], index: undefined }] } } };
		expect(
			validateDocument(JSON.parse(JSON.stringify({ format: 'hillock-project', version: VERSION, ...broken })))
				.ok,
		).toBe(false);
	});
});

it('bridges gaps that are short enough, and no others', () => {
	const times = Uint32Array.from({ length: 60 }, (_, i) => 1200 * i);
	const column = Float32Array.from(times, (_, i) => ((i > 9 && i < 13) || (i > 29 && i < 45) ? NaN : i));
	const stretches = (bridge?: number) => cleanColumn(times, column, { ...RAW, bridge }).stretches;
	expect(stretches().map((keys) => keys.map(({ t }) => t / 1200))).toEqual([
		[0, 9],
		[13, 29],
		[45, 59],
	]);
	expect(stretches(4 * 1200).map((keys) => [keys[0].t / 1200, keys.at(-1)!.t / 1200])).toEqual([
		[0, 29],
		[45, 59],
	]);
	expect(stretches(16 * 1200)).toHaveLength(1);
});
