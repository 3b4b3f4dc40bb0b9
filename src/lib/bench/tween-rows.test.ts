import { describe, expect, it } from 'vitest';
import { readCssMotions } from '$core/easing/css-declaration';
import { newFormula, putFormula } from '$core/edits/formulas';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { choicesOf, TweenLines, type Row } from './tween-rows';

const doc = makeParcelSlip();
const lines = new TweenLines(doc, 'gauge-settles');
const row: Row = {
	part: 'needle',
	what: 'rotation/z',
	from: null,
	relative: false,
	to: 30,
	start: 6,
	delay: 0,
	duration: 30,
	unit: 'frames',
	easing: 'linear',
};
const fromCss = (text: string, rows = [row]) => {
	const read = readCssMotions(text);
	if (!read.ok) throw new Error(read.problems[0].message);
	return lines.fromCss(read.value, rows);
};

describe('lines of the tween dialog', () => {
	it('are about all of a part but its orientation, colours and being shown among it', () => {
		const whats = choicesOf(doc, 'needle').map(({ value }) => value);
		expect(whats).toEqual(expect.arrayContaining(['colour/value', 'visible/value', 'opacity/value']));
		expect(whats).not.toContain('orientation/value');
	});

	it('about another kind of thing take what that is now; of one kind a value that was typed stays', () => {
		const colour = lines.about(row, 'needle', 'colour/value');
		expect(colour.to).toHaveLength(4);
		expect(lines.about({ ...colour, relative: true }, 'needle', 'visible/value')).toMatchObject({
			to: 1,
			relative: false,
		});
		expect(lines.about(row, 'needle', 'opacity/value').to).toBe(30);
	});

	it('are made of transitions, one a property, at the place and on the part of the first', () => {
		const { rows, told } = fromCss(
			'transition: opacity 300ms ease-in 100ms, rotate 0.5s linear, scale 1s, box-shadow 1s',
		);
		expect(rows.map(({ what, duration, unit, delay }) => [what, duration, unit, delay])).toEqual([
			['opacity/value', 300, 'ms', 6],
			['rotation/z', 500, 'ms', 0],
			['scale/x', 1000, 'ms', 0],
			['scale/y', 1000, 'ms', 0],
		]);
		expect(rows.map(({ to }) => to)).toEqual([1, 30, 1, 1]);
		expect(rows.every(({ part, start }) => part === 'needle' && start === 6)).toBe(true);
		expect(rows[0].easing).toBe('cubic-bezier(0.42, 0, 1, 1)');
		expect(told).toEqual(['“box-shadow” is left out: needle has nothing like it.']);
		expect(rows.map((own, i) => lines.wrongOf(own, i, rows))).toEqual(['', '', '', '']);
	});

	it('take time and easing of an animation, all of them, and are told what belongs to the clip', () => {
		const two = [row, { ...row, what: 'opacity/value', to: 0 }];
		const { rows, told } = fromCss('animation: sway 2s steps(3) -1s infinite', two);
		expect(rows).toMatchObject([
			{ what: 'rotation/z', to: 30, duration: 2000, delay: 0, easing: 'steps(3, jump-end)' },
			{ what: 'opacity/value', to: 0, duration: 2000, delay: 0, easing: 'steps(3, jump-end)' },
		]);
		expect(told).toHaveLength(2);
	});

	it('of a clip-path are about all four edges', () => {
		const own = { ...row, part: 'slip' };
		expect(fromCss('transition: clip-path 1s', [own]).rows.map(({ what }) => what)).toEqual([
			'reveal/top',
			'reveal/right',
			'reveal/bottom',
			'reveal/left',
		]);
		expect(lines.about(own, 'slip', 'weight/w0').what).toBe(choicesOf(doc, 'slip')[0].value);
	});

	it('that nothing is made of stay as they were', () => {
		expect(fromCss('transition: box-shadow 1s').rows).toEqual([row]);
		expect(fromCss('transition: none')).toEqual({ rows: [row], told: [] });
	});
});

describe('a line', () => {
	it.each<[Partial<Row>, string]>([
		[{}, ''],
		[{ part: 'nobody' }, 'Choose a part.'],
		[{ easing: 'wobbly' }, 'This easing is not known.'],
		[{ easing: ' slow ENDS ' }, ''],
		[{ duration: 0 }, 'It must last longer.'],
		[{ duration: 601, unit: 'seconds' }, 'It would end after 600 s.'],
		[{ duration: 599, unit: 'seconds' }, ''],
	])('%j is wrong: %s', (change, wrong) => {
		const own = { ...row, ...change };
		expect(lines.wrongOf(own, 0, [own])).toBe(wrong);
	});

	it('that moves what an earlier one moves at that time is told of, and one that a formula computes', () => {
		const rows = [
			row,
			{ ...row, start: 35 },
			{ ...row, start: 36, delay: 5 },
			{ ...row, what: 'rotation/x', start: 10 },
		];
		expect(rows.map((own, i) => lines.wrongOf(own, i, rows))).toEqual([
			'',
			'Line 1 moves the same at that time.',
			'Line 2 moves the same at that time.',
			'',
		]);
		const formula = newFormula('gauge-settles', 'needle', 'rotation', 'z');
		const computed = new TweenLines(putFormula(doc, formula), 'gauge-settles');
		expect(computed.wrongOf(row, 0, [row])).toBe('A formula computes this.');
	});

	it('is as long in another unit', () => {
		const seconds = lines.inUnit(row, 'seconds');
		expect(seconds).toEqual({ duration: 0.5, unit: 'seconds' });
		expect(lines.inUnit({ ...row, ...seconds }, 'ms')).toEqual({ duration: 500, unit: 'ms' });
		expect(lines.inUnit({ ...row, duration: 250, unit: 'ms' }, 'frames')).toEqual({
			duration: 15,
			unit: 'frames',
		});
	});

	it('that is added moves another component at the same time, or goes on after the last', () => {
		const scale: Row = { ...row, what: 'scale/x', to: 2 };
		const all = [scale];
		for (let i = 0; i < 3; i++) all.push(lines.next(all));
		expect(all.map(({ what, start, to }) => [what, start, to])).toEqual([
			['scale/x', 6, 2],
			['scale/y', 6, 1],
			['scale/z', 6, 1],
			['scale/z', 36, 1],
		]);
		expect(lines.next([{ ...scale, relative: true }])).toMatchObject({
			what: 'scale/y',
			to: 2,
			relative: true,
		});
	});

	it('begins after its delay, and ends when it has lasted', () => {
		expect(lines.startOf({ ...row, delay: 3 })).toBe(9 * 1200);
		expect(lines.endOf({ ...row, delay: 3, duration: 1, unit: 'seconds' })).toBe(9 * 1200 + 72_000);
	});
});
