import { expect, it } from 'vitest';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { Shape } from '../../player/easing/shape';
import { eulerInto } from '../../player/maths/quaternion';
import { TICKS_PER_SECOND } from '../../player/time';
import { compileCurve, curvePieces } from '../curve/compile';
import { PLAYS_ONCE } from '../curve/handles';
import type { Key } from '../curve/types';
import { fit, fitAsLinear } from './fit';
import type { Source } from './source';
import { worstOf } from './testing';

const SHAPES: readonly Shape[] = [
	{ kind: 'eased', start: 0.4, finish: 0.3 },
	{ kind: 'fall' },
	{ kind: 'linear' },
	{ kind: 'hold' },
	{ kind: 'spring', mass: 1, stiffness: 120, damping: 6, velocity: 3, time: 'real' },
];

/** So many keys, three quarters of a second apart, with some jumps among them, and how often it was read. */
function longSource(count: number, rotates = false): { source: Source; end: number; reads: () => number } {
	const keys = Array.from({ length: count }, (_, k): Key => {
		const shape = SHAPES[k % 50 === 30 ? 3 : (k * 7) % 3 === 2 ? 4 : k % 3];
		return { t: k * 54_000, v: 2 * Math.sin(1.7 * k) + (k % 2), shape };
	});
	const curve = compileCurve(keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE);
	let reads = 0;
	const source: Source = {
		size: rotates ? 4 : 2,
		start: 0,
		end: keys.at(-1)!.t,
		pieces: curvePieces(keys).map((piece) => (rotates ? { ...piece, degree: undefined } : piece)),
		evaluate: (t, out) => {
			reads++;
			const v = evaluateCurve(curve, t);
			if (rotates) eulerInto(60 * v, 20 * v, 5 * v, 'XYZ', out);
			else out.set([v, 3 - v]);
		},
	};
	return { source, end: keys.at(-1)!.t, reads: () => reads };
}

it.each([
	['numbers', false, fit, 0.004],
	['numbers by straight spans', false, fitAsLinear, 0.004],
	['rotations', true, fit, 0.2],
])('keeps the bound all along a source of a thousand keys: %s', (_, rotates, reduce, bound) => {
	const { source } = longSource(1000, rotates);
	const { sampler, error } = reduce(source, bound);
	expect(error).toBeLessThanOrEqual(bound);
	expect(worstOf(source, sampler, bound, 40_000)).toBeLessThanOrEqual(bound);
	expect(sampler.times.every((time, i) => i === 0 || time > sampler.times[i - 1])).toBe(true);
	expect([sampler.times[0], sampler.times.at(-1)]).toEqual([0, Math.fround(source.end / TICKS_PER_SECOND)]);
	expect(sampler.values).toHaveLength(
		sampler.times.length * source.size * (sampler.interpolation === 'CUBICSPLINE' ? 3 : 1),
	);
});

it('takes about eight times the work for eight times the length, and hardly a key more than its share', () => {
	const [short, long] = [longSource(250), longSource(2000)];
	const [few, many] = [fit(short.source, 0.004).sampler, fit(long.source, 0.004).sampler];
	expect(long.reads()).toBeLessThan(9.6 * short.reads());
	expect(many.times.length).toBeLessThan(8.2 * few.times.length);
});
