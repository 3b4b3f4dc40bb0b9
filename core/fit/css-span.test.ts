/** The CSS of a span, read back as a browser reads it. */
import { describe, expect, it } from 'vitest';
import { compileCurve } from '../curve/compile';
import { PLAYS_ONCE } from '../curve/handles';
import type { HandleSide, Key } from '../curve/types';
import { readCssEasing } from '../easing/css';
import { bounceContacts } from '../../player/easing/bounce';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { Shape } from '../../player/easing/shape';
import { spanEasing } from './css-span';

const keysOf = (shape: Shape, right?: HandleSide, left?: HandleSide): Key[] => [
	{ t: 0, v: 2, shape, right },
	{ t: 72_000, v: 5, shape: { kind: 'linear' }, left },
];
/** What the text does, as progress to progress. */
function easeOfText(text: string): (x: number) => number {
	const read = readCssEasing(text);
	if (!read.ok) throw new Error(read.problems[0].message);
	const curve = compileCurve(
		[
			{ t: 0, v: 0, shape: read.value },
			{ t: 72_000, v: 1, shape: { kind: 'linear' } },
		],
		{ before: 'hold', after: 'hold' },
		PLAYS_ONCE,
	);
	return (x) => evaluateCurve(curve, 72_000 * x);
}
/** The largest difference between a span and its text, jumps left out. */
function worstOff(keys: Key[], text: string): number {
	const curve = compileCurve(keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE);
	const ease = easeOfText(text);
	let worst = 0;
	for (let i = 0; i <= 20_000; i++) {
		const x = i / 20_000;
		const span = (evaluateCurve(curve, Math.min(72_000 * x, 71_999.9999)) - 2) / 3;
		worst = Math.max(worst, Math.abs(span - ease(Math.min(x, 1 - 1e-9))));
	}
	return worst;
}

const spring: Shape = { kind: 'spring', mass: 1, stiffness: 170, damping: 8, velocity: 0, time: 'fitted' };
const bounce: Shape = { kind: 'bounce', restitution: 0.62, count: 5 };

describe('the CSS of a span', () => {
	it('is a cubic Bezier where its handles are one, whatever the values of its keys', () => {
		const third = { mode: 'split', reach: 1 / 3 } as const;
		const keys = keysOf({ kind: 'handles' }, { ...third, rise: 2.4 }, { ...third, rise: 0 });
		const easing = spanEasing(keys, 0, PLAYS_ONCE, 0.001)!;
		expect(easing).toEqual({ text: 'cubic-bezier(0.333333, 0.8, 0.666667, 1)', exact: true, stops: 0 });
		expect(worstOff(keys, easing.text)).toBeLessThan(2e-6);
	});

	it.each([{ kind: 'fall' }, { kind: 'rise' }, { kind: 'eased', start: 1 / 3, finish: 1 / 7 }] as Shape[])(
		'that is called exact is so to a millionth: $kind',
		(shape) => {
			const easing = spanEasing(keysOf(shape), 0, PLAYS_ONCE, 0.001)!;
			expect(easing.exact).toBe(true);
			expect(worstOff(keysOf(shape), easing.text)).toBeLessThan(2e-6);
		},
	);

	it.each([1e-2, 1e-3, 1e-4])('keeps a bound of %d as it is written', (bound) => {
		const shapes = [
			spring,
			{ ...spring, damping: 40 },
			bounce,
			{ kind: 'family', family: 'elastic', way: 'out' },
			{ kind: 'family', family: 'expo', way: 'in-out' },
			// Upright at its end: what follows it closer is finer than float32 times.
			...(bound > 1e-4 ? [{ kind: 'family', family: 'circ', way: 'in' }] : []),
		] as Shape[];
		for (const shape of shapes) {
			const { text } = spanEasing(keysOf(shape), 0, PLAYS_ONCE, bound)!;
			expect(worstOff(keysOf(shape), text), text.slice(0, 80)).toBeLessThanOrEqual(bound);
		}
	});

	it('touches the ground where a bounce does', () => {
		const { text } = spanEasing(keysOf(bounce), 0, PLAYS_ONCE, 0.001)!;
		const ease = easeOfText(text);
		const stops = text
			.slice(7, -1)
			.split(', ')
			.map((stop) => stop.split(' ').map(parseFloat));
		for (const x of bounceContacts(0.62, 5)) {
			expect(stops.some(([y, percent]) => y === 1 && Math.abs(percent / 100 - x) < 1e-5)).toBe(true);
			expect(ease(x)).toBeGreaterThan(0.9999);
		}
	});
});
