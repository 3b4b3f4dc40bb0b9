import { describe, expect, it } from 'vitest';
import { shownAt } from '$core/testing';
import { childrenOf } from '$core/document/types';
import { worldMatrix } from '$core/clip/path';
import { makeQuay } from '../../../demo/quay';
import { LaneView } from '$lib/lanes/lane-view.svelte';
import { CLIP_CHANGES, CLIP_ORDER } from '$lib/bar/clip-menu';
import { chosen, shownKeys, type Command } from '$lib/ui/command';
import { makeCommands } from './commands';
import { putBeside } from '$lib/acts/hang-part';
import { PART_MENU } from '$lib/lanes/part-menu';
import { Session } from '$lib/session/session.svelte';

const session = new Session({ doc: makeQuay(), revision: 1, undo: null, redo: null });
const opened: (string | null)[] = [];
const view = new LaneView();
const commands = makeCommands({
	session,
	view,
	openClip: (id) => opened.push(id),
	goTo: () => {},
});
const byId = (id: string): Command => commands.find((command) => command.id === id)!;

describe('commands', () => {
	it('have an id and keys that no other has', () => {
		const ids = commands.map(({ id }) => id);
		expect(new Set(ids).size).toBe(ids.length);
		const keys = commands.flatMap((command) => command.keys.map((own) => own.toLowerCase()));
		expect(keys.filter((own, i) => keys.indexOf(own) !== i)).toEqual([]);
	});

	it('are there for every entry of the menus', () => {
		for (const menu of [PART_MENU, CLIP_CHANGES, CLIP_ORDER])
			expect(chosen(commands, menu).map(({ id }) => id)).toEqual([...menu]);
	});

	it('can be run only where there is something to act on', () => {
		session.openClip('sack-drop');
		session.selection.clear();
		for (const id of ['delete', 'part-delete', 'key-property', 'undo', 'clip-split', 'seam', 'swap'])
			expect([id, byId(id).can()]).toEqual([id, false]);
		session.selection.pickChannel('sack-drop/mail-sack/translation/y');
		session.transport.seek(24_000);
		for (const id of ['part-delete', 'key-property', 'clip-split'])
			expect([id, byId(id).can()]).toEqual([id, true]);
		session.openClip('buoy-bob');
		expect(byId('seam').can()).toBe(true);
	});

	it('show their keys as people read them', () => {
		expect(
			['$mod+Shift+Z', 'Shift+Digit3', 'Alt+KeyK', 'Shift+ArrowLeft', 'Shift+?', 'Alt+Comma'].map(shownKeys),
		).toEqual(['Ctrl+Shift+Z', 'Shift+3', 'Alt+K', 'Shift+←', '?', 'Alt+,']);
	});

	it('key a part that does not move yet in its place, turn and scale', () => {
		session.openClip('sack-drop');
		session.selection.pickPart('pelican');
		session.transport.seek(12_000);
		byId('key-part').run();
		const keyed = Object.values(session.doc.channels).filter(
			(channel) => channel.clip === 'sack-drop' && channel.part === 'pelican',
		);
		expect(keyed.map(({ property, component }) => `${property} ${component}`).sort()).toEqual(
			['translation', 'rotation', 'scale']
				.flatMap((name) => ['x', 'y', 'z'].map((axis) => `${name} ${axis}`))
				.sort(),
		);
		expect(keyed.every(({ keys }) => keys.length === 1 && keys[0].t === 12_000)).toBe(true);
		expect(session.selection.keys.size).toBe(9);
	});

	it('let a part rest in this clip, whatever moves it, and leave other parts and clips alone', () => {
		session.openClip('sack-drop');
		session.selection.pickPart('mail-sack');
		const before = session.doc;
		byId('part-still').run();
		const gone = (of: object, now: object) => Object.keys(of).filter((id) => !Object.hasOwn(now, id));
		const lost = [
			...gone(before.channels, session.doc.channels),
			...gone(before.formulas, session.doc.formulas),
		];
		expect(lost).toHaveLength(5);
		expect(lost.every((id) => id.startsWith('sack-drop/mail-sack/'))).toBe(true);
		expect([session.selection.partId, byId('part-still').can()]).toEqual(['mail-sack', false]);
	});

	it('move a part among those that hang on the same, or beside another one', () => {
		const namesUnder = (parent: string | null) => childrenOf(session.doc, parent).map(({ id }) => id);
		const before = namesUnder(null);
		session.selection.pickPart(before[1]);
		byId('part-earlier').run();
		expect(namesUnder(null)).toEqual([before[1], before[0], ...before.slice(2)]);
		byId('part-earlier').run();
		byId('part-later').run();
		expect(namesUnder(null)).toEqual(before);
		// Beside the rope it hangs on the arm that turns, and stays where it is.
		const placeOf = () => {
			const { compiled, posed } = shownAt(session.doc, 'sack-drop', 12_000);
			return [...worldMatrix(compiled, 'lighthouse', posed)!];
		};
		session.openClip('sack-drop');
		session.transport.seek(12_000);
		const place = placeOf();
		putBeside(session, 'lighthouse', 'rope', 'before');
		expect(namesUnder('crane-arm').join()).toContain('lighthouse,rope');
		placeOf().forEach((v, k) => expect(v).toBeCloseTo(place[k], 6));
	});

	it('change the height of the selected lane alone', () => {
		const id = 'sack-drop/mail-sack/translation/y';
		session.openClip('sack-drop');
		session.selection.clear();
		byId('height').run();
		expect(view.heights).toEqual({});
		session.selection.pickChannel(id);
		byId('height').run();
		expect(Object.keys(view.heights)).toEqual([id]);
	});

	it('leave the last clip to the room that shows there is none', () => {
		for (const clip of session.project.clips) {
			session.openClip(clip.id);
			byId('clip-delete').run();
		}
		expect(opened.at(-1)).toBe(null);
		expect(session.project.clips).toEqual([]);
	});
});

describe('keys that are moved by an amount', () => {
	const session = new Session({ doc: makeQuay(), revision: 1, undo: null, redo: null });
	const own = makeCommands({ session, view: new LaneView(), openClip: () => {}, goTo: () => {} });
	const run = (id: string) => own.find((command) => command.id === id)!.run();
	const Y = 'sack-drop/mail-sack/translation/y';
	const pickLast = () => {
		session.openClip('sack-drop');
		const { t } = session.doc.channels[Y].keys.at(-1)!;
		session.selection.pickKeys(new Map([[Y, new Set([t])]]));
		return t;
	};

	it('lengthen the clip where they pass its end', () => {
		const t = pickLast();
		const { length } = session.clip!;
		const frames = Math.round((length - t) / 2400) + 5;
		for (let i = 0; i < frames; i++) run('nudge-on');
		expect(session.doc.channels[Y].keys.at(-1)!.t).toBe(t + frames * 2400);
		expect(session.clip!.length).toBe(t + frames * 2400);
		expect([...session.selection.keys.get(Y)!]).toEqual([t + frames * 2400]);
	});

	it('by one frame or ten, either way', () => {
		const t = session.doc.channels[Y].keys[1].t;
		const second = () => session.doc.channels[Y].keys[1].t;
		session.selection.pickKeys(new Map([[Y, new Set([t])]]));
		run('nudge-back');
		expect(second()).toBe(t - 2400);
		run('nudge-ten-on');
		expect([...session.selection.keys.get(Y)!]).toEqual([t + 9 * 2400]);
		run('nudge-ten-back');
		run('nudge-on');
		expect(second()).toBe(t);
	});

	it('stay where they are when the whole of the way is not there', () => {
		const before = session.doc;
		session.selection.pickKeys(new Map([[Y, new Set([before.channels[Y].keys[0].t])]]));
		run('nudge-back');
		expect(session.doc).toBe(before);
	});
});
