/** What is done by hand, without a screen. */
import { toast } from 'svelte-sonner';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { channelsOfClip } from '$core/document/types';
import { setValue } from '$core/edits/keys';
import { removePart } from '$core/edits/parts';
import { Session } from '$lib/session/session.svelte';
import { makeQuay } from '../../../demo/quay';
import { addKeysOf, alignParts, hasChannels, isMoved, pickedParts } from './part-acts';
import { channelsInHand, copyPicked, goToKey, joinPicked, paste, pasteReversed } from './key-actions';
import { moveClip } from './new-clips';
import { duplicateHere, moveSelected, setClipGrows } from './move-keys';
import { addPart } from './new-parts';
import { offerWholeFrames, putOnFrames } from './whole-frames';

vi.mock('svelte-sonner', () => ({ toast: Object.assign(vi.fn(), { dismiss: vi.fn() }) }));
const told = () => vi.mocked(toast).mock.calls.map(([text]) => text);

const FRAME = 2400;
const SACK = 'sack-drop/mail-sack/translation/y';
let session: Session;
beforeEach(() => {
	vi.stubGlobal('fetch', () => new Promise(() => {}));
	vi.mocked(toast).mockClear();
	session = new Session({ doc: makeQuay(), revision: 0, undo: null, redo: null });
	session.openClip('sack-drop');
});
afterEach(() => vi.unstubAllGlobals());
const times = (id: string) => session.doc.channels[id].keys.map(({ t }) => t);
const pick = (id: string, ...own: number[]) => session.selection.pickKeys(new Map([[id, new Set(own)]]));

describe('what commands without selected keys are about', () => {
	it('is the selected channels, else those of the selected part, else all', () => {
		const all = channelsOfClip(session.doc, 'sack-drop');
		expect(channelsInHand(session)).toHaveLength(all.length);
		session.selection.pickPart('mail-sack');
		expect(channelsInHand(session).map(({ part }) => part)).toEqual(
			all.filter(({ part }) => part === 'mail-sack').map(({ part }) => part),
		);
		session.selection.pickChannel(SACK);
		expect(channelsInHand(session).map(({ id }) => id)).toEqual([SACK]);
	});

	it('and the next key is the nearest of them', () => {
		const after = (t: number) =>
			Math.min(
				...channelsInHand(session).flatMap(({ keys }) => keys.map((key) => key.t).filter((own) => own > t)),
			);
		session.transport.seek(FRAME / 2);
		const next = after(FRAME / 2);
		goToKey(session, 1);
		expect(session.transport.local).toBe(next);
		session.transport.seek(next + 1);
		goToKey(session, -1);
		expect(session.transport.local).toBe(next);
	});
});

it('the keys of a part are selected beside others', () => {
	const other = channelsOfClip(session.doc, 'sack-drop').find(({ part }) => part !== 'mail-sack')!;
	pick(other.id, other.keys[0].t);
	addKeysOf(session, 'mail-sack');
	const { keys, partId } = session.selection;
	expect(partId).toBe('mail-sack');
	expect([...keys.get(other.id)!]).toEqual([other.keys[0].t]);
	expect([...keys.get(SACK)!]).toEqual(times(SACK));
	expect([...keys.keys()].every((id) => id === other.id || id.includes('/mail-sack/'))).toBe(true);
});

it('a part that a formula alone moves is moved', () => {
	session.openClip('ferry-crossing');
	const { parts } = session.doc;
	const own = Object.values(session.doc.formulas).find(
		({ clip, part }) => clip === 'ferry-crossing' && !hasChannels(session, parts[part]),
	)!;
	expect(isMoved(session, parts[own.part])).toBe(true);
	expect(isMoved(session, parts.lighthouse)).toBe(false);
});

it('a clip goes one place up or down in the list, and no farther than its ends', () => {
	const names = () => session.project.clips.map(({ name }) => name);
	const before = names();
	moveClip(session, session.project.clips[2], -1);
	expect(names()).toEqual([before[0], before[2], before[1], ...before.slice(3)]);
	moveClip(session, session.project.clips[1], 1);
	expect(names()).toEqual(before);
	moveClip(session, session.project.clips[0], -1);
	moveClip(session, session.project.clips.at(-1)!, 1);
	expect(names()).toEqual(before);
});

describe('selected keys', () => {
	it('that carry no motion go, and it is said how many', () => {
		const [first] = session.doc.channels[SACK].keys;
		const linear = { kind: 'linear' } as const;
		const keys = [0, 1, 2].map((i) => ({ ...first, t: i * FRAME, shape: linear }));
		session.edit('Rest', ({ channels, ...doc }) => ({
			...doc,
			channels: { ...channels, still: { ...channels[SACK], id: 'still', keys } },
		}));
		pick('still', 0, FRAME, 2 * FRAME);
		joinPicked(session);
		expect(times('still')).toEqual([0, 2 * FRAME]);
		expect(told().at(-1)).toMatch(/^1 key gone, .* 2 carry motion/);
		pick('still', 0, 2 * FRAME);
		joinPicked(session);
		expect(told().at(-1)).toBe('Every selected key carries motion: all stay');
	});

	it('are not moved before the start, nor past the end where the clip is to keep its length', () => {
		const before = session.doc;
		pick(SACK, times(SACK)[0]);
		expect(moveSelected(session, -times(SACK)[0] - 1)).toBe(false);
		expect(vi.mocked(toast).mock.lastCall).toMatchObject([
			'The keys cannot be moved that far',
			{ description: 'The first stands at frame 0.' },
		]);
		keepLength();
		pick(SACK, times(SACK).at(-1)!);
		expect(moveSelected(session, session.clip!.length)).toBe(false);
		expect(told()).toHaveLength(2);
		expect(session.doc).toBe(before);
	});
});

/** Somebody chose that clips keep their length. */
function keepLength(): void {
	const store = new Map<string, string>();
	vi.stubGlobal('localStorage', {
		getItem: (name: string) => store.get(name) ?? null,
		setItem: (name: string, value: string) => store.set(name, value),
	});
	setClipGrows(false);
}

describe.each([
	['pasted', (own: Session) => paste(own)],
	['pasted reversed', (own: Session) => pasteReversed(own)],
	['duplicated', (own: Session) => duplicateHere(own)],
])('keys that are %s past the end of a clip', (how, put) => {
	/** Three keys over 18 frames are copied, with the playhead 6 frames before the end. */
	const near = () => {
		vi.stubGlobal('navigator', {});
		const own = times(SACK).slice(0, 3);
		pick(SACK, ...own);
		copyPicked(session);
		vi.mocked(toast).mockClear();
		session.transport.seek(session.clip!.length - 6 * FRAME);
		return own.map((t) => t - own[0]);
	};

	it('are all there, selected, and the clip is longer', () => {
		const start = session.clip!.length - 6 * FRAME;
		const [first, second, third] = near();
		put(session);
		const middle = how === 'pasted reversed' ? third - second : second;
		const expected = [first, middle, third].map((t) => start + t);
		expect([...session.selection.keys.get(SACK)!].sort((a, b) => a - b)).toEqual(expected);
		expect(times(SACK)).toEqual(expect.arrayContaining(expected));
		expect(session.clip!.length).toBe(start + third);
		expect(told()).toEqual([`The clip now ends at frame ${(start + third) / FRAME}`]);
	});

	it('are refused with a word where the clip is to keep its length', () => {
		const before = session.doc;
		near();
		keepLength();
		put(session);
		expect(session.doc).toBe(before);
		expect(told()).toEqual([`The keys cannot be ${how.split(' ')[0]} here`]);
	});
});

it('keys of what a part has not are not pasted there, and that is said', () => {
	vi.stubGlobal('navigator', {});
	const at = { clip: 'sack-drop', part: 'quay-camera', property: 'fieldOfView', component: 'value' } as const;
	session.edit('Zoom', (doc) => setValue(doc, at, 0, 30));
	pick('sack-drop/quay-camera/fieldOfView/value', 0);
	copyPicked(session);
	session.selection.pickPart('mail-sack');
	const before = session.doc;
	paste(session);
	expect(session.doc).toBe(before);
	expect(told().at(-1)).toBe('The part has nothing that these keys move');
	session.selection.pickPart('quay-camera');
	session.transport.seek(5 * FRAME);
	paste(session);
	expect(times('sack-drop/quay-camera/fieldOfView/value')).toEqual([0, 5 * FRAME]);
});

describe('keys between frames', () => {
	const offGrid = () => {
		const [, second, third] = times(SACK);
		pick(SACK, second, third);
		moveSelected(session, 0.4 * FRAME);
		return [second, third];
	};
	it('are offered a way back, those that were not there before alone', () => {
		const before = session.doc;
		const [second, third] = offGrid();
		offerWholeFrames(session, session.doc);
		expect(toast).not.toHaveBeenCalled();
		offerWholeFrames(session, before);
		expect(told()).toEqual(['2 keys stand between frames']);
		const [, { action }] = vi.mocked(toast).mock.lastCall as unknown as [
			string,
			{ action: { onClick: () => void } },
		];
		session.openClip('buoy-bob');
		const meanwhile = session.doc;
		action.onClick();
		expect(session.doc, 'another clip is open').toBe(meanwhile);
		session.openClip('sack-drop');
		action.onClick();
		expect(times(SACK)).toEqual(expect.arrayContaining([second, third]));
	});

	it('stay where another key has their frame, and only they are told of', () => {
		const [, second, third] = times(SACK);
		const elsewhere = channelsOfClip(session.doc, 'sack-drop').find(({ id }) => id !== SACK)!;
		pick(elsewhere.id, elsewhere.keys[1].t);
		moveSelected(session, 0.4 * FRAME);
		pick(SACK, second);
		moveSelected(session, third - second - 0.3 * FRAME);
		putOnFrames(session, session.selection.keys);
		expect(times(SACK)).toContain(third - 0.3 * FRAME);
		expect(vi.mocked(toast).mock.lastCall).toMatchObject([
			'1 key stands between frames',
			{ description: 'Other keys have their frames.' },
		]);
	});

	it('go back with the cues of their columns, unless these are to stay', () => {
		const cue = Object.values(session.doc.cues).find(({ clip }) => clip === 'sack-drop')!;
		session.edit('Cue', (doc) => ({
			...doc,
			cues: { ...doc.cues, [cue.id]: { ...cue, t: times(SACK)[1] } },
		}));
		const at = times(SACK)[1];
		const column = new Map(
			channelsOfClip(session.doc, 'sack-drop')
				.filter(({ part, keys }) => part === 'mail-sack' && keys.some(({ t }) => t === at))
				.map(({ id }) => [id, new Set([at])]),
		);
		session.selection.pickKeys(column);
		moveSelected(session, 0.4 * FRAME);
		const moved = session.doc.cues[cue.id].t;
		putOnFrames(session, session.selection.keys);
		const back = column.size > 1 ? at : moved;
		expect([moved, session.doc.cues[cue.id].t]).toEqual([column.size > 1 ? at + 0.4 * FRAME : at, back]);
		expect(times(SACK)[1]).toBe(at);
	});
});

it('a new part stands where the stage looks, to the next tenth of a metre; a camera where its eye is', () => {
	session.view.look.standpoint = () => ({
		middle: [1.23, 4.56, 7.89],
		eye: { at: [0.04, 2, 30], orientation: [0, 0, 0, 1] },
	});
	const restOf = (id: string) => session.doc.parts[id].rest;
	expect(restOf(addPart(session, 'box')).translation).toEqual([1.2, 4.6, 7.9]);
	expect(restOf(addPart(session, 'camera'))).toMatchObject({ translation: [0, 2, 30], rotation: [0, 0, 0] });
});

describe('several parts', () => {
	const x = (part: string) => session.doc.parts[part].rest.translation[0];

	it('are picked one by one, the last in hand, and let go of likewise', () => {
		const { selection } = session;
		for (const part of ['buoy', 'bollard', 'hook']) selection.togglePart(part);
		expect(pickedParts(session)).toEqual(['hook', 'bollard', 'buoy']);
		selection.togglePart('hook');
		expect(pickedParts(session)).toEqual(['buoy', 'bollard']);
		// One that is deleted, here or in another window, is not picked any more.
		session.edit('Delete', (doc) => removePart(doc, 'buoy'));
		expect(pickedParts(session)).toEqual(['bollard']);
		selection.pickPart('hook');
		expect(pickedParts(session)).toEqual(['hook']);
	});

	it('are aligned at rest as one edit, and not at all where one of them moves and gets no key', () => {
		for (const part of ['buoy', 'bollard']) session.selection.togglePart(part);
		alignParts(session, 'left');
		// The bollard is 0.32 wide, the buoy 0.62.
		expect(x('buoy') - 0.31).toBeCloseTo(x('bollard') - 0.16, 5);
		expect(session.project.saver.undo).toBe('Align left');
		const before = session.doc;
		session.selection.togglePart('mail-sack');
		session.transport.seek(30 * FRAME);
		alignParts(session, 'right');
		expect(session.doc).toBe(before);
		expect(told().at(-1)).toMatch(/mail sack cannot be moved here/);
		session.isAutoKey = true;
		session.transport.seek(30 * FRAME);
		alignParts(session, 'right');
		expect(times('sack-drop/mail-sack/translation/x')).toContain(30 * FRAME);
		expect(x('buoy')).toBe(before.parts.buoy.rest.translation[0]);
	});
});
