/** Everything that can be done from the keyboard, in one list: the keys, the menus and the help read it. */
import { spanAt } from '$core/curve/edit';
import {
	duplicateKeys,
	insertKey,
	limitMove,
	moveKeys,
	removeKeys,
	setModes,
	setShape,
	shiftSelection,
	type KeySelection,
} from '$core/document/edits/keys';
import { copyKeys, pasteKeys } from '$core/document/edits/clipboard';
import {
	extentOf,
	holdPose,
	keysAfter,
	mirrorValues,
	openGap,
	reverseKeys,
} from '$core/document/edits/retime';
import { channelsOfClip, type Clip, type Doc } from '$core/document/types';
import { HANDLE_MODES } from '$core/curve/types';
import { frameToTicks } from '$core/time';
import { SHAPE_SHEET } from '$lib/bench/shapes';
import type { LaneView } from '$lib/lanes/lane-view.svelte';
import { theme } from '$lib/ui/theme.svelte';
import { toast } from 'svelte-sonner';
import { addCue } from './new-things';
import type { Session } from './session.svelte';

export interface Command {
	id: string;
	group: 'Play' | 'Keys' | 'Shape' | 'View' | 'Edit';
	label: string;
	/** In the form of tinykeys; several with spaces between. */
	keys: readonly string[];
	/** As people read it. */
	shown: string;
	run: () => void;
}

export interface CommandTargets {
	session: Session;
	view: LaneView;
	openHelp: () => void;
	openFinder: () => void;
	openTween: () => void;
	openNudge: () => void;
	openGuide: () => void;
}

function copyPicked({ session }: CommandTargets): void {
	const copied = copyKeys(session.doc, session.keys);
	if (copied.length === 0) return;
	session.copied = copied;
	const count = copied.reduce((sum, channel) => sum + channel.keys.length, 0);
	toast(count === 1 ? 'Key copied' : `${count} keys copied`, { duration: 1500 });
}

function paste({ session }: CommandTargets): void {
	const { clip, copied } = session;
	if (!clip || copied.length === 0) return;
	const t = Math.round(session.transport.local);
	// Keys of one part go to the part that is picked now.
	const pasted = pasteKeys(session.doc, clip.id, copied, t, session.partId);
	session.edit('Paste keys', (doc) => pasteKeys(doc, clip.id, copied, t, session.partId).doc);
	session.pickKeys(pasted.selection);
}

/** Ticks of a stretch played backwards. */
function mirroredTimes(times: ReadonlySet<number>): Set<number> {
	const extent = extentOf(new Map([['', times]]))!;
	return new Set([...times].map((t) => extent.first + extent.last - t));
}

type TimeEdit = (doc: Doc, clip: Clip, t: number, frames: (count: number) => number) => Doc;

/** An edit of the whole clip's time at the playhead. */
function changeTime({ session }: CommandTargets, label: string, edit: TimeEdit): void {
	const { clip } = session;
	if (!clip) return;
	const t = Math.round(session.transport.local);
	session.keys = new Map();
	session.edit(label, (doc) => edit(doc, clip, t, (count) => frameToTicks(count, session.frameRate)));
}

function invertPicks({ session }: CommandTargets): void {
	if (!session.clip) return;
	const picked = new Map<string, Set<number>>();
	for (const channel of channelsOfClip(session.doc, session.clip.id)) {
		const own = session.keys.get(channel.id);
		const times = channel.keys.map((key) => key.t).filter((t) => !own?.has(t));
		if (times.length > 0) picked.set(channel.id, new Set(times));
	}
	session.pickKeys(picked);
}

/** Channels that a command without picked keys is about: the picked one, those of the picked part, or all. */
function channelsInHand({ session }: CommandTargets) {
	if (!session.clip) return [];
	if (session.channel) return [session.channel];
	const all = channelsOfClip(session.doc, session.clip.id);
	return session.partId === null ? all : all.filter((channel) => channel.part === session.partId);
}

function goToKey(targets: CommandTargets, direction: 1 | -1): void {
	const { session } = targets;
	const now = Math.round(session.transport.local);
	let target: number | null = null;
	for (const channel of channelsInHand(targets))
		for (const { t } of channel.keys) {
			if ((t - now) * direction <= 0) continue;
			if (target === null || (t - target) * direction < 0) target = t;
		}
	if (target === null) return;
	session.transport.stop();
	session.transport.seek(target);
	const picked = new Map<string, Set<number>>();
	if (session.channel || session.partId !== null) {
		for (const channel of channelsInHand(targets)) {
			if (channel.keys.some((key) => key.t === target)) picked.set(channel.id, new Set([target]));
		}
		session.keys = picked;
	}
}

function keyHere(targets: CommandTargets, wholePart: boolean): void {
	const { session } = targets;
	const t = Math.round(session.transport.local);
	const channels = channelsInHand(targets).filter((channel) => !wholePart || channel.part === session.partId);
	if (channels.length === 0) return;
	session.edit('Set keys', (doc) => channels.reduce((next, channel) => insertKey(next, channel.id, t), doc));
	session.keys = new Map(channels.map((channel) => [channel.id, new Set([t])]));
}

/** The picked keys; without any, the keys whose spans are under the playhead of the picked channel. */
function spansInHand({ session }: CommandTargets): KeySelection {
	if (session.keys.size > 0 || !session.channel) return session.keys;
	const at = spanAt(session.channel.keys, session.transport.local);
	return at < 0 ? session.keys : new Map([[session.channel.id, new Set([session.channel.keys[at].t])]]);
}

function nudge({ session }: CommandTargets, frames: number): void {
	if (!session.clip || session.keys.size === 0) return;
	const ticks = limitMove(session.keys, frameToTicks(frames, session.frameRate), session.clip.length);
	const { keys } = session;
	session.edit('Move keys', (doc) => moveKeys(doc, keys, ticks, 0));
	session.keys = shiftSelection(keys, ticks);
}

function removePicked({ session }: CommandTargets): void {
	if (session.keys.size === 0) return;
	const { keys } = session;
	let count = 0;
	for (const times of keys.values()) count += times.size;
	session.keys = new Map();
	session.edit(count === 1 ? 'Delete key' : `Delete ${count} keys`, (doc) => removeKeys(doc, keys));
}

function pickAll({ session }: CommandTargets): void {
	if (!session.clip) return;
	const channels = session.channel ? [session.channel] : channelsOfClip(session.doc, session.clip.id);
	session.pickKeys(
		new Map(channels.map((channel) => [channel.id, new Set(channel.keys.map((key) => key.t))])),
	);
}

function fitPicked({ session, view }: CommandTargets): void {
	let [from, to] = [Infinity, -Infinity];
	for (const times of session.keys.values())
		for (const t of times) {
			from = Math.min(from, t);
			to = Math.max(to, t);
		}
	if (from < to) view.fit(from, to);
	else if (session.clip) view.fit(0, session.clip.length);
	view.remember();
}

export function makeCommands(targets: CommandTargets): Command[] {
	const { session, view } = targets;
	const { transport } = session;
	const step = (frames: number) => transport.stepFrames(frames, session.frameRate);
	const shapes = SHAPE_SHEET.filter((choice) => choice.shortcut).map((choice): Command => ({
		id: `shape-${choice.name}`,
		group: 'Shape',
		label: `Shape: ${choice.name}`,
		keys: [choice.shortcut!],
		shown: choice.shortcut!,
		run: () => {
			const spans = spansInHand(targets);
			if (spans.size > 0) session.edit(`Shape ${choice.name}`, (doc) => setShape(doc, spans, choice.shape));
		},
	}));
	const modes = HANDLE_MODES.map((mode, i): Command => ({
		id: `handles-${mode}`,
		group: 'Shape',
		label: `Handles: ${mode}`,
		keys: [`Shift+Digit${i + 1}`],
		shown: `Shift+${i + 1}`,
		run: () => {
			const { keys } = session;
			if (keys.size > 0) session.edit(`Handles ${mode}`, (doc) => setModes(doc, keys, mode));
		},
	}));
	return [
		{
			id: 'play',
			group: 'Play',
			label: 'Play or pause',
			keys: ['Space'],
			shown: 'Space',
			run: () => transport.toggle(),
		},
		{
			id: 'play-start',
			group: 'Play',
			label: 'Play from the start',
			keys: ['Enter'],
			shown: 'Enter',
			run: () => transport.play(true),
		},
		{
			id: 'frame-back',
			group: 'Play',
			label: 'A frame back',
			keys: ['ArrowLeft'],
			shown: '←',
			run: () => step(-1),
		},
		{
			id: 'frame-on',
			group: 'Play',
			label: 'A frame on',
			keys: ['ArrowRight'],
			shown: '→',
			run: () => step(1),
		},
		{
			id: 'ten-back',
			group: 'Play',
			label: 'Ten frames back',
			keys: ['Shift+ArrowLeft'],
			shown: 'Shift+←',
			run: () => step(-10),
		},
		{
			id: 'ten-on',
			group: 'Play',
			label: 'Ten frames on',
			keys: ['Shift+ArrowRight'],
			shown: 'Shift+→',
			run: () => step(10),
		},
		{
			id: 'start',
			group: 'Play',
			label: 'To the start',
			keys: ['Home'],
			shown: 'Home',
			run: () => (transport.stop(), transport.seek(0)),
		},
		{
			id: 'end',
			group: 'Play',
			label: 'To the end',
			keys: ['End'],
			shown: 'End',
			run: () => (transport.stop(), transport.seek(session.clip?.length ?? 0)),
		},
		{
			id: 'key-before',
			group: 'Play',
			label: 'To the key before',
			keys: ['['],
			shown: '[',
			run: () => goToKey(targets, -1),
		},
		{
			id: 'key-after',
			group: 'Play',
			label: 'To the key after',
			keys: [']'],
			shown: ']',
			run: () => goToKey(targets, 1),
		},
		{
			id: 'auto-key',
			group: 'Keys',
			label: 'Auto-key on or off',
			keys: ['a'],
			shown: 'A',
			run: () => (session.autoKey = !session.autoKey),
		},
		{
			id: 'key',
			group: 'Keys',
			label: 'Key the picked channel',
			keys: ['k'],
			shown: 'K',
			run: () => keyHere(targets, false),
		},
		{
			id: 'key-part',
			group: 'Keys',
			label: 'Key the whole part',
			keys: ['Shift+K'],
			shown: 'Shift+K',
			run: () => keyHere(targets, true),
		},
		{
			id: 'duplicate',
			group: 'Keys',
			label: 'Duplicate keys at the playhead',
			keys: ['d'],
			shown: 'D',
			run: () => {
				const { keys, clip } = session;
				if (keys.size > 0 && clip)
					session.edit('Duplicate keys', (doc) =>
						duplicateKeys(doc, keys, Math.round(transport.local), clip.length),
					);
			},
		},
		{
			id: 'delete',
			group: 'Keys',
			label: 'Delete picked keys',
			keys: ['Delete', 'Backspace'],
			shown: 'Delete',
			run: () => removePicked(targets),
		},
		{
			id: 'all',
			group: 'Keys',
			label: 'Pick all keys of the channel, or of all',
			keys: ['$mod+a'],
			shown: 'Ctrl+A',
			run: () => pickAll(targets),
		},
		{
			id: 'after',
			group: 'Keys',
			label: 'Pick all keys after the playhead',
			keys: ['$mod+Shift+A'],
			shown: 'Ctrl+Shift+A',
			run: () => {
				if (session.clip)
					session.pickKeys(keysAfter(session.doc, session.clip.id, Math.round(transport.local)));
			},
		},
		{
			id: 'invert',
			group: 'Keys',
			label: 'Pick the others instead',
			keys: ['i'],
			shown: 'I',
			run: () => invertPicks(targets),
		},
		{
			id: 'copy',
			group: 'Keys',
			label: 'Copy picked keys',
			keys: ['$mod+c'],
			shown: 'Ctrl+C',
			run: () => copyPicked(targets),
		},
		{
			id: 'cut',
			group: 'Keys',
			label: 'Cut picked keys',
			keys: ['$mod+x'],
			shown: 'Ctrl+X',
			run: () => {
				copyPicked(targets);
				removePicked(targets);
			},
		},
		{
			id: 'paste',
			group: 'Keys',
			label: 'Paste keys at the playhead',
			keys: ['$mod+v'],
			shown: 'Ctrl+V',
			run: () => paste(targets),
		},
		{
			id: 'reverse',
			group: 'Keys',
			label: 'Reverse the picked stretch',
			keys: ['r'],
			shown: 'R',
			run: () => {
				const { keys } = session;
				if (keys.size > 0) session.edit('Reverse keys', (doc) => reverseKeys(doc, keys));
				session.keys = new Map([...keys].map(([id, times]) => [id, mirroredTimes(times)]));
			},
		},
		{
			id: 'mirror',
			group: 'Keys',
			label: 'Mirror picked values',
			keys: ['m'],
			shown: 'M',
			run: () => {
				const { keys } = session;
				if (keys.size > 0) session.edit('Mirror values', (doc) => mirrorValues(doc, keys));
			},
		},
		{
			id: 'hold-pose',
			group: 'Keys',
			label: 'Hold the pose here for six frames more',
			keys: ['h'],
			shown: 'H',
			run: () =>
				changeTime(targets, 'Hold the pose', (doc, clip, t, frames) => holdPose(doc, clip, t, frames(6))),
		},
		{
			id: 'gap',
			group: 'Keys',
			label: 'Open a gap of six frames at the playhead',
			keys: ['g'],
			shown: 'G',
			run: () =>
				changeTime(targets, 'Open a gap', (doc, clip, t, frames) => openGap(doc, clip, t, frames(6))),
		},
		{
			id: 'close-gap',
			group: 'Keys',
			label: 'Take six frames out before the playhead',
			keys: ['Shift+G'],
			shown: 'Shift+G',
			run: () =>
				changeTime(targets, 'Close a gap', (doc, clip, t, frames) =>
					openGap(doc, clip, t, -Math.min(t, frames(6))),
				),
		},
		{
			id: 'nudge-back',
			group: 'Keys',
			label: 'Picked keys a frame back',
			keys: [','],
			shown: ',',
			run: () => nudge(targets, -1),
		},
		{
			id: 'nudge-on',
			group: 'Keys',
			label: 'Picked keys a frame on',
			keys: ['.'],
			shown: '.',
			run: () => nudge(targets, 1),
		},
		{
			id: 'nudge-ten-back',
			group: 'Keys',
			label: 'Picked keys ten frames back',
			keys: ['Shift+Comma'],
			shown: 'Shift+,',
			run: () => nudge(targets, -10),
		},
		{
			id: 'nudge-ten-on',
			group: 'Keys',
			label: 'Picked keys ten frames on',
			keys: ['Shift+Period'],
			shown: 'Shift+.',
			run: () => nudge(targets, 10),
		},
		{
			id: 'cue',
			group: 'Keys',
			label: 'Put a cue at the playhead',
			keys: ['q'],
			shown: 'Q',
			run: () => addCue(session),
		},
		{
			id: 'tween',
			group: 'Keys',
			label: 'Write motions as numbers',
			keys: ['t'],
			shown: 'T',
			run: targets.openTween,
		},
		{
			id: 'nudge-by',
			group: 'Keys',
			label: 'Move picked keys by an amount',
			keys: ['n'],
			shown: 'N',
			run: targets.openNudge,
		},
		...shapes,
		...modes,
		{
			id: 'height',
			group: 'View',
			label: 'Height of the picked lane: thin, normal, tall',
			keys: ['l'],
			shown: 'L',
			run: () => {
				if (session.channelId) view.cycleHeight(session.channelId);
				view.remember();
			},
		},
		{
			id: 'fit',
			group: 'View',
			label: 'Fit picked keys',
			keys: ['x'],
			shown: 'X',
			run: () => fitPicked(targets),
		},
		{
			id: 'fit-clip',
			group: 'View',
			label: 'Fit the clip',
			keys: ['Shift+X'],
			shown: 'Shift+X',
			run: () => {
				if (session.clip) view.fit(0, session.clip.length);
				view.remember();
			},
		},
		{
			id: 'path',
			group: 'View',
			label: 'Path of the picked part on or off',
			keys: ['y'],
			shown: 'Y',
			run: () => (session.showPath = !session.showPath),
		},
		{
			id: 'ghosts',
			group: 'View',
			label: 'Ghosts of the picked part on or off',
			keys: ['u'],
			shown: 'U',
			run: () => (session.showGhosts = !session.showGhosts),
		},
		{
			id: 'bench',
			group: 'View',
			label: 'To the bench',
			keys: ['b'],
			shown: 'B',
			run: () => document.getElementById('bench')?.focus(),
		},
		{
			id: 'pin',
			group: 'View',
			label: 'Pin the clip as it is, or unpin it',
			keys: ['p'],
			shown: 'P',
			run: () => session.togglePin(),
		},
		{
			id: 'swap',
			group: 'View',
			label: 'Swap with the pinned version',
			keys: ['Shift+P'],
			shown: 'Shift+P',
			run: () => session.swapPinned(),
		},
		{
			id: 'guide',
			group: 'View',
			label: 'A first clip, in five steps',
			keys: [],
			shown: '',
			run: targets.openGuide,
		},
		{ id: 'night', group: 'View', label: 'Light or night', keys: [], shown: '', run: () => theme.toggle() },
		{
			id: 'undo',
			group: 'Edit',
			label: 'Undo',
			keys: ['$mod+z'],
			shown: 'Ctrl+Z',
			run: () => void session.undo(),
		},
		{
			id: 'redo',
			group: 'Edit',
			label: 'Redo',
			keys: ['$mod+Shift+Z', '$mod+y'],
			shown: 'Ctrl+Shift+Z',
			run: () => void session.redo(),
		},
		{
			id: 'escape',
			group: 'Edit',
			label: 'Pick nothing',
			keys: ['Escape'],
			shown: 'Esc',
			run: () => session.clearPicks(),
		},
		{
			id: 'find',
			group: 'Edit',
			label: 'Find a command, a clip or a part',
			keys: ['$mod+k'],
			shown: 'Ctrl+K',
			run: targets.openFinder,
		},
		{
			id: 'help',
			group: 'Edit',
			label: 'Show all shortcuts',
			keys: ['Shift+?'],
			shown: '?',
			run: targets.openHelp,
		},
	];
}

/** Whether a key press belongs to the element in focus: text fields, buttons on Space and Enter, menus. */
export function isTaken(event: KeyboardEvent): boolean {
	const target = event.target as HTMLElement | null;
	if (!target) return false;
	if (target.closest('[role="dialog"], [role="menu"]')) return true;
	if (target.matches('input:not([type="checkbox"]):not([type="radio"]), textarea, select, [contenteditable]'))
		return true;
	const presses = event.code === 'Space' || event.key === 'Enter';
	if (presses && target.closest('button, a, [role="button"], summary, input')) return true;
	return (
		event.key.startsWith('Arrow') &&
		target.closest('[role="slider"]') !== null &&
		!target.matches('[aria-label="playhead"]')
	);
}
