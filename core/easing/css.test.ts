import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { STEP_JUMPS, type Shape } from '../../player/easing/shape';
import { cssEasing, readCssEasing } from './css';

const unit = fc.integer({ min: 0, max: 10_000 }).map((n) => n / 10_000);
const value = fc.integer({ min: -20_000, max: 20_000 }).map((n) => n / 10_000);
const shapes: fc.Arbitrary<Shape> = fc.oneof(
	fc.constantFrom<Shape>({ kind: 'linear' }, { kind: 'hold' }),
	fc.record({ kind: fc.constant('eased' as const), start: unit, finish: unit }),
	fc
		.record({ kind: fc.constant('bezier' as const), x1: unit, y1: value, x2: unit, y2: value })
		.filter((shape) => shape.y1 !== 0 || shape.y2 !== 1),
	fc.record({
		kind: fc.constant('steps' as const),
		count: fc.integer({ min: 2, max: 40 }),
		jump: fc.constantFrom(...STEP_JUMPS),
	}),
);

describe('CSS easing text', () => {
	it('is read back as the shape it was written from', () => {
		fc.assert(
			fc.property(shapes, (shape) => {
				expect(readCssEasing(cssEasing(shape)!)).toEqual({ ok: true, value: shape });
			}),
		);
	});

	it.each<[string, { x: number; y: number }[]]>([
		[
			'linear(0, 1)',
			[
				{ x: 0, y: 0 },
				{ x: 1, y: 1 },
			],
		],
		[
			'linear(0, 0.5, 1)',
			[
				{ x: 0, y: 0 },
				{ x: 0.5, y: 0.5 },
				{ x: 1, y: 1 },
			],
		],
		[
			'linear(0, 0.2 50% 75%, 1)',
			[
				{ x: 0, y: 0 },
				{ x: 0.5, y: 0.2 },
				{ x: 0.75, y: 0.2 },
				{ x: 1, y: 1 },
			],
		],
		[
			'linear(0 20%, 0.4, 0.8, 1 80%)',
			[
				{ x: 0.2, y: 0 },
				{ x: 0.4, y: 0.4 },
				{ x: 0.6, y: 0.8 },
				{ x: 0.8, y: 1 },
			],
		],
		[
			'linear(0, 0.3 60%, 0.6 40%, 1)',
			[
				{ x: 0, y: 0 },
				{ x: 0.6, y: 0.3 },
				{ x: 0.6, y: 0.6 },
				{ x: 1, y: 1 },
			],
		],
		[
			'linear(-1 -50%, 0.5, 2 150%)',
			[
				{ x: -0.5, y: -1 },
				{ x: 0.5, y: 0.5 },
				{ x: 1.5, y: 2 },
			],
		],
	])('%s has its stops where the standard says', (text, stops) => {
		const read = readCssEasing(text);
		expect(
			read.ok &&
				read.value.kind === 'stops' &&
				read.value.stops.map(({ x, y }) => ({ x: Number(x.toFixed(9)), y })),
		).toEqual(stops);
	});

	it.each([
		'',
		'wobble',
		'cubic-bezier(1.2, 0, 0, 1)',
		'cubic-bezier(0, 0, 1)',
		'steps(0)',
		'steps(1, jump-none)',
		'steps(2.5)',
		'steps(2000)',
		'steps(3, end, end)',
		'linear(0)',
		'linear(0 x%, 1)',
		'linear(0 -20000%, 1)',
		'url(harbour)',
	])('%j is refused with a reason', (text) => {
		const read = readCssEasing(text);
		expect(read.ok).toBe(false);
		expect(!read.ok && read.problems[0].message.length).toBeGreaterThan(15);
	});
});
