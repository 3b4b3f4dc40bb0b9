/** What an edit is said to have done, and what was there before brought back. */
import { describe, expect, it } from 'vitest';
import { linear, ProjectBuilder } from '../../demo/builder';
import { makeQuay } from '../../demo/quay';
import { diffDocuments, touchedIds } from '../document/changeset';
import { VERSION } from '../document/migrate';
import type { Doc } from '../document/types';
import { validateDocument } from '../document/validate';
import { putCue, removeClip, updateClip, updateProject } from './clips';
import { moveKeys, removeChannels, removeKeys, setValue } from './keys';
import { restoreClip, restoreProject } from './restore';
import { touched } from './touched';

const FRAME = 2400;
const lift = new ProjectBuilder('Lift', 'world', 30)
	.part('cage', { kind: 'box', size: [1, 1, 1] })
	.startClip('up', 60)
	.keys('cage', 'translation.y', [
		[0, 0, linear],
		[30, 4, linear],
		[60, 4, linear],
	])
	.keys('cage', 'translation.x', [[0, 1, linear]])
	.build();
const y = { clip: 'up', part: 'cage', property: 'translation', component: 'y' } as const;
const id = 'up/cage/translation/y';
const keysAt = (...frames: number[]) => new Map([[id, new Set(frames.map((frame) => frame * FRAME))]]);
const tell = (after: Doc, before = lift) => touched(before, after, touchedIds(diffDocuments(before, after)));

describe('of an edit is told', () => {
	it('the value of one key, before and after, with the channel as it was and is on one scale', () => {
		const told = tell(setValue(lift, y, 30 * FRAME, 8));
		expect(told).toMatchObject({
			clip: 'up',
			part: 'cage',
			channel: 'translation y',
			others: 0,
			keys: 1,
			from: 30 * FRAME,
			to: 30 * FRAME,
			byTicks: null,
			before: 4,
			after: 8,
			unit: ' m',
		});
		expect(Math.max(...told.is)).toBeCloseTo(1, 1);
		expect(Math.max(...told.was)).toBeCloseTo(0.5, 1);
		expect([told.was[0], told.is[0]]).toEqual([0, 0]);
	});
	it('by how much keys moved together, but not when their values changed as well', () => {
		expect(tell(moveKeys(lift, keysAt(30, 60), -3 * FRAME, 0))).toMatchObject({
			keys: 2,
			from: 27 * FRAME,
			to: 57 * FRAME,
			byTicks: -3 * FRAME,
			before: null,
		});
		expect(tell(moveKeys(lift, keysAt(30), FRAME, 1))).toMatchObject({ byTicks: null, before: 4, after: 5 });
	});
	it('where keys stood that are gone, and a channel that is new or gone', () => {
		expect(tell(removeKeys(lift, keysAt(60)))).toMatchObject({ from: 60 * FRAME, before: 4, after: null });
		const gone = removeChannels(lift, [id]);
		expect(tell(gone)).toMatchObject({ part: 'cage', keys: 3, to: 60 * FRAME, is: [] });
		expect(tell(lift, gone)).toMatchObject({ keys: 3, was: [] });
	});
	it('how many further channels it touched, and what is no channel', () => {
		const both = new Map([...keysAt(0), ['up/cage/translation/x', new Set([0])]]);
		expect(tell(moveKeys(lift, both, 0, 1))).toMatchObject({ others: 1 });
		const cue = { type: 'cue', id: 'q', clip: 'up', name: 'there', t: 0, payload: null } as const;
		expect(tell(putCue(lift, cue))).toMatchObject({ clip: 'up', part: null, channel: null, from: null });
		expect(tell(updateClip(lift, 'up', { note: 'n' }))).toMatchObject({ clip: 'up', channel: null });
		expect(tell(updateProject(lift, { name: 'Hoist' }))).toMatchObject({ clip: null, part: null });
	});
});

describe('brought back from another version', () => {
	const quay = makeQuay();
	/** As it comes over a line: equal, and nothing of it is the same object. */
	const fetched = JSON.parse(JSON.stringify(quay)) as Doc;
	const later = updateProject(
		removeClip(setValue(quay, { ...y, clip: 'buoy-bob', part: 'buoy' }, 0, 9), 'sack-drop'),
		{ name: 'Pier' },
	);

	it('the whole project is as it was, and only what differs is changed', () => {
		const back = restoreProject(later, fetched);
		expect(back).toEqual(quay);
		const idsOf = (from: Doc, to: Doc) => touchedIds(diffDocuments(from, to));
		expect(idsOf(later, back)).toEqual(idsOf(quay, later));
	});
	it('a clip is as it was, and all else stays', () => {
		const back = restoreClip(later, fetched, 'buoy-bob');
		expect([...touchedIds(diffDocuments(later, back))]).toEqual(['buoy-bob/buoy/translation/y']);
		expect(restoreClip(updateClip(quay, 'buoy-bob', { length: 5 }), fetched, 'buoy-bob')).toEqual(quay);
	});
	it('what moves a part that is gone, or is computed from one, stays away', () => {
		const parts = { ...quay.parts };
		delete (parts as Record<string, unknown>).ferry;
		const without = removeClip({ ...quay, parts }, 'ferry-crossing');
		const back = restoreClip(without, fetched, 'ferry-crossing');
		expect(Object.values(back.channels).some((channel) => channel.part === 'ferry')).toBe(false);
		expect(Object.values(fetched.formulas).some((formula) => formula.clip === 'ferry-crossing')).toBe(true);
		const checked = validateDocument({ format: 'hillock-project', version: VERSION, ...back });
		expect(
			checked.ok ? [] : checked.problems.filter(({ pointer }) => /formulas|channels/.test(pointer)),
		).toEqual([]);
	});
});
