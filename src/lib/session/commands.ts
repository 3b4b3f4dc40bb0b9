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
import { channelsOfClip } from '$core/document/types';
import { HANDLE_MODES } from '$core/curve/types';
import { frameToTicks } from '$core/time';
import { SHAPE_SHEET } from '$lib/bench/shapes';
import type { LaneView } from '$lib/lanes/lane-view.svelte';
import { theme } from '$lib/ui/theme.svelte';
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
			id: 'bench',
			group: 'View',
			label: 'To the bench',
			keys: ['b'],
			shown: 'B',
			run: () => document.getElementById('bench')?.focus(),
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
