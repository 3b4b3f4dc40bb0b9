/** What the saver keeps in the browser. */
import 'fake-indexeddb/auto';
import { createStore, entries } from 'idb-keyval';
import { afterEach, expect, it, vi } from 'vitest';
import { updatePart } from '$core/edits/parts';
import { makeQuay } from '../../../demo/quay';
import { Saver } from './saver.svelte';

afterEach(() => vi.unstubAllGlobals());

vi.hoisted(() => vi.stubGlobal('location', new URL('http://127.0.0.1')));

it('edits that the server has not taken lie in the browser until it has', async () => {
	let isAway = true;
	vi.stubGlobal('fetch', () =>
		isAway
			? Promise.reject(new TypeError('away'))
			: Promise.resolve(Response.json({ revision: 1, undo: 'Paint', redo: null, missed: [] })),
	);
	const doc = makeQuay();
	const loaded = { doc, revision: 0, undo: null, redo: null };
	const events = { onshown: () => {}, onretraced: () => {}, onovertaken: () => {} };
	const saver = new Saver(doc.project.id, loaded, events, []);
	const kept = async () => {
		await new Promise((resolve) => setTimeout(resolve, 40));
		const all = await entries<string, { queue: { label: string }[] }>(createStore('hillock', 'unsent'));
		return all.map(([, { queue }]) => queue.map(({ label }) => label));
	};
	saver.sync.edit('Paint', updatePart(doc, 'buoy', { colour: '#111111' }));
	expect(await kept()).toEqual([['Paint']]);
	expect(saver.state).not.toBe('saved');
	isAway = false;
	await saver.flushed();
	expect(await kept()).toEqual([]);
	expect([saver.state, saver.undo]).toEqual(['saved', 'Paint']);
});

it('a full disk is told as such, and forgotten once there is room', async () => {
	let isFull = true;
	const problem = { title: 'The disk of the server is full', detail: 'Nothing was lost.', status: 507 };
	vi.stubGlobal('fetch', async () =>
		isFull
			? Response.json(problem, { status: 507 })
			: Response.json({ revision: 1, undo: 'Paint', redo: null, missed: [] }),
	);
	const doc = makeQuay();
	const events = { onshown: () => {}, onretraced: () => {}, onovertaken: () => {} };
	const saver = new Saver('other', { doc, revision: 0, undo: null, redo: null }, events, []);
	saver.sync.edit('Paint', updatePart(doc, 'buoy', { colour: '#111111' }));
	await vi.waitFor(() => expect(saver.state).toBe('away'));
	expect(saver.away).toMatchObject(problem);
	isFull = false;
	await saver.flushed();
	expect([saver.state, saver.away]).toEqual(['saved', null]);
});
