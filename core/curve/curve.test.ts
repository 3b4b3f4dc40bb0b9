import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileCurve } from './compile';
import { moveKeys, putKey, removeKeys, setModes, setShape, toHandles } from './edit';
import { evaluateCurve } from '../../player/curve/evaluate';
import { spanExcess } from './excess';
import { expandSpan, insertOnCurve, joinSpans } from './split';
import { PLAYS_ONCE, type CurveContext } from './handles';
import { EASING_FAMILIES, EASING_WAYS, STEP_JUMPS, type Shape } from '../../player/easing/shape';
import type { EndKind } from '../../player/curve/flat';
import type { HandleSide, Key } from './types';
import { between } from '../../player/testing';

const HOLD = { before: 'hold', after: 'hold' } as const;
const valueOf = (
	keys: Key[],
	t: number,
	context: CurveContext = PLAYS_ONCE,
	ends: { before: EndKind; after: EndKind } = HOLD,
) => evaluateCurve(compileCurve(keys, ends, context), t);
const span = (shape: Shape, v0 = 2, v1 = 10, ticks = 1000): Key[] => [
	{ t: 0, v: v0, shape },
	{ t: ticks, v: v1, shape: { kind: 'linear' } },
];

const side = fc.oneof(
	fc.constant<HandleSide>({ mode: 'smooth' }),
	fc.record({ mode: fc.constant('flat' as const), reach: between(0, 1) }),
	fc.record({
		mode: fc.constant('split' as const),
		reach: between(0.01, 1),
		rise: between(-50, 50),
	}),
);
const unit = between(0, 1);
const bezierShape = fc.oneof(
	fc.constantFrom<Shape>(
		{ kind: 'hold' },
		{ kind: 'linear' },
		{ kind: 'fall' },
		{ kind: 'rise' },
		{ kind: 'handles' },
	),
	fc.record({ kind: fc.constant('eased' as const), start: unit, finish: unit }),
	fc.record({
		kind: fc.constant('bezier' as const),
		x1: unit,
		y1: between(-2, 3),
		x2: unit,
		y2: between(-2, 3),
	}),
);
const springs = fc.record({
	kind: fc.constant('spring' as const),
	mass: between(0.1, 5),
	stiffness: between(1, 500),
	damping: between(0.5, 60),
	velocity: between(-50, 50),
	time: fc.constantFrom('real' as const, 'fitted' as const),
});
const anyShape = fc.oneof(
	bezierShape,
	fc.record({
		kind: fc.constant('family' as const),
		family: fc.constantFrom(...EASING_FAMILIES),
		way: fc.constantFrom(...EASING_WAYS),
	}),
	fc.record({
		kind: fc.constant('steps' as const),
		count: fc.integer({ min: 2, max: 9 }),
		jump: fc.constantFrom(...STEP_JUMPS),
	}),
	springs,
	fc.record({
		kind: fc.constant('bounce' as const),
		restitution: between(0.1, 0.9),
		count: fc.integer({ min: 1, max: 6 }),
	}),
);
const keysOf = (shape: fc.Arbitrary<Shape>) =>
	fc
		.array(
			fc.record({
				gap: fc.integer({ min: 600, max: 90_000 }),
				v: between(-100, 100),
				shape,
				left: side,
				right: side,
			}),
			{ minLength: 2, maxLength: 7 },
		)
		.map((rows) => {
			let t = 0;
			return rows.map(({ gap, ...key }, i): Key => ({ t: (t += i === 0 ? 0 : gap), ...key }));
		});

describe('shapes follow their closed forms', () => {
	it.each<[string, Shape, number, number]>([
		['hold keeps the value', { kind: 'hold' }, 999, 2],
		['linear is halfway at the half', { kind: 'linear' }, 500, 6],
		['fall goes with the square of time', { kind: 'fall' }, 500, 2 + 8 * 0.25],
		['rise mirrors fall', { kind: 'rise' }, 250, 2 + 8 * (1 - 0.75 ** 2)],
		['eased by halves is symmetric', { kind: 'eased', start: 0.5, finish: 0.5 }, 500, 6],
		['sine in', { kind: 'family', family: 'sine', way: 'in' }, 500, 2 + 8 * (1 - Math.cos(Math.PI / 4))],
		['quad in-out', { kind: 'family', family: 'quad', way: 'in-out' }, 250, 2 + 8 * 0.125],
		['circ out', { kind: 'family', family: 'circ', way: 'out' }, 500, 2 + 8 * Math.sqrt(0.75)],
		[
			'back in dips first',
			{ kind: 'family', family: 'back', way: 'in' },
			500,
			2 + 8 * (0.25 * (2.70158 * 0.5 - 1.70158)),
		],
		['steps(4, jump-end)', { kind: 'steps', count: 4, jump: 'jump-end' }, 500, 6],
		['steps(4, jump-start)', { kind: 'steps', count: 4, jump: 'jump-start' }, 0, 4],
		['steps(5, jump-none)', { kind: 'steps', count: 5, jump: 'jump-none' }, 999, 10],
		['steps(3, jump-both)', { kind: 'steps', count: 3, jump: 'jump-both' }, 0, 4],
		[
			'linear stops',
			{
				kind: 'stops',
				stops: [
					{ x: 0, y: 0 },
					{ x: 0.5, y: 1.5 },
					{ x: 1, y: 1 },
				],
			},
			250,
			8,
		],
		['bounce touches the ground after its fall', { kind: 'bounce', restitution: 0.5, count: 1 }, 500, 10],
		['bounce rebounds to r²', { kind: 'bounce', restitution: 0.5, count: 1 }, 750, 10 - 8 * 0.25],
	])('%s', (_, shape, t, expected) => {
		expect(valueOf(span(shape), t)).toBeCloseTo(expected, 9);
	});

	it('a cubic Bezier solves for time to 1e-9', () => {
		const [x1, y1, x2, y2] = [0.9, -0.4, 0.05, 1.6];
		for (let i = 1; i < 50; i++) {
			const u = i / 50;
			const at = (a: number, b: number) => 3 * (1 - u) ** 2 * u * a + 3 * (1 - u) * u * u * b + u ** 3;
			const keys = span({ kind: 'bezier', x1, y1, x2, y2 }, 0, 1, 1);
			expect(valueOf(keys, at(x1, x2))).toBeCloseTo(at(y1, y2), 9);
		}
	});

	it('every family starts at its first key and ends at its second exactly', () => {
		for (const family of EASING_FAMILIES)
			for (const way of EASING_WAYS) {
				const keys = span({ kind: 'family', family, way }, 0, 1, 1000);
				expect(valueOf(keys, 0)).toBe(0);
				expect(valueOf(keys, 1000)).toBe(1);
				expect(valueOf(keys, 999.999999)).toBeCloseTo(1, 4);
			}
	});
});

describe('ends', () => {
	const keys: Key[] = [
		{ t: 100, v: 1, shape: { kind: 'linear' } },
		{ t: 200, v: 3, shape: { kind: 'linear' } },
	];
	it.each<[EndKind, number, number]>([
		['hold', 1, 3],
		['straight', 0, 4],
		['repeat', 2, 2],
		['accumulate', 0, 4],
		['alternate', 2, 2],
	])('%s', (kind, before, after) => {
		const ends = { before: kind, after: kind };
		expect(valueOf(keys, 50, PLAYS_ONCE, ends)).toBeCloseTo(before, 12);
		expect(valueOf(keys, 250, PLAYS_ONCE, ends)).toBeCloseTo(after, 12);
	});
});

describe('straight ends', () => {
	const STRAIGHT = { before: 'straight', after: 'straight' } as const;
	const beyond = (keys: Key[], t: number, context = PLAYS_ONCE) => valueOf(keys, t, context, STRAIGHT);

	it.each<[string, Shape, number, number]>([
		// Its handle at the end has no length: the one across gives the direction, 1 / 0.58.
		['CSS ease-in', { kind: 'eased', start: 0.42, finish: 0 }, 0, 1 + 1 / 0.58],
		['CSS ease-out', { kind: 'eased', start: 0, finish: 0.42 }, -1 / 0.58, 1],
		['handles of no length', { kind: 'bezier', x1: 0, y1: 0, x2: 1, y2: 1 }, -1, 2],
		['a vertical tangent', { kind: 'bezier', x1: 0, y1: 0.5, x2: 1, y2: 0.5 }, 0, 1],
		['a quarter of a circle', { kind: 'family', family: 'circ', way: 'in' }, 0, 1],
		['the same from its other end', { kind: 'family', family: 'circ', way: 'out' }, 0, 1],
		['steps', { kind: 'steps', count: 4, jump: 'jump-both' }, 0, 1],
		['hold', { kind: 'hold' }, 0, 1],
	])('of %s', (_, shape, before, after) => {
		const keys = span(shape, 0, 1);
		expect(beyond(keys, -1000)).toBeCloseTo(before, 9);
		expect(beyond(keys, 2000)).toBeCloseTo(after, 9);
	});

	it('are tangents: what is near an end lies on them to the second order', () => {
		const families = EASING_FAMILIES.filter((family) => family !== 'circ').flatMap((family) =>
			EASING_WAYS.map((way): Shape => ({ kind: 'family', family, way })),
		);
		const bounces = fc.record({
			kind: fc.constant('bounce' as const),
			restitution: between(0.2, 0.9),
			count: fc.integer({ min: 1, max: 5 }),
		});
		fc.assert(
			fc.property(
				fc.oneof(springs, bounces, fc.constantFrom(...families)),
				between(-5, 5),
				between(-5, 5),
				(shape, v0, v1) => {
					const keys = span(shape, v0, v1, 72_000);
					/** How far the curve is from the line at a distance inwards. */
					const off = (end: 0 | 1, ticks: number) => {
						const [key, way] = end === 0 ? [0, 1] : [72_000, -1];
						const line = 2 * keys[end].v - beyond(keys, key - way * ticks);
						return Math.abs(beyond(keys, key + way * ticks) - line);
					};
					// Half as far in, a quarter as far off, but for rounding.
					for (const end of [0, 1] as const) expect(off(end, 0.02)).toBeLessThan(0.3 * off(end, 0.04) + 1e-9);
				},
			),
		);
	});
});

it('two smooth keys of a clip that travels on go straight through the seam', () => {
	const smooth: HandleSide = { mode: 'smooth' };
	const keys: Key[] = [0, 1000].map((t) => ({
		t,
		v: t / 100,
		shape: { kind: 'handles' },
		left: smooth,
		right: smooth,
	}));
	const travels: CurveContext = { repeats: true, length: 1000, accumulates: true };
	for (const t of [1, 250, 999]) expect(valueOf(keys, t, travels)).toBeCloseTo(t / 100, 9);
	// One that comes back to its start has no way to go.
	expect(valueOf(keys, 1, { ...travels, accumulates: false })).toBeLessThan(0.001);
});

it('steps are at the later value at each of their places, however these are rounded', () => {
	for (const count of [3, 7, 10, 49, 441, 1000]) {
		const keys = span({ kind: 'steps', count, jump: 'jump-end' }, 0, count, 72_000 * count);
		for (let i = 0; i < count; i++) expect(valueOf(keys, 72_000 * i)).toBeCloseTo(i, 9);
		for (const ticks of [441 * 7, 1e6 + 3]) {
			const odd = span({ kind: 'steps', count, jump: 'jump-end' }, 0, count, ticks);
			for (let i = 1; i < count; i++) expect(valueOf(odd, (i * ticks) / count)).toBeCloseTo(i, 9);
			expect(valueOf(odd, ticks / count - 0.01)).toBe(0);
		}
	}
});

describe('laws', () => {
	it('smooth keys never pass the keys around them', () => {
		fc.assert(
			fc.property(keysOf(fc.constant<Shape>({ kind: 'handles' })), unit, (keys, x) => {
				const smooth = keys.map((key): Key => ({
					...key,
					left: { mode: 'smooth' },
					right: { mode: 'smooth' },
				}));
				const t = x * smooth.at(-1)!.t;
				const i = Math.max(
					0,
					smooth.findLastIndex((key) => key.t <= t && key !== smooth.at(-1)),
				);
				const [low, high] = [smooth[i].v, smooth[i + 1].v].sort((a, b) => a - b);
				const v = valueOf(smooth, t);
				expect(v).toBeGreaterThanOrEqual(low - 1e-9);
				expect(v).toBeLessThanOrEqual(high + 1e-9);
			}),
		);
	});

	it('a spring begins and ends on its keys, also where its span cuts it short', () => {
		fc.assert(
			fc.property(
				springs,
				between(-50, 50),
				between(-50, 50),
				fc.integer({ min: 600, max: 90_000 }),
				(shape, a, b, t) => {
					const keys: Key[] = [
						{ t: 0, v: a, shape },
						{ t, v: b, shape: { kind: 'hold' } },
					];
					const curve = compileCurve(keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE);
					expect(evaluateCurve(curve, 0)).toBeCloseTo(a, 9);
					// Just before the last key, which sets its own value.
					expect(Math.abs(evaluateCurve(curve, t - 1e-6) - b)).toBeLessThan(1e-4);
				},
			),
		);
	});

	it('a key that is put, moved or taken away leaves the slopes of all handles as they were', () => {
		/** Slopes of the handles that are written out, by the time of their keys. */
		const slopes = (keys: readonly Key[]) => {
			const found = new Map<string, number>();
			keys.forEach((key, i) => {
				const [before, after] = [key.t - (keys[i - 1]?.t ?? NaN), (keys[i + 1]?.t ?? NaN) - key.t];
				if (key.left?.rise !== undefined) found.set(`${key.v} left`, key.left.rise / before);
				if (key.right?.rise !== undefined) found.set(`${key.v} right`, key.right.rise / after);
			});
			return found;
		};
		const split = { mode: 'split', reach: 0.4 } as const;
		const steps = fc.array(fc.tuple(fc.integer({ min: 10, max: 900 }), between(-9, 9), between(-9, 9)), {
			minLength: 4,
			maxLength: 6,
		});
		fc.assert(
			fc.property(steps, between(0.01, 0.99), fc.nat(), (list, x, which) => {
				let t = 0;
				// Their values name them.
				const keys = list.map(([ticks, left, right], i): Key => {
					t += ticks;
					const shape = { kind: 'handles' } as const;
					return { t, v: 1000 + i, shape, left: { ...split, rise: left }, right: { ...split, rise: right } };
				});
				const was = slopes(keys);
				const picked = keys[1 + (which % (keys.length - 2))];
				const edits = [
					putKey(keys, Math.round(keys[0].t + x * (t - keys[0].t)), 5),
					moveKeys(keys, new Set([picked.t]), Math.floor(x * 8), 0),
					removeKeys(keys, new Set([picked.t])),
				];
				for (const after of edits)
					for (const [name, slope] of slopes(after)) {
						const old = was.get(name) ?? NaN;
						if (!Number.isNaN(slope) && !Number.isNaN(old)) expect(slope).toBeCloseTo(old, 9);
					}
			}),
		);
	});

	it('a key put on the curve changes nothing', () => {
		fc.assert(
			fc.property(keysOf(bezierShape), unit, fc.boolean(), (keys, x, repeats) => {
				const length = keys.at(-1)!.t;
				const context: CurveContext = { repeats, length, accumulates: false };
				const split = insertOnCurve(keys, Math.round(x * length), context);
				for (let i = 0; i < 97; i++) {
					const t = (length * i) / 97 + 0.13;
					const tolerance = 1e-6 * 200;
					// At a vertical tangent the time itself is not known better than a millionth of a tick.
					const near = [t - 1e-6, t, t + 1e-6].map((at) => valueOf(keys, at, context));
					const value = valueOf(split, t, context);
					expect(value).toBeGreaterThan(Math.min(...near) - tolerance);
					expect(value).toBeLessThan(Math.max(...near) + tolerance);
				}
			}),
		);
	});

	it('a key that was put on the curve can be taken away again, and the motion stays', () => {
		let [tried, found] = [0, 0];
		fc.assert(
			fc.property(keysOf(bezierShape), unit, fc.boolean(), (keys, x, repeats) => {
				const length = keys.at(-1)!.t;
				const context: CurveContext = { repeats, length, accumulates: false };
				const t = Math.round((0.02 + 0.96 * x) * length);
				fc.pre(!keys.some((key) => key.t === t));
				const split = insertOnCurve(keys, t, context);
				const joined = joinSpans(split, t, context);
				tried++;
				// Beside a vertical or a tiny handle the parameter cannot be told from the points: then the key stays.
				if (joined === null) return;
				found++;
				expect(joined).toHaveLength(keys.length);
				for (let i = 0; i < 61; i++) {
					const at = (length * i) / 61 + 0.13;
					expect(Math.abs(valueOf(joined, at, context) - valueOf(keys, at, context))).toBeLessThan(2e-4);
				}
			}),
		);
		expect(found / tried).toBeGreaterThan(0.8);
	});

	it('spans that are one motion join, and a key that carries motion stays', () => {
		const eased = span({ kind: 'eased', start: 0.6, finish: 0.3 });
		const joined = joinSpans(insertOnCurve(eased, 400, PLAYS_ONCE), 400, PLAYS_ONCE)!;
		expect(joined[0].right).toMatchObject({ reach: expect.closeTo(0.6, 9), rise: expect.closeTo(0, 9) });
		expect(joined[1].left).toMatchObject({ reach: expect.closeTo(0.3, 9), rise: expect.closeTo(0, 9) });
		const straight = insertOnCurve(span({ kind: 'linear' }), 300, PLAYS_ONCE);
		expect(joinSpans(straight, 300, PLAYS_ONCE)).toEqual(span({ kind: 'linear' }));
		expect(joinSpans(straight.with(1, { ...straight[1], v: 9 }), 300, PLAYS_ONCE)).toBeNull();
		const held = span({ kind: 'hold' }).toSpliced(1, 0, { t: 500, v: 2, shape: { kind: 'hold' } });
		expect(joinSpans(held, 500, PLAYS_ONCE)).toHaveLength(2);
		// Two halves of one height, each eased for itself, are not one span.
		const halves: Key[] = [0, 5, 10].map((v, i) => ({
			t: 500 * i,
			v,
			shape: { kind: 'eased', start: 0.4, finish: 0.4 },
		}));
		expect(joinSpans(halves, 500, PLAYS_ONCE)).toBeNull();
		expect(joinSpans(straight, 0, PLAYS_ONCE)).toBeNull();
	});

	it('parametric spans become keys within a thousandth of the travel', () => {
		const shapes: Shape[] = [
			{ kind: 'family', family: 'elastic', way: 'out' },
			{ kind: 'family', family: 'back', way: 'in-out' },
			{ kind: 'spring', mass: 1, stiffness: 100, damping: 10, velocity: 0, time: 'fitted' },
			{ kind: 'bounce', restitution: 0.6, count: 4 },
		];
		for (const shape of shapes) {
			const keys = span(shape, 0, 1, 72_000);
			const expanded = expandSpan(keys, 0, PLAYS_ONCE);
			expect(expanded.length).toBeGreaterThan(2);
			for (let i = 0; i <= 500; i++) {
				const t = 144 * i;
				expect(Math.abs(valueOf(expanded, t) - valueOf(keys, t)), `${shape.kind} at ${t}`).toBeLessThan(
					0.0025,
				);
			}
		}
	});

	it('evaluation is finite, and the same in any order of times', () => {
		fc.assert(
			fc.property(keysOf(anyShape), fc.array(unit, { minLength: 5, maxLength: 40 }), (keys, xs) => {
				const curve = compileCurve(keys, { before: 'accumulate', after: 'alternate' }, PLAYS_ONCE);
				const times = xs.map((x) => (3 * x - 1) * keys.at(-1)!.t);
				const forward = new Map([...times].sort((a, b) => a - b).map((t) => [t, evaluateCurve(curve, t)]));
				for (const t of times) {
					expect(evaluateCurve(curve, t)).toBe(forward.get(t));
					expect(Number.isFinite(forward.get(t))).toBe(true);
				}
			}),
		);
	});
});

describe('edits', () => {
	const keys: Key[] = [0, 100, 200, 300].map((t, i) => ({ t, v: i * i, shape: { kind: 'linear' } }));

	it('a key dropped on another replaces it, and moving on from the same start brings it back', () => {
		const picked = new Set([100]);
		expect(moveKeys(keys, picked, 100, 0).map((key) => [key.t, key.v])).toEqual([
			[0, 0],
			[200, 1],
			[300, 9],
		]);
		expect(moveKeys(keys, picked, 120, 5).map((key) => [key.t, key.v])).toEqual([
			[0, 0],
			[200, 4],
			[220, 6],
			[300, 9],
		]);
	});

	it('a handle keeps its slope when its span grows', () => {
		const bent = setModes(
			setShape(keys, new Set([100]), { kind: 'handles' }),
			new Set([100]),
			'split',
			PLAYS_ONCE,
		);
		const rise = bent[1].right!.rise!;
		const longer = moveKeys(bent, new Set([200]), 50, 0);
		expect(longer[1].right!.rise).toBeCloseTo(rise * 1.5, 12);
		expect(removeKeys(bent, new Set([200]))[1].right!.rise).toBeCloseTo(rise * 2, 12);
	});

	it('flat handles stay flat when they are joined or split', () => {
		const at = new Set([100]);
		const flat = setModes(keys, at, 'flat', PLAYS_ONCE);
		for (const mode of ['joined', 'split'] as const) {
			const held = setModes(flat, at, mode, PLAYS_ONCE);
			expect(held[1]).toMatchObject({ left: { mode, rise: 0 }, right: { mode, rise: 0 } });
			for (let t = 0; t <= 300; t += 7) expect(valueOf(held, t)).toBeCloseTo(valueOf(flat, t), 9);
		}
	});

	it('a new key takes the shape of its span; setting the same value changes nothing', () => {
		const eased = setShape(keys, new Set([100]), { kind: 'eased', start: 1, finish: 0 });
		expect(putKey(eased, 150, 7)[2]).toMatchObject({ t: 150, v: 7, shape: { kind: 'eased' } });
		expect(putKey(eased, 100, 1)).toBe(eased);
	});

	it('a fall turned into handles draws the same', () => {
		const fall = span({ kind: 'fall' });
		const handles = toHandles(fall, 0, PLAYS_ONCE);
		expect(handles[0].shape.kind).toBe('handles');
		for (let t = 0; t <= 1000; t += 50) expect(valueOf(handles, t)).toBeCloseTo(valueOf(fall, t), 9);
	});
});

describe('what leaves the values of its keys', () => {
	const excessOf = (shape: Shape, v0 = 0, v1 = 10) => {
		const keys = span(shape, v0, v1);
		return spanExcess(compileCurve(keys, HOLD, PLAYS_ONCE), keys[0], keys[1]);
	};

	it('is told apart: back first, or past the key that it goes to', () => {
		// Time goes evenly, so y(u) = 6u²(1−u) + u³ has its peak where its derivative 12u − 15u² is 0.
		const past = excessOf({ kind: 'bezier', x1: 1 / 3, y1: 0, x2: 2 / 3, y2: 2 })!;
		const u = 12 / 15;
		expect(past.past).toBeCloseTo(10 * (6 * u * u * (1 - u) + u ** 3 - 1), 1);
		expect(past.back).toBe(0);
		const back = excessOf({ kind: 'bezier', x1: 1 / 3, y1: -1, x2: 2 / 3, y2: 1 })!;
		expect(back.back).toBeGreaterThan(1);
		expect(back.past).toBe(0);
		// Downhill it is the same the other way round.
		expect(excessOf({ kind: 'bezier', x1: 1 / 3, y1: -1, x2: 2 / 3, y2: 1 }, 10, 0)!.back).toBeCloseTo(
			back.back,
			9,
		);
	});

	it('is nothing where a span keeps between them, or is meant to overshoot', () => {
		expect(excessOf({ kind: 'bezier', x1: 0.4, y1: 0, x2: 0.6, y2: 1 })).toMatchObject({ past: 0, back: 0 });
		expect(excessOf({ kind: 'family', family: 'back', way: 'out' })).toBeNull();
	});
});
