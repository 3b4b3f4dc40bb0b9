import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shownAt } from '../testing';
import { ProjectBuilder, linear, REPEAT, ONCE, eased, fall, rise } from '../../demo/builder';
import { compileClip } from '../clip/compile';
import { numberPlace, vectorIn } from '../clip/layout';
import { traceOf } from '../clip/trace';
import { checkClip } from '../check/check';
import { removePart } from '../edits/parts';
import { validateDocument } from '../document/validate';
import { VERSION } from '../document/migrate';
import type { Doc } from '../document/types';
import { compileExpression } from './expression';
import { namesOf } from './names';
import { orderByNeeds } from './order';

function value(text: string, inputs: Record<string, number> = {}): number {
	const compiled = compileExpression(text, Object.keys(inputs));
	if (!compiled.ok) throw new Error(compiled.problem.message);
	return compiled.evaluate(Float64Array.of(2, 60, 4, 7, ...Object.values(inputs)));
}

function problem(text: string, inputs: string[] = []) {
	const compiled = compileExpression(text, inputs);
	if (compiled.ok) throw new Error(`"${text}" was taken`);
	return compiled.problem;
}

describe('a formula', () => {
	it.each([
		['1 + 2 * 3', 7],
		['-(2 + 3) ** 2', -25],
		['(-2) ** 2', 4],
		['-2 ** 2', -4],
		['1 - 2 ** 2 * 3', -11],
		['2 ** -1 ** 2', 0.5],
		['2 ** 3 ** 2', 512],
		['-2 ** 3 ** 2 + 1', -511],
		['- - 3 ** 2', 9],
		['-frame ** 0 * 5', -5],
		['!0 + -time', -1],
		['7 % 3', 1],
		['-1 % 3', 2],
		['time * 10 + frame / 60 + length - rest', 18],
		['1 < 2 && 2 <= 2 || 0', 1],
		// Each comparison where it holds, where it does not, and at what is alike.
		['10 * (1 < 2) + (2 < 2)', 10],
		['10 * (2 <= 2) + (3 <= 2)', 10],
		['10 * (3 > 2) + (2 > 2)', 10],
		['10 * (2 >= 2) + (1 >= 2)', 10],
		['10 * (2 == 2) + (2 == 3)', 10],
		['10 * (2 != 3) + (2 != 2)', 10],
		['3 == 3 ? 10 : 20', 10],
		['!0 + !5', 1],
		['sin(30)', 0.5],
		['cos(60) + tan(45)', 1.5],
		['atan2(1, 1)', 45],
		['asin(1) - acos(1) + atan(1)', 135],
		['clamp(9, 0, 5) + mix(10, 20, 0.25)', 17.5],
		['step(3, 2) + step(3, 3)', 1],
		['smoothstep(0, 2, 1)', 0.5],
		['mod(-90, 360)', 270],
		['min(3, 1, 2) + max(3, 1, 2)', 4],
		['sqrt(16) + abs(-2) + pow(2, 3) + exp(0) + log(1)', 15],
		['floor(1.9) + ceil(1.1) + round(1.5) + sign(-4)', 4],
		['2 * pi', 2 * Math.PI],
	])('%s is %d', (text, expected) => {
		expect(value(text)).toBeCloseTo(expected, 12);
	});

	it('reads its inputs by name', () => {
		expect(value('-travel / radius', { travel: 6, radius: 2 })).toBe(-3);
	});

	it('has noise that is smooth, the same for a seed, and other for another', () => {
		for (let x = -5; x < 5; x += 0.01) {
			const [here, next] = [value('noise(x, 3)', { x }), value('noise(x, 3)', { x: x + 0.001 })];
			expect(Math.abs(here)).toBeLessThanOrEqual(1);
			expect(Math.abs(next - here)).toBeLessThan(0.005);
		}
		expect(value('noise(2.5)')).toBe(value('noise(2.5, 0)'));
		expect(value('noise(2.5, 1)')).not.toBe(value('noise(2.5, 2)'));
	});

	it.each([
		['', 0, /Write what/],
		['1 +', 3, /cannot be read/],
		['speed * 2', 0, /no name "speed"/],
		['2 * tiem', 4, /Did you mean "time"/],
		['1 + smothstep(0, 1, 2)', 4, /Did you mean "smoothstep"/],
		['clamp(1)', 0, /clamp\(x, low, high\)/],
		['sin', 0, /is a function/],
		['a.constructor', 0, /Only numbers/],
		['constructor("return 1")()', 0, /Only functions by their names/],
		['toString()', 0, /no function "toString"/],
		['[1, 2]', 0, /Only numbers/],
		['"text"', 1, /Only numbers can be written/],
		['1 2', 0, /something is missing/],
		['this', 0, /Only numbers/],
		['1 & 2', 2, /"&" is not known/],
		['1 + '.repeat(200) + '1', 500, /at most 500/],
	])('refuses %j with the place and the reason', (text, index, message) => {
		const found = problem(text);
		expect(found.message).toMatch(message);
		expect(found.index).toBe(index);
	});

	it('takes or refuses any text without failing, and never gives anything but a number', () => {
		const words = fc.constantFrom(
			'time',
			'x',
			'(',
			')',
			'+',
			'-',
			'*',
			'/',
			'?',
			':',
			',',
			'sin',
			'1',
			'.5',
			'"',
			'[',
			'=>',
			';',
			'$',
			'\\',
			'__proto__',
		);
		fc.assert(
			fc.property(
				fc.oneof(
					fc.string({ maxLength: 40 }),
					fc.array(words, { maxLength: 20 }).map((w) => w.join(' ')),
				),
				(text) => {
					const compiled = compileExpression(text, ['x']);
					if (compiled.ok) expect(typeof compiled.evaluate(new Float64Array(5))).toBe('number');
					else expect(compiled.problem.message.length).toBeGreaterThan(5);
				},
			),
			{ numRuns: 2000 },
		);
	});
});

describe('the order of formulas', () => {
	it('puts each after those that it needs, for any graph without a ring', () => {
		fc.assert(
			fc.property(
				fc.array(fc.array(fc.nat(30), { maxLength: 4 }), { minLength: 1, maxLength: 31 }),
				(raw) => {
					const needs = raw.map((list, i) => list.filter((j) => j < i));
					const shuffled = raw
						.map((_, i) => (i * 7) % raw.length)
						.filter((v, i, all) => all.indexOf(v) === i);
					const ordered = orderByNeeds(shuffled, (i) => needs[i]);
					if (!ordered.ok) throw new Error('a ring where there is none');
					for (const node of ordered.order)
						for (const need of needs[node])
							expect(ordered.order.indexOf(need)).toBeLessThan(ordered.order.indexOf(node));
				},
			),
		);
	});

	it('tells the ring', () => {
		const needs: Record<string, string[]> = { a: ['b'], b: ['c'], c: ['b'], d: [] };
		expect(orderByNeeds(['a', 'd'], (node) => needs[node])).toEqual({ ok: false, cycle: ['b', 'c'] });
	});
});

function cart(text: string, inputs: Record<string, string | number>, loop = ONCE): Doc {
	return new ProjectBuilder('Cart', 'world', 30)
		.part('cart', { kind: 'box', size: [1, 1, 1] })
		.part('wheel', { kind: 'cylinder', size: [1, 1, 1] }, { parent: 'cart' })
		.startClip('roll', 30, loop)
		.keys(
			'cart',
			'translation.x',
			[
				[0, 0, eased(0.4, 0.4)],
				[30, 2],
			],
			loop === REPEAT,
		)
		.formula('wheel', 'rotation.z', text, inputs)
		.build();
}

function wheelAt(doc: Doc, t: number, round = 0): number {
	return shownAt(doc, 'roll', t, round).number('wheel', 'rotation', 'z');
}

const ROLLING = '-travel / radius * 180 / pi';

describe('formulas of a clip', () => {
	it('turn a wheel as far as its cart travels, round after round', () => {
		const doc = cart(ROLLING, { travel: 'cart/translation.x', radius: 0.5 }, REPEAT);
		for (const t of [0, 10_000, 36_000, 71_999])
			expect(wheelAt(doc, t)).toBeCloseTo(
				(shownAt(doc, 'roll', t).number('cart', 'translation', 'x') / -0.5) * (180 / Math.PI),
				9,
			);
		expect(wheelAt(doc, 36_000, 3) - wheelAt(doc, 36_000, 2)).toBeCloseTo((-2 / 0.5) * (180 / Math.PI), 9);
		expect(checkClip(doc, doc.clips.roll).map((f) => f.rule)).not.toContain('formula-not-periodic');
	});

	it('are told apart from round to round where they do not keep step with travel', () => {
		const doc = cart('travel * travel', { travel: 'cart/translation.x' }, REPEAT);
		expect(checkClip(doc, doc.clips.roll).map((f) => f.rule)).toContain('formula-not-periodic');
	});

	it('give the rest value where they fail, and a check says where', () => {
		const doc = cart('1 / (travel - 1) / (travel < 1)', { travel: 'cart/translation.x' });
		const resting = {
			...doc,
			parts: {
				...doc.parts,
				wheel: {
					...doc.parts.wheel,
					rest: { ...doc.parts.wheel.rest, rotation: [0, 0, 33] as [number, number, number] },
				},
			},
		};
		expect(wheelAt(resting, 72_000)).toBe(33);
		const found = checkClip(resting, resting.clips.roll).find((f) => f.rule === 'formula-not-finite')!;
		expect(found.t).toBe(36_000);
	});

	it('read other formulas, whatever order they stand in', () => {
		const doc = new ProjectBuilder('Chain', 'world', 30)
			.part('a', { kind: 'empty' })
			.startClip('c', 30)
			.formula('a', 'translation.x', 'y + 1', { y: 'a/translation.y' })
			.formula('a', 'translation.y', 'z * 2', { z: 'a/translation.z' })
			.keys('a', 'translation.z', [
				[0, 0, linear],
				[30, 10],
			])
			.build();
		const compiled = compileClip(doc, doc.clips.c);
		const { posed } = shownAt(doc, 'c', 36_000);
		expect(vectorIn(posed, doc.parts.a, 'translation')).toEqual([11, 10, 5]);
		expect(traceOf(compiled, numberPlace(compiled.layout, 'a', 'translation', 'x')).read(36_000)).toBe(11);
	});

	it('are refused in a ring, by the names of those in it', () => {
		const doc = new ProjectBuilder('Ring', 'world', 30)
			.part('a', { kind: 'empty' })
			.startClip('c', 30)
			.formula('a', 'translation.x', 'y', { y: 'a/translation.y' })
			.formula('a', 'translation.y', 'x', { x: 'a/translation.x' })
			.build();
		const checked = validateDocument({ format: 'hillock-project', version: VERSION, ...doc });
		expect(checked.ok).toBe(false);
		if (!checked.ok)
			expect(checked.problems[0].message).toMatch(
				/a translation x ← a translation y ← a translation x|a translation y ← a translation x ← a translation y/,
			);
	});

	it('go on with rest values when a part that they read is deleted', () => {
		const doc = cart(ROLLING, { travel: 'cart/translation.x', radius: 0.5 });
		const other = { ...doc, parts: { ...doc.parts, wheel: { ...doc.parts.wheel, parent: null } } };
		const left = removePart(other, 'cart');
		expect(validateDocument({ format: 'hillock-project', version: VERSION, ...left }).ok).toBe(true);
		expect(wheelAt(left, 36_000)).toBeCloseTo(0, 12);
	});

	it('tell the fit where they jump', () => {
		const doc = cart('frame < 12.34 ? 0 : 90', {});
		const compiled = compileClip(doc, doc.clips.roll);
		const { pieces } = traceOf(compiled, numberPlace(compiled.layout, 'wheel', 'rotation', 'z'));
		const jumps = pieces.filter((piece) => piece.jump);
		expect(jumps).toHaveLength(1);
		expect(Math.abs(jumps[0].t - 12.34 * 2400)).toBeLessThan(1e-3);
	});

	it('keep a volume: wider as it is flatter', () => {
		const doc = new ProjectBuilder('Sack', 'world', 30)
			.part('sack', { kind: 'box', size: [1, 1, 1] })
			.startClip('c', 30)
			.keys('sack', 'scale.y', [
				[0, 1, fall],
				[15, 0.6, rise],
				[30, 1],
			])
			.formula('sack', 'scale.x', '1 / sqrt(sy)', { sy: 'sack/scale.y' })
			.formula('sack', 'scale.z', '1 / sqrt(sy)', { sy: 'sack/scale.y' })
			.build();
		for (let i = 0; i <= 20; i++) {
			const [x, y, z] = vectorIn(shownAt(doc, 'c', 3600 * i).posed, doc.parts.sack, 'scale');
			expect(x * y * z).toBeCloseTo(1, 12);
		}
	});
});

it('every name that is offered can be used', () => {
	const names = namesOf(['start']);
	expect(new Set(names.map(({ name }) => name)).size).toBe(names.length);
	for (const { name, words } of names) {
		const text = words === null ? name : `${name}(${words.split(',').map(() => '1')})`;
		expect(compileExpression(text, ['start']), text).toMatchObject({ ok: true });
	}
});
