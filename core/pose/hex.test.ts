import fc from 'fast-check';
import { expect, it } from 'vitest';
import { changedByHex, parseHex, writeHex, writeHexAlpha } from './hex';

it('a colour that is changed as text keeps the exact shares of what was not changed', () => {
	// Between two bytes: as text it is #402000 at 0x66.
	const was = [0.2501, 0.1255, 0, 0.4] as const;
	expect(writeHexAlpha(was)).toBe('#40200066');
	expect(changedByHex(was, '#40200066')).toEqual(was);
	expect(changedByHex(was, '#80200066')).toEqual([128 / 255, 0.1255, 0, 0.4]);
	expect(parseHex('#ff0000')).toEqual([1, 0, 0, 1]);
});

it('colours are read and written as hexadecimal', () => {
	fc.assert(
		fc.property(fc.nat(0xffffff), (value) => {
			const text = `#${value.toString(16).padStart(6, '0')}`;
			const read = parseHex(text);
			expect(read[3]).toBe(1);
			expect(writeHex([9, 9, ...read], 2)).toBe(text);
		}),
	);
	expect(writeHex([2, -1, 0.5])).toBe('#ff0080');
});
