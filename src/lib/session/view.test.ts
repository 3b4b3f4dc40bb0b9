import { expect, it } from 'vitest';
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
