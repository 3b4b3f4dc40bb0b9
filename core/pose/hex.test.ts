import { expect, it } from 'vitest';
import { changedByHex, parseHex, writeHexAlpha } from './hex';

it('a colour that is changed as text keeps the exact shares of what was not changed', () => {
	// Between two bytes: as text it is #402000 at 0x66.
	const was = [0.2501, 0.1255, 0, 0.4] as const;
	expect(writeHexAlpha(was)).toBe('#40200066');
	expect(changedByHex(was, '#40200066')).toEqual(was);
	expect(changedByHex(was, '#80200066')).toEqual([128 / 255, 0.1255, 0, 0.4]);
	expect(parseHex('#ff0000')).toEqual([1, 0, 0, 1]);
});
