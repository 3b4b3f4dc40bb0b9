import { afterEach, expect, it, vi } from 'vitest';
import { keep, readKept, readKeptMembers } from './kept';

afterEach(() => vi.unstubAllGlobals());

function storage(items: Record<string, string> = {}) {
	vi.stubGlobal('localStorage', {
		getItem: (name: string) => items[name] ?? null,
		setItem: (name: string, value: string) => (items[name] = value),
	});
	return items;
}

it('what is kept is there again, words and objects', () => {
	const items = storage();
	keep('theme', 'night');
	keep('snap', { step: 2, cues: false });
	expect(items).toEqual({ 'hillock-theme': 'night', 'hillock-snap': '{"step":2,"cues":false}' });
	expect([readKept('theme'), readKept('none')]).toEqual(['night', undefined]);
	expect(readKeptMembers('snap')).toEqual({ step: 2, cues: false });
});

it('what is no object has no members, and a browser that keeps nothing is as at the first visit', () => {
	storage({ 'hillock-a': '[1]', 'hillock-b': 'null', 'hillock-c': '{torn' });
	for (const name of ['a', 'b', 'c', 'd']) expect(readKeptMembers(name)).toEqual({});
	vi.stubGlobal('localStorage', {
		getItem: () => {
			throw new Error('not here');
		},
		setItem: () => {
			throw new Error('not here');
		},
	});
	expect(() => keep('a', 1)).not.toThrow();
	expect(readKept('a')).toBe(undefined);
});
