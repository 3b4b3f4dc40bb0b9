/** Takes laid on other parts: names found, rounds found, and what comes of the samples. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { between } from '../../player/testing';
import { angleBetween, fromEuler } from '../../player/maths/quaternion';
import { TICKS_PER_SECOND } from '../../player/time';
import { CLEANING, type Take, type TakeColumn } from '../document/takes';
import { emptyDoc, type Doc, type Part } from '../document/types';
import { layTake, matchParts, sameOn, scaleBetween, type Laying } from './lay';
import { matchNames } from './match';
import { roundsOf } from './rounds';
import type { TakeSamples } from './samples-file';

describe('parts are found by the likeness of their names', () => {
	const own = ['thigh.L', 'thigh.R', 'shin.L', 'shin.R', 'pelvis', 'head', 'upper_arm.L', 'crane'];
	const called = (names: string[], mirrored = false) =>
		matchNames(names, own, mirrored).map((k) => (k === null ? null : own[k]));

	it('whatever makers call them, and whatever all of theirs begin with', () => {
		expect(called(['rig:LeftUpLeg', 'rig:RightUpLeg', 'rig:LeftLeg', 'rig:Hips', 'rig:Head'])).toEqual([
			'thigh.L',
			'thigh.R',
			'shin.L',
			'pelvis',
			'head',
		]);
		expect(called(['l_knee', 'R Calf', 'LowerLeg.L', 'left'])).toEqual(['shin.L', 'shin.R', null, null]);
		expect(called(['Upper Arm Left', 'kelp 3', 'crane 2'])).toEqual(['upper_arm.L', null, 'crane']);
	});

	it('mirrored on the other side, and none twice', () => {
		expect(called(['LeftUpLeg', 'RightUpLeg', 'Hips'], true)).toEqual(['thigh.R', 'thigh.L', 'pelvis']);
		fc.assert(
			fc.property(fc.array(fc.string(), { maxLength: 8 }), (names) => {
				const found = matchNames(names, own).filter((k) => k !== null);
				expect(new Set(found).size).toBe(found.length);
			}),
		);
	});
});

/** Samples at a rate of functions of seconds. */
function sampled(seconds: number, rate: number, columns: ((t: number) => number)[]): TakeSamples {
	const times = Uint32Array.from({ length: Math.round(seconds * rate) + 1 }, (_, i) =>
		Math.round((i * TICKS_PER_SECOND) / rate),
	);
	return {
		times,
		columns: columns.map((own) => Float32Array.from(times, (t) => own(t / TICKS_PER_SECOND))),
	};
}

describe('one round is found', () => {
	it('of any length and phase, in a motion that travels and trembles', () => {
		fc.assert(
			fc.property(
				between(0.4, 1.6),
				between(0, 6),
				between(0, 2),
				fc.integer({ min: 0, max: 1000 }),
				(period, phase, travel, seed) => {
					const noise = (t: number) => 0.01 * Math.sin(1e4 * t + seed);
					const w = (2 * Math.PI) / period;
					const take = sampled(5, 60, [
						(t) => 30 * Math.sin(w * t + phase) + noise(t),
						(t) => 12 * Math.sin(2 * w * t + 2 * phase + 0.4) + 8 * Math.cos(w * t + phase),
						(t) => travel * t,
					]);
					const [best] = roundsOf(take, ['rotation', 'rotation', 'translation']);
					const seconds = (best.to - best.from) / TICKS_PER_SECOND;
					expect(Math.abs(seconds - period)).toBeLessThan(0.03 + 0.02 * period);
					expect(best.pose).toBeLessThan(0.06);
				},
			),
			{ numRuns: 25 },
		);
	});

	it('not where there is none to find, nor where nothing moves or too little was told', () => {
		expect(roundsOf(sampled(2, 60, [() => 4]), ['rotation'])).toEqual([]);
		expect(roundsOf(sampled(0.1, 30, [(t) => t]), ['rotation'])).toEqual([]);
		const [once] = roundsOf(sampled(2, 60, [(t) => t * t]), ['opacity']);
		// It rises all the way: whatever is proposed says how badly it closes.
		expect(once === undefined || once.speed > 0.05).toBe(true);
	});
});

const column = (
	part: string,
	property: TakeColumn['property'],
	component: TakeColumn['component'],
): TakeColumn => ({
	part,
	property,
	component,
});
function part(id: string, rest: Partial<Part['rest']> = {}, own: Partial<Part> = {}): Part {
	return {
		type: 'part',
		id,
		name: id,
		parent: null,
		order: id,
		drawing: { kind: 'empty', offset: [0, 0, 0] },
		colour: '#888888',
		rest: { translation: [0, 0, 0], rotation: [0, 0, 0], scale: [1, 1, 1], opacity: 1, ...rest },
		eulerOrder: 'XYZ',
		visible: true,
		...own,
	};
}
function docWith(parts: Part[]): Doc {
	const doc = emptyDoc({ type: 'project', id: 'walk', name: 'Walk', space: 'world', frameRate: 30 });
	return { ...doc, parts: Object.fromEntries(parts.map((own) => [own.id, own])) };
}
function takeOf(columns: TakeColumn[], { times }: TakeSamples): Take {
	return {
		type: 'take',
		id: 'take',
		name: 'take',
		order: 'a',
		clip: 'walk',
		asset: '',
		samples: times.length,
		from: times[0],
		to: times.at(-1)!,
		columns,
		cleaning: CLEANING,
	};
}
const AS_IT_IS: Omit<Laying, 'columns'> = {
	from: 0,
	to: Infinity,
	at: 0,
	slower: 1,
	scale: 1,
	mirrored: false,
	turnsOver: false,
	fromRest: false,
	closes: false,
};

describe('a take laid on other parts', () => {
	const doc = docWith([
		part('hip left', { translation: [-0.2, 1, 0] }),
		part('hip right', { translation: [0.2, 1, 0] }),
		part('slim', { translation: [3, 4, 5] }),
		part('turned', {}, { eulerOrder: 'ZYX' }),
	]);
	const here = { from: doc, on: doc };

	it('is scaled, begins where the part rests, and at another time and pace', () => {
		const samples = sampled(1, 60, [(t) => 10 + t]);
		const take = takeOf([column('hip left', 'translation', 'x')], samples);
		const on = column('slim', 'translation', 'x');
		const laid = layTake(here, take, samples, {
			...AS_IT_IS,
			columns: [{ on, factor: 1 }],
			from: 36_000,
			at: 720,
			slower: 2,
			scale: 0.5,
			fromRest: true,
		})!;
		expect([laid.samples.times[0], laid.samples.times.at(-1)]).toEqual([720, 720 + 72_000]);
		expect(laid.samples.columns[0][0]).toBeCloseTo(3, 5);
		expect(laid.samples.columns[0].at(-1)).toBeCloseTo(3.25, 5);
		expect(samples.columns[0][0]).toBe(10);
	});

	it('is mirrored: left on right, and what changes side in a mirror turned over', () => {
		const parts = matchParts(here, ['hip left', 'hip right'], ['hip right', 'hip left', 'slim'], true);
		expect(parts).toEqual(['hip right', 'hip left']);
		const samples = sampled(1, 60, [(t) => t, (t) => 20 * t, (t) => 30 * t]);
		const own = [
			column('hip left', 'translation', 'x'),
			column('hip left', 'rotation', 'x'),
			column('hip left', 'rotation', 'z'),
		];
		const laid = layTake(here, takeOf(own, samples), samples, {
			...AS_IT_IS,
			mirrored: true,
			columns: own.map((one) => ({ on: sameOn(doc, 'hip right', one, true)!, factor: 1 })),
		})!;
		expect(laid.columns.every((one) => one.part === 'hip right')).toBe(true);
		expect(laid.samples.columns.map((values) => values.at(-1))).toEqual([-1, 20, -30]);
	});

	it('turns parts of another order the same way', () => {
		fc.assert(
			fc.property(between(-170, 170), between(-80, 80), between(-170, 170), (x, y, z) => {
				const samples = sampled(1, 30, [(t) => x * t, (t) => y * t, (t) => z * t]);
				const own = (['x', 'y', 'z'] as const).map((axis) => column('slim', 'rotation', axis));
				const laid = layTake(here, takeOf(own, samples), samples, {
					...AS_IT_IS,
					columns: own.map((one) => ({ on: { ...one, part: 'turned' }, factor: 1 })),
				})!;
				for (const i of [5, 17, 30]) {
					const told = (columns: Float32Array[]) => columns.map((values) => values[i]);
					const [before, after] = [
						fromEuler(told(samples.columns), doc.parts.slim.eulerOrder),
						fromEuler(told(laid.samples.columns), 'ZYX'),
					];
					expect(angleBetween(before, after)).toBeLessThan(1e-3);
				}
			}),
			{ numRuns: 40 },
		);
	});

	it('closes as a round in value and in speed, and what travels goes on', () => {
		const samples = sampled(1, 120, [
			(t) => Math.sin(2 * Math.PI * t) + 0.1 * t + 0.05 * t * t,
			(t) => 1.4 * t + 0.02 * Math.sin(6 * t),
		]);
		const own = [column('hip left', 'rotation', 'z'), column('hip left', 'translation', 'x')];
		const laid = layTake(here, takeOf(own, samples), samples, {
			...AS_IT_IS,
			columns: own.map((on) => ({ on, factor: 1 })),
			closes: true,
		})!;
		expect(laid.travels).toEqual([false, true]);
		const [turn, way] = laid.samples.columns;
		expect(turn.at(-1)).toBe(turn[0]);
		expect(way.at(-1)! - way[0]).toBeCloseTo(samples.columns[1].at(-1)!, 1);
		for (const values of [turn, way]) {
			const [start, end] = [values[1] - values[0], values.at(-1)! - values.at(-2)!];
			expect(Math.abs(end - start) * 120).toBeLessThan(0.25);
		}
		expect(laid.changed).toBeGreaterThan(0);
		expect(laid.changed).toBeLessThan(0.1);
	});

	it('squeezed has no two samples at one tick, and what is gone is not laid on', () => {
		const samples = sampled(1, 1000, [(t) => t, (t) => 2 * t]);
		const own = [column('slim', 'translation', 'x'), column('slim', 'translation', 'y')];
		const laid = layTake(here, takeOf(own, samples), samples, {
			...AS_IT_IS,
			slower: 0.001,
			columns: [
				{ on: own[0], factor: 1 },
				{ on: { ...own[1], part: 'gone' }, factor: 1 },
			],
		})!;
		expect([...laid.samples.times]).toEqual(Array.from({ length: 73 }, (_, i) => i));
		expect(laid.samples.columns.map((values) => values.length)).toEqual([73]);
	});

	it('is nothing where nothing of it is chosen, or no time is left of it', () => {
		const samples = sampled(1, 60, [(t) => t]);
		const take = takeOf([column('slim', 'translation', 'x')], samples);
		const on = { on: column('slim', 'translation', 'x'), factor: 1 };
		expect(layTake(here, take, samples, { ...AS_IT_IS, columns: [null] })).toBeNull();
		expect(layTake(here, take, samples, { ...AS_IT_IS, columns: [on], from: 72_000 })).toBeNull();
	});

	it('tells how much larger its parts are by how far they rest apart', () => {
		const tall = part('tall', { translation: [0, 2, 0] }, { parent: 'slim' });
		const low = part('low', { translation: [0, 0.5, 0] }, { parent: 'slim' });
		const own = docWith([...Object.values(doc.parts), tall, low]);
		expect(scaleBetween({ from: own, on: own }, [['tall', 'low']])).toBe(0.25);
		expect(scaleBetween({ from: own, on: own }, [['slim', 'turned']])).toBeNull();
	});
});
