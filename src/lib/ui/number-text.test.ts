import { describe, expect, it } from 'vitest';
import { isComputed, readNumber, unitsFor, writeNumber } from './number-text';

describe('a number field', () => {
	it.each<[string, number | null]>([
		['12.5', 12.5],
		['-3', -3],
		['1,5', 1.5],
		['+3', 3],
		['+=2', 12],
		['-=2', 8],
		['+=-2', 8],
		['+= 2 * 3', 16],
		['*=1.5', 15],
		['*1.5', 15],
		['/=4', 2.5],
		['/4', 2.5],
		['-=10%', 9],
		['+=50 %', 15],
		// A share of what there is needs its sign of equality: a bare sign is a sign.
		['-10%', null],
		['*=10%', null],
		['+=', null],
		['==3', null],
		['(3 + 4) * 2', 14],
		['1e3', 1000],
		['', null],
		['pelican', null],
		['1/0', null],
		['alert(1)', null],
		['a.b', null],
	])('that holds 10 reads %j as %j', (text, expected) => {
		expect(readNumber(text, 10)).toBe(expected);
	});

	it.each<[string, string, number | null]>([
		['°', '32°', 32],
		['°', '0.5 turn', 180],
		['°', '+=0.25 turns', 100],
		['°', '-0.25 turns', -90],
		[' m', '30 cm', 0.3],
		[' m', '+=50cm', 10.5],
		[' m', '1 s', null],
		[' px', '12px', 12],
		[' px', '12 m', null],
		[' f', '2s', 48],
		[' f', '500 MS', 12],
		[' f', '12 f', 12],
		[' ms', '1.5 s', 1500],
		[' %', '50 %', 50],
		[' f', '*2 s', null],
		['', '3 m', null],
		[' %', '-10 %', -10],
	])('in%s reads %j as %j', (unit, text, expected) => {
		const read = readNumber(text, 10, unitsFor(unit, 24));
		if (expected === null) expect(read).toBe(null);
		else expect(read).toBeCloseTo(expected, 9);
	});

	it('tells what comes of all but plain numbers', () => {
		expect(['12', '-3', '+3', '1.5e3', ''].filter(isComputed)).toEqual([]);
		expect(['1+2', '+=3', '2 s', '(4)', '*1.5', '-2-3'].filter((text) => !isComputed(text))).toEqual([]);
	});

	it('shows what means something', () => {
		expect([0.1 + 0.2, 100, -1e-9, 2.5004].map((v) => writeNumber(v))).toEqual(['0.3', '100', '0', '2.5']);
	});
});
