import fc from 'fast-check';
import { expect, it } from 'vitest';
import { shortName } from './text';

it('a name is cut where a sign ends, and has no halves of characters', () => {
	const family = '👨‍👩‍👧';
	expect(shortName(`${'a'.repeat(118)}${family}`, 120)).toBe('a'.repeat(118));
	expect(shortName(`${'a'.repeat(100)}${family}b`, 120)).toBe(`${'a'.repeat(100)}${family}b`);
	expect(shortName('e\u0301'.repeat(70), 3)).toBe('e\u0301');
	expect(shortName('\uD83D', 10, 'part')).toBe('part');
	expect(shortName(7, 10, 'part')).toBe('part');
	expect(shortName(' one\ntwo ', 10)).toBe('one two');
	fc.assert(
		fc.property(
			fc.string({ unit: 'binary', maxLength: 300 }),
			fc.integer({ min: 1, max: 130 }),
			(text, most) => {
				const name = shortName(text, most, '-');
				expect(name.length).toBeLessThanOrEqual(most);
				expect(new TextDecoder().decode(new TextEncoder().encode(name))).toBe(name);
			},
		),
	);
});
