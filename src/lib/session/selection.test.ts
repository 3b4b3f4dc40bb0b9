import { beforeEach, describe, expect, it } from 'vitest';
import { insertKey, moveKeys, removeKeys, shiftSelection } from '$core/edits/keys';
import { removePart } from '$core/edits/parts';
import { makeQuay } from '../../../demo/quay';
import { pickedKeys } from './selection.svelte';
import { Session } from './session.svelte';

const Y = 'sack-drop/mail-sack/translation/y';
const X = 'sack-drop/mail-sack/translation/x';
let session: Session;
beforeEach(() => {
	session = new Session({ doc: makeQuay(), revision: 1, undo: null, redo: null });
	session.openClip('sack-drop');
});
const keys = (id: string, ...times: number[]) => new Map([[id, new Set(times)]]);

describe('an edit that says what is picked', () => {
	it('leaves it picked, the first channel and its part in hand', () => {
		session.edit('Set key', (doc) => ({ doc: insertKey(doc, Y, 13_000), ...pickedKeys(keys(Y, 13_000)) }));
		const { selection } = session;
		expect([...selection.keys.get(Y)!]).toEqual([13_000]);
		expect([selection.channelId, selection.partId, selection.count]).toEqual([Y, 'mail-sack', 1]);
	});

	it('is the same pick after what another did, unless its keys are gone', () => {
		const [first, second] = session.doc.channels[Y].keys;
		session.selection.pickKeys(keys(Y, first.t, second.t));
		const { selection } = session;
		const picked = selection.keys;
		// The bench takes each new pick for a wish to see its card.
		selection.prune({ ...session.doc });
		expect(selection.keys).toBe(picked);
		selection.prune(removeKeys(session.doc, keys(Y, second.t)));
		expect([...selection.keys.get(Y)!]).toEqual([first.t]);
		selection.prune(removeKeys(session.doc, keys(Y, first.t)));
		expect(selection.keys.size).toBe(0);
		expect(selection.channelId).toBe(Y);
		selection.prune(removePart(session.doc, 'mail-sack'));
		expect([selection.channelId, selection.partId]).toEqual([null, null]);
	});

	it('in a drag goes along with it, and is as before when the drag is given up', () => {
		const { t } = session.doc.channels[Y].keys[1];
		session.selection.pickKeys(keys(Y, t));
		const picked = session.selection.keys;
		const drag = session.startDrag('Move keys');
		drag.update((doc) => ({
			doc: moveKeys(doc, picked, 2400, 0),
			keys: shiftSelection(picked, 2400),
			channel: X,
		}));
		expect([...session.selection.keys.get(Y)!]).toEqual([t + 2400]);
		expect(session.selection.channelId).toBe(X);
		drag.cancel();
		expect(session.selection.keys).toBe(picked);
		expect(session.selection.channelId).toBe(Y);
		expect(session.doc).toEqual(makeQuay());
	});
});

it('keys that undo takes away are picked no longer', () => {
	const { t } = session.doc.channels[Y].keys[0];
	session.edit('Set key', (doc) => insertKey(doc, Y, 13_000));
	session.selection.pickKeys(keys(Y, t, 13_000));
	void session.project.undo();
	expect([...session.selection.keys.get(Y)!]).toEqual([t]);
});

it('a part that is picked takes keys and lanes out of hand, its own too', () => {
	session.selection.pickKeys(keys(Y, session.doc.channels[Y].keys[0].t));
	session.selection.pickPart('mail-sack');
	expect([session.selection.channelId, session.selection.count]).toEqual([null, 0]);
	session.selection.pickChannel(Y);
	session.selection.pickPart('buoy');
	expect([session.selection.channelId, session.selection.part?.name]).toEqual([null, 'buoy']);
	session.selection.clear();
	expect([session.selection.part, session.selection.channel]).toEqual([null, null]);
});

it('several lanes are picked by their names, and let go one by one; the one in hand comes first', () => {
	const { selection } = session;
	const picked = () => selection.channels.map(({ id }) => id);
	selection.pickChannel(Y);
	selection.toggleChannel(X);
	expect(picked()).toEqual([Y, X]);
	selection.toggleChannel(Y);
	expect(picked()).toEqual([X]);
	selection.pickChannels(X, [Y, X]);
	expect(picked()).toEqual([X, Y]);
	// A key of one of them is picked: it alone is in hand.
	selection.pickKeys(keys(Y, session.doc.channels[Y].keys[0].t));
	expect(picked()).toEqual([Y]);
	selection.pickKeys(new Map([...keys(Y, 0), ...keys(X, 0)]));
	expect(picked()).toEqual([Y, X]);
	selection.pickChannel(X);
	selection.toggleChannel(X);
	expect([picked(), selection.partId]).toEqual([[], null]);
});
