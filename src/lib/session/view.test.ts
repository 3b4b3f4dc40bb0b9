import { expect, it, vi } from 'vitest';
import { makeQuay } from '../../../demo/quay';
import { View } from './view.svelte';

it('a part is hidden with what it hangs on, and shown alone with what hangs on it', () => {
	const doc = makeQuay();
	const view = new View(() => doc, doc);
	const shown = () => ['crane-arm', 'rope', 'hook', 'ferry'].map((part) => !view.isHidden(part));
	expect(shown()).toEqual([true, true, true, true]);
	view.toggleHidden('rope');
	expect(shown()).toEqual([true, false, false, true]);
	expect([view.hides('rope'), view.hides('hook')]).toEqual([true, false]);
	// Alone goes before hidden.
	view.toggleAlone('rope');
	expect(shown()).toEqual([false, true, true, false]);
	view.toggleAlone('rope');
	view.toggleHidden('rope');
	expect(shown()).toEqual([true, true, true, true]);
});

it('lanes whose speed is shown are so again in the same project', () => {
	const store = new Map<string, string>();
	vi.stubGlobal('localStorage', {
		getItem: (name: string) => store.get(name) ?? null,
		setItem: (name: string, value: string) => store.set(name, value),
	});
	const doc = makeQuay();
	const view = new View(() => doc, doc);
	view.toggleSpeeds(['a', 'b']);
	view.toggleSpeeds(['b']);
	expect([...new View(() => doc, doc).speeds]).toEqual(['a']);
	const other = { ...doc, project: { ...doc.project, id: 'other' } };
	expect(new View(() => other, other).speeds.size).toBe(0);
	vi.unstubAllGlobals();
});

it('cues go along unless somebody has chosen otherwise here', () => {
	const store = new Map<string, string>();
	vi.stubGlobal('localStorage', {
		getItem: (name: string) => store.get(name) ?? null,
		setItem: (name: string, value: string) => store.set(name, value),
	});
	const doc = makeQuay();
	const view = () => new View(() => doc, doc);
	expect(view().cuesToo).toBe(true);
	view().setCuesToo(false);
	expect(view().cuesToo).toBe(false);
	vi.unstubAllGlobals();
});
