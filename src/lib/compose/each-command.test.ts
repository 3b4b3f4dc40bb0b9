/** What each command does, written down as it was read once: all that it changes, and where it can be run at all. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { putCue, updateClip } from '$core/edits/clips';
import type { Doc } from '$core/document/types';
import type { KeySelection } from '$core/edits/keys';
import { LaneView } from '$lib/lanes/lane-view.svelte';
import { Session } from '$lib/session/session.svelte';
import { theme } from '$lib/ui/theme.svelte';
import { linear, ProjectBuilder, REPEAT } from '../../../demo/builder';
import { makeCommands } from './commands';

const told = vi.hoisted(() => [] as string[]);
vi.mock('svelte-sonner', () => {
	const toast = (text: string) => told.push(text);
	return { toast: Object.assign(toast, { error: toast, success: toast, dismiss: () => {} }) };
});
const count = vi.hoisted(() => ({ ids: 0 }));
vi.mock('$lib/session/ids', () => ({ newId: () => `new${++count.ids}` }));

/** What was kept in the browser. */
const kept = new Set<string>();

const FRAME = 2400;
const at = (frame: number) => frame * FRAME;

function makeDoc(): Doc {
	const doc = new ProjectBuilder('Yard', 'world', 30)
		.part('post', { kind: 'box', size: [1, 4, 1] }, { at: [1, 2, 0] })
		.part(
			'arm',
			{ kind: 'card', size: [3, 0.5, 0], radius: 0.1 },
			{ parent: 'post', at: [0, 2, 0], turn: [0, 0, 20] },
		)
		.part('crate', { kind: 'box', size: [1, 2, 1] }, { at: [-3, 0, 0] })
		.startClip('rest', 20)
		.startClip('swing', 30, REPEAT)
		.keys('arm', 'rotation.z', [
			[0, 20, linear],
			[6, 35, linear],
			[18, 50, linear],
			[30, 20],
		])
		.keys('crate', 'translation.x', [
			[0, 0, linear],
			[6, 0, linear],
			[12.5, 0, linear],
			[18, 3, linear],
			[30, 0],
		])
		.keys('crate', 'translation.y', [
			[0, 1, linear],
			[18, 2, linear],
			[30, 1],
		])
		.startClip('idle', 20)
		.part('eye', { kind: 'camera', fieldOfView: 50 })
		.blend('swing', 'rest', 'crossfade', 0.2)
		.build();
	return putCue(doc, { type: 'cue', id: 'click', clip: 'swing', name: 'click', t: at(18), payload: null });
}
const doc = makeDoc();
const X = 'swing/crate/translation/x';
const Y = 'swing/crate/translation/y';
const TURN = 'swing/arm/rotation/z';
const keysAt = (...rows: [string, number[]][]): KeySelection =>
	new Map(rows.map(([id, frames]) => [id, new Set(frames.map(at))]));

interface Place {
	session: Session;
	view: LaneView;
	went: string[];
	/** Fields of the screen that were brought into hand by a command. */
	focused: string[];
}

/** Where commands are tried: each is written down in the first of these in which it does something. */
const PLACES: Readonly<Record<string, (place: Place) => void>> = {
	nothing: () => {},
	copied: (place) => {
		place.session.selection.pickKeys(keysAt([X, [6, 18]]));
		run(place, 'copy');
		place.session.selection.clear();
	},
	pinned: ({ session }) => {
		session.togglePin();
		session.edit('Note', (now) => updateClip(now, 'swing', { note: 'x' }));
	},
	undone: ({ session }) => {
		session.edit('Note', (now) => updateClip(now, 'swing', { note: 'x' }));
		void session.project.undo();
	},
	fast: ({ session }) => (session.transport.speed = 2),
	keys: ({ session }) => session.selection.pickKeys(keysAt([X, [6, 18]], [Y, [18]], [TURN, [6, 18]])),
	between: ({ session }) => session.selection.pickKeys(keysAt([X, [12.5]])),
	lane: ({ session }) => session.selection.pickChannel(X),
	computed: (place) => {
		place.session.selection.pickChannel(TURN);
		run(place, 'formula');
	},
	child: ({ session }) => session.selection.pickPart('arm'),
	parts: ({ session }) => {
		session.selection.pickPart('crate');
		session.selection.alsoPick(['post', 'arm']);
		session.isAutoKey = true;
	},
};

function makeAll({ session, view, went }: Place) {
	return makeCommands({
		session,
		view,
		openClip: (id) => went.push(`clip ${id}`),
		goTo: (room) => went.push(room),
	});
}

const run = (place: Place, id: string) =>
	makeAll(place)
		.find((own) => own.id === id)!
		.run();

function open(name: string): Place {
	count.ids = 0;
	kept.clear();
	const session = new Session({ doc, revision: 1, undo: null, redo: null });
	session.openClip('swing');
	session.transport.seek(at(12));
	session.view.look.frame = (part) => place.went.push(`framed ${part}`);
	const view = new LaneView();
	view.open(session.clip!, false);
	// So that what leads back to the usual has something to do.
	view.from = 7;
	view.filter = { ...view.filter, words: 'arm' };
	session.view.look.view = 'top';
	session.view.arrangement.choose('stage');
	theme.value = 'night';
	const place: Place = { session, view, went: [], focused: [] };
	vi.stubGlobal('location', {
		set href(to: string) {
			place.went.push(to);
		},
	});
	vi.stubGlobal('HTMLInputElement', class {});
	vi.stubGlobal('matchMedia', () => ({ matches: false }));
	vi.stubGlobal('document', {
		documentElement: { dataset: {} },
		getElementById: (id: string) => ({ focus: () => place.focused.push(id) }),
		querySelector: (own: string) => ({ focus: () => place.focused.push(own), querySelector: () => null }),
	});
	PLACES[name](place);
	told.length = 0;
	kept.clear();
	return place;
}

const short = (value: unknown): string =>
	value instanceof Set
		? `{${[...value].join(' ')}}`
		: typeof value === 'number'
			? String(Number(value.toFixed(4)))
			: typeof value === 'string'
				? value
				: JSON.stringify(value, (_, own) => (typeof own === 'number' ? Number(own.toFixed(4)) : own));

/** Everything that a command could change, each on a line of its own. */
function stateOf({ session, view, went, focused }: Place): Map<string, string> {
	const all = new Map<string, string>();
	const put = (head: string, of: object, leave: readonly string[] = []) => {
		for (const [name, value] of Object.entries(of))
			if (!leave.includes(name) && typeof value !== 'function')
				all.set(`${head} ${name}`.trim(), short(value));
	};
	const { doc, selection, transport, asks } = session;
	for (const type of ['parts', 'clips', 'channels', 'formulas', 'cues', 'blends'] as const)
		for (const [id, entity] of Object.entries(doc[type]))
			put(`${type.slice(0, -1)} ${id}:`, entity, ['keys', 'type', 'id']);
	put('project', doc.project);
	for (const { id, keys } of Object.values(doc.channels))
		for (const { t, shape, left, right, ...key } of keys) {
			const modes = [left, right].map((side) => (side ? `/${side.mode}` : '')).join('');
			const value = 'v' in key ? short(key.v) : '';
			const numbers = Object.values(shape).join(' ');
			all.set(`key ${id} at ${short(t / FRAME)}`, `${value} ${numbers}${modes}`);
		}
	for (const [id, times] of selection.keys)
		all.set(`picked ${id}`, [...times].map((t) => short(t / FRAME)).join(' '));
	all.set('in hand', `part ${selection.partId}, channel ${selection.channelId}`);
	all.set(
		'in hand too',
		`${selection.otherParts.join(' ')}, ${selection.channels.map(({ id }) => id).join(' ')}`,
	);
	const { sheet, popover, field, partName, formulaText, newCue, timeChange, guide } = asks;
	put('asks', { sheet, popover, field, partName, formulaText, newCue, timeChange, guide });
	const { playing, speed, range, restsOnFrames, local } = transport;
	put('transport', { playing, speed, range, restsOnFrames, frame: local / FRAME });
	const { isAutoKey, copied, pinnedClip, across } = session;
	put('session', {
		isAutoKey,
		copied: copied.length,
		pinned: pinnedClip?.clip.note,
		across: across.blend,
	});
	const { arrangement, alonePart, lockedParts, pivotMode, speeds, look } = session.view;
	const hidden = Object.keys(doc.parts).filter((part) => session.view.hides(part));
	put('view', { layout: arrangement.name, alonePart, lockedParts, pivotMode, speeds, hidden });
	const { view: from, axes, path, ghosts, rest } = look;
	put('stage', { from, axes, path, ghosts, rest });
	const { from: left, ticksPerPixel, heights, showStill, showSeam, together, filter, unit } = view;
	put('lanes', { left, ticksPerPixel, heights, showStill, showSeam, together, filter, unit });
	put('', { theme: theme.value, went, told: [...told], kept: [...kept], focused });
	all.set('undo', session.project.done?.label ?? '');
	return all;
}

/** Lines of what is other than it was; a thing that is new or gone has one. */
function changes(before: Map<string, string>, after: Map<string, string>): string[] {
	const lines = new Set<string>();
	const has = (state: Map<string, string>, thing: string) =>
		[...state.keys()].some((name) => name.startsWith(thing));
	for (const name of new Set([...before.keys(), ...after.keys()])) {
		const [old, now] = [before.get(name), after.get(name)];
		if (old === now) continue;
		const thing = /^.*: /.exec(name)?.[0];
		if (thing && !has(after, thing)) lines.add(`gone: ${thing.slice(0, -2)}`);
		else if (thing && !has(before, thing)) {
			const own = [...after].filter(([field]) => field.startsWith(thing));
			const fields = own.map(([field, value]) => `${field.slice(thing.length)} ${value}`);
			lines.add(`new: ${thing}${fields.join(', ')}`);
		} else lines.add(`${name}: ${old ?? '–'} → ${now ?? '–'}`);
	}
	return [...lines].map((line) => `\t${line}`);
}

beforeEach(() => {
	vi.stubGlobal('fetch', () => new Promise(() => {}));
	vi.stubGlobal('requestAnimationFrame', () => 1);
	vi.stubGlobal('cancelAnimationFrame', () => {});
	vi.stubGlobal('navigator', {});
	vi.stubGlobal('localStorage', { getItem: () => null, setItem: (name: string) => kept.add(name) });
});
afterEach(() => vi.unstubAllGlobals());

/** What a command changes in a place. */
async function tried(id: string, name: string): Promise<string[]> {
	const place = open(name);
	const before = stateOf(place);
	run(place, id);
	await Promise.resolve();
	const lines = changes(before, stateOf(place));
	place.session.transport.stop();
	return lines;
}

/** Commands that do alike: one of them stands for all. */
const isAlike = (id: string) => id.startsWith('motion-') && id !== 'motion-hop';

it('each command does this', async () => {
	const names = Object.keys(PLACES);
	const lines: string[] = [];
	for (const { id, group, label, keys } of makeAll(open('nothing')).filter((own) => !isAlike(own.id))) {
		const able = names.filter((name) =>
			makeAll(open(name))
				.find((own) => own.id === id)!
				.can(),
		);
		lines.push(`${id} (${[group, label, ...keys].join(', ')})`);
		lines.push(`\tcan: ${able.length === names.length ? 'anywhere' : able.join(', ')}`);
		const all: string[][] = [];
		for (const name of able) all.push([`\tin ${name}`, ...(await tried(id, name))]);
		// What only says why not is not what it does.
		const does = (own: string[]) => own.slice(1).some((line) => !line.startsWith('\ttold'));
		lines.push(...(all.find(does) ?? []));
	}
	await expect(`${lines.join('\n')}\n`).toMatchFileSnapshot('./each-command.txt');
});
