import { describe, expect, it } from 'vitest';
import { readNumber, writeNumber } from './number-text';

describe('a number field', () => {
	it.each<[string, number | null]>([
		['12.5', 12.5],
		['-3', -3],
		['1,5', 1.5],
		['+2', 12],
		['+-2', 8],
		['*1.5', 15],
		['/4', 2.5],
		['-10%', 9],
		['+50 %', 15],
		['(3 + 4) * 2', 14],
		['32°', 32],
		['', null],
		['pelican', null],
		['1/0', null],
		['alert(1)', null],
		['a.b', null],
	])('that holds 10 reads %j as %j', (text, expected) => {
		expect(readNumber(text, 10)).toBe(expected);
	});

	it('shows what means something', () => {
		expect([0.1 + 0.2, 100, -1e-9, 2.5004].map((v) => writeNumber(v))).toEqual(['0.3', '100', '0', '2.5']);
	});
});
