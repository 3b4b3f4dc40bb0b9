import { describe, expect, it } from 'vitest';
import { readCssMotions } from '$core/easing/css-declaration';
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

	it('that nothing is made of stay as they were', () => {
		expect(fromCss('transition: box-shadow 1s').rows).toEqual([row]);
		expect(fromCss('transition: none')).toEqual({ rows: [row], told: [] });
	});
});
