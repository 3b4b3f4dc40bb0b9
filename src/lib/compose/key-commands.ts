/** Keys: setting, picking, moving, shaping. */
import { HANDLE_MODES } from '$core/curve/types';
import { kindOf } from '$core/document/types';
import { duplicateKeys, setAccumulates, setModes, setShape } from '$core/edits/keys';
import {
	holdPose,
	keysAfter,
	mirroredSelection,
	mirrorValues,
	openGap,
	reverseKeys,
} from '$core/edits/retime';
import { SHAPE_SHEET } from '$lib/bench/shapes';
import { commandsOf, PASTES, type Command } from '$lib/ui/command';
import { toBench, type CommandTargets } from './targets';
import {
	changeTime,
	copyPicked,
	deleteChannel,
	invertPicks,
	joinPicked,
	keyHere,
	nudge,
	paste,
	pasteReversed,
	pickAll,
	pickKeysOf,
	removePicked,
	spansInHand,
} from '$lib/acts/key-actions';
import { addCue } from '$lib/acts/new-clips';
import type { Session } from '$lib/session/session.svelte';
import type { BenchField } from '$lib/session/fields';

/** Makes commands on the picked keys. */
function onPicked(session: Session) {
	const command = commandsOf('Keys');
	return (id: string, label: string, keys: string | string[], run: () => void) =>
		command(id, label, keys, run, () => session.selection.keys.size > 0);
}

/** Setting keys, and taking them away. */
function settingKeys(session: Session): Command[] {
	const { transport } = session;
	const command = commandsOf('Keys');
	const lane = () => session.selection.channel !== null;
	const onKeys = onPicked(session);
	return [
		command('auto-key', 'Auto-key on or off', 'a', () => (session.isAutoKey = !session.isAutoKey)),
		command('key', 'Key the picked lanes, or the picked part', 'k', () => keyHere(session, 'in hand')),
		command(
			'key-property',
			'Key the property: x, y and z',
			'Alt+KeyK',
			() => keyHere(session, 'property'),
			lane,
		),
		command(
			'key-part',
			'Key the whole part',
			'Shift+K',
			() => keyHere(session, 'part'),
			() => session.selection.part !== null,
		),
		onKeys('duplicate', 'Duplicate keys at the playhead', 'd', () => {
			const { keys } = session.selection;
			const { clip } = session;
			if (clip)
				session.edit('Duplicate keys', (doc) =>
					duplicateKeys(doc, keys, Math.round(transport.local), clip.length),
				);
		}),
		onKeys('delete', 'Delete picked keys', ['Delete', 'Backspace'], () => removePicked(session)),
		onKeys('join', 'Join spans: delete the picked keys that carry no motion', 'j', () => joinPicked(session)),
	];
}

/** Picking keys. */
function pickingKeys(session: Session): Command[] {
	const { transport } = session;
	const command = commandsOf('Keys');
	const lane = () => session.selection.channel !== null;
	return [
		command('all', 'Pick all keys of the channel, or of all', '$mod+a', () => pickAll(session)),
		command(
			'property-pick',
			'Pick all keys of the property: x, y and z',
			'Shift+A',
			() => {
				const { channel: own } = session.selection;
				if (own) pickKeysOf(session, ({ part, property }) => part === own.part && property === own.property);
			},
			lane,
		),
		command('after', 'Pick all keys after the playhead', '$mod+Shift+A', () => {
			if (session.clip)
				session.selection.pickKeys(keysAfter(session.doc, session.clip.id, Math.round(transport.local)));
		}),
		command('invert', 'Pick the others instead', 'i', () => invertPicks(session)),
	];
}

/** Copying, and turning what is picked about. */
function copyingKeys(session: Session): Command[] {
	const command = commandsOf('Keys');
	const onKeys = onPicked(session);
	return [
		onKeys('copy', 'Copy picked keys', '$mod+c', () => copyPicked(session)),
		onKeys('cut', 'Cut picked keys', '$mod+x', () => {
			copyPicked(session);
			removePicked(session);
		}),
		command('paste', 'Paste keys at the playhead', PASTES, () => paste(session)),
		command(
			'paste-reversed',
			'Paste keys at the playhead, reversed',
			'$mod+Shift+V',
			() => pasteReversed(session),
			() => session.copied.length > 0,
		),
		onKeys('reverse', 'Reverse the picked stretch', 'r', () => {
			const { keys } = session.selection;
			session.edit('Reverse keys', (doc) => ({
				doc: reverseKeys(doc, keys),
				keys: mirroredSelection(keys),
			}));
		}),
		onKeys('mirror', 'Mirror picked values', 'm', () => {
			const { keys } = session.selection;
			session.edit('Mirror values', (doc) => mirrorValues(doc, keys));
		}),
	];
}

/** Time that is put in or taken out, and keys that move. */
function timingKeys(session: Session): Command[] {
	const command = commandsOf('Keys');
	const onKeys = onPicked(session);
	return [
		command('hold-pose', 'Hold the pose here for six frames more', 'h', () =>
			changeTime(session, 'Hold the pose', (doc, clip, t, frames) => holdPose(doc, clip, t, frames(6))),
		),
		command('gap', 'Open a gap of six frames at the playhead', 'g', () =>
			changeTime(session, 'Open a gap', (doc, clip, t, frames) => openGap(doc, clip, t, frames(6))),
		),
		command('close-gap', 'Take six frames out before the playhead', 'Shift+G', () =>
			changeTime(session, 'Close a gap', (doc, clip, t, frames) =>
				openGap(doc, clip, t, -Math.min(t, frames(6))),
			),
		),
		onKeys('nudge-back', 'Picked keys a frame back', ',', () => nudge(session, -1)),
		onKeys('nudge-on', 'Picked keys a frame on', '.', () => nudge(session, 1)),
		onKeys('nudge-ten-back', 'Picked keys ten frames back', 'Shift+Comma', () => nudge(session, -10)),
		onKeys('nudge-ten-on', 'Picked keys ten frames on', 'Shift+Period', () => nudge(session, 10)),
		onKeys('nudge-by', 'Move picked keys by an amount', 'n', () => (session.asks.sheet = 'nudge')),
	];
}

/** What is typed or scrubbed on the bench. */
function keysOnBench(session: Session): Command[] {
	const command = commandsOf('Keys');
	const lane = () => session.selection.channel !== null;
	const several = () => session.selection.count > 1;
	const severalParts = () => session.selection.parts.size > 1;
	const loops = () => several() && session.clip?.loop.mode === 'repeat';
	/** What is typed or scrubbed on the bench, and its field there. */
	const onBench = (id: string, label: string, field: BenchField, can: () => boolean) =>
		command(id, label, '', toBench(session, field), can);
	return [
		onBench('stretch', 'Stretch the picked keys in time', 'keys-times', several),
		onBench('scale', 'Scale the picked values', 'keys-values', several),
		onBench('offset', 'Add to picked values and all later', 'keys-offset', several),
		onBench('stagger', 'Stagger: keys of each picked part later', 'keys-stagger', severalParts),
		onBench('round', 'Move round the loop: a phase for the picked channels', 'keys-round', loops),
		onBench('reduce', 'Fewer keys, within a tolerance', 'keys-reduce', several),
		onBench('resample', 'Even keys: one every few frames', 'keys-resample', several),
		onBench('before-keys', 'What the channel does before its keys', 'ends-before', lane),
		onBench('after-keys', 'What the channel does after its keys', 'ends-after', lane),
	];
}

/** Channels as a whole, cues and motions. */
function channelCommands(session: Session): Command[] {
	const command = commandsOf('Keys');
	const lane = () => session.selection.channel !== null;
	return [
		command(
			'accumulate',
			'Add the channel up each round, or start each round anew',
			'',
			() => {
				const { channel } = session.selection;
				if (channel)
					session.edit('Change accumulate', (doc) => setAccumulates(doc, channel.id, !channel.accumulates));
			},
			() => session.selection.channel !== null && kindOf(session.selection.channel.property) === 'number',
		),
		command(
			'channel-delete',
			'Delete the channel',
			'',
			() => {
				if (session.selection.channelId !== null) deleteChannel(session, session.selection.channelId);
			},
			lane,
		),
		command('cue', 'Put a cue at the playhead', 'q', () => addCue(session)),
		command('tween', 'Write motions as numbers', 't', () => (session.asks.sheet = 'tween')),
	];
}

export function keyCommands({ session }: CommandTargets): Command[] {
	return [settingKeys, pickingKeys, copyingKeys, timingKeys, keysOnBench, channelCommands].flatMap((list) =>
		list(session),
	);
}

export function shapeCommands(targets: CommandTargets): Command[] {
	const { session } = targets;
	const command = commandsOf('Shape');
	const spans = () => spansInHand(session);
	const shapes = SHAPE_SHEET.map(({ name, shape, shortcut }) =>
		command(
			`shape-${name}`,
			`Shape: ${name}`,
			shortcut ?? '',
			() => {
				const picked = spans();
				session.edit(`Shape ${name}`, (doc) => setShape(doc, picked, shape));
			},
			() => spans().size > 0,
		),
	);
	const modes = HANDLE_MODES.map((mode, i) =>
		command(
			`handles-${mode}`,
			`Handles: ${mode}`,
			`Shift+Digit${i + 1}`,
			() => {
				const { keys } = session.selection;
				session.edit(`Handles ${mode}`, (doc) => setModes(doc, keys, mode));
			},
			() => session.selection.keys.size > 0,
		),
	);
	return [...shapes, ...modes];
}
