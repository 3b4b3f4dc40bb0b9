/** Keys: setting, picking, moving, shaping. */
import { takeOutSpikes } from '$lib/acts/clean';
import { putOnFrames } from '$lib/acts/whole-frames';
import { canClean } from '$core/edits/clean';
import { keysOffFrames } from '$core/edits/whole-frames';
import { duplicateHere, nudge } from '$lib/acts/move-keys';
import { HANDLE_MODES } from '$core/curve/types';
import { canAccumulate, setAccumulates, setModes, setShape } from '$core/edits/keys';
import { keysAfter, mirroredSelection, mirrorValues, reverseKeys } from '$core/edits/retime';
import { MORE_EASINGS, SHAPE_SHEET } from '$lib/bench/shapes';
import { commandsOf, PASTES, type Command } from '$lib/ui/command';
import { toBench, type CommandTargets } from './targets';
import {
	copyPicked,
	deleteChannels,
	invertPicks,
	joinPicked,
	keysInHand,
	keyHere,
	paste,
	pasteReversed,
	pickAll,
	pickKeysOf,
	removePicked,
	spansInHand,
} from '$lib/acts/key-actions';
import { addFormula, canCompute, convertFormula, deleteFormula } from '$lib/acts/formula-acts';
import { addCue } from '$lib/acts/new-clips';
import type { Session } from '$lib/session/session.svelte';
import type { BenchField } from '$lib/session/fields';

/** Makes commands on the selected keys. */
function onPicked(session: Session) {
	const command = commandsOf('Keys');
	return (id: string, label: string, keys: string | string[], run: () => void) =>
		command(id, label, keys, run, () => session.selection.keys.size > 0);
}

/** Setting keys, and taking them away. */
function settingKeys(session: Session): Command[] {
	const command = commandsOf('Keys');
	const lane = () => session.selection.channels.length > 0;
	const onKeys = onPicked(session);
	return [
		command('auto-key', 'Auto-key on or off', 'a', () => (session.isAutoKey = !session.isAutoKey)),
		command('key', 'Key the selected lanes, or the selected part', 'k', () => keyHere(session, 'in hand')),
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
		onKeys('duplicate', 'Duplicate keys at the playhead', 'd', () => duplicateHere(session)),
		onKeys('delete', 'Delete selected keys', ['Delete', 'Backspace'], () => removePicked(session)),
		onKeys('join', 'Join spans: delete the selected keys that carry no motion', 'j', () =>
			joinPicked(session),
		),
	];
}

/** Picking keys. */
function pickingKeys(session: Session): Command[] {
	const { transport } = session;
	const command = commandsOf('Keys');
	const lane = () => session.selection.channels.length > 0;
	return [
		command('all', 'Select all keys of the channel, or of all', '$mod+a', () => pickAll(session)),
		command(
			'property-pick',
			'Select all keys of the property: x, y and z',
			'Shift+A',
			() => {
				const { channels } = session.selection;
				pickKeysOf(session, ({ part, property }) =>
					channels.some((own) => part === own.part && property === own.property),
				);
			},
			lane,
		),
		command('after', 'Select all keys after the playhead', '$mod+Shift+A', () => {
			if (session.clip)
				session.selection.pickKeys(keysAfter(session.doc, session.clip.id, Math.round(transport.local)));
		}),
		command('off-frames', 'Select keys between frames', '', () => {
			if (session.clip) session.selection.pickKeys(keysOffFrames(session.doc, session.clip.id));
		}),
		command('invert', 'Invert the selection', 'i', () => invertPicks(session)),
	];
}

/** Copying, and turning what is picked about. */
function copyingKeys(session: Session): Command[] {
	const command = commandsOf('Keys');
	const onKeys = onPicked(session);
	return [
		onKeys('copy', 'Copy selected keys', '$mod+c', () => copyPicked(session)),
		onKeys('cut', 'Cut selected keys', '$mod+x', () => {
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
		command(
			'reverse',
			'Reverse the selected stretch, or the picked channels',
			'r',
			() => {
				const keys = keysInHand(session);
				const isWhole = session.selection.count === 0;
				session.edit('Reverse keys', (doc) => ({
					doc: reverseKeys(doc, keys),
					...(isWhole ? {} : { keys: mirroredSelection(keys) }),
				}));
			},
			() => keysInHand(session).size > 0,
		),
		onKeys('mirror', 'Mirror selected values', 'm', () => {
			const { keys } = session.selection;
			session.edit('Mirror values', (doc) => mirrorValues(doc, keys));
		}),
	];
}

/** Time that is put in or taken out, and keys that move. */
function timingKeys(session: Session): Command[] {
	const command = commandsOf('Keys');
	const onKeys = onPicked(session);
	const here = () => session.clip !== null;
	const time = (change: Session['asks']['timeChange']) => {
		session.asks.timeChange = change;
		session.asks.sheet = 'time';
	};
	return [
		command('hold-pose', 'Hold the pose here …', 'h', () => time('hold'), here),
		command('gap', 'Insert time at the playhead …', 'g', () => time('insert'), here),
		command('close-gap', 'Remove time before the playhead …', 'Shift+G', () => time('remove'), here),
		onKeys('nudge-back', 'Selected keys a frame back', ',', () => nudge(session, -1)),
		onKeys('nudge-on', 'Selected keys a frame on', '.', () => nudge(session, 1)),
		onKeys('nudge-ten-back', 'Selected keys ten frames back', 'Shift+Comma', () => nudge(session, -10)),
		onKeys('nudge-ten-on', 'Selected keys ten frames on', 'Shift+Period', () => nudge(session, 10)),
		onKeys('to-frames', 'Move selected keys to whole frames', '', () =>
			putOnFrames(session, session.selection.keys),
		),
		onKeys('nudge-by', 'Move selected keys by an amount', 'n', () => (session.asks.sheet = 'nudge')),
	];
}

/** What is typed or scrubbed on the bench. */
function keysOnBench(session: Session): Command[] {
	const command = commandsOf('Keys');
	const lane = () => session.selection.channels.length > 0;
	const several = () => session.selection.count > 1;
	const severalParts = () => session.selection.parts.size > 1;
	const cleans = () => canClean(session.doc, session.selection.keys);
	const loops = () => several() && session.clip?.loop.mode === 'repeat';
	/** What is typed or scrubbed on the bench, and its field there. */
	const onBench = (id: string, label: string, field: BenchField, can: () => boolean) =>
		command(id, label, '', toBench(session, field), can);
	return [
		onBench('stretch', 'Stretch the selected keys in time', 'keys-times', several),
		onBench('scale', 'Scale the selected values', 'keys-values', several),
		onBench('offset', 'Offset selected values and all later', 'keys-offset', several),
		onBench('stagger', 'Stagger: keys of each selected part later', 'keys-stagger', severalParts),
		onBench('round', 'Shift around the loop: a phase for the selected channels', 'keys-round', loops),
		onBench('reduce', 'Reduce keys within a tolerance', 'keys-reduce', several),
		command('spikes', 'Remove spikes from the selected keys', '', () => takeOutSpikes(session), cleans),
		onBench('smooth', 'Smooth the selected keys, so that they tremble less', 'keys-smooth', cleans),
		onBench('resample', 'Resample keys: one every few frames', 'keys-resample', several),
		onBench('before-keys', 'What the channel does before first key', 'ends-before', lane),
		onBench('after-keys', 'What the channel does after last key', 'ends-after', lane),
	];
}

/** Channels as a whole, cues and motions. */
function channelCommands(session: Session): Command[] {
	const command = commandsOf('Keys');
	const lane = () => session.selection.channels.length > 0;
	return [
		command(
			'accumulate',
			'Accumulate from iteration to iteration, or not',
			'',
			() => {
				const own = session.selection.channels.filter(({ property }) => canAccumulate(property));
				const all = own.every(({ accumulates }) => accumulates);
				session.edit('Change accumulate', (doc) =>
					setAccumulates(
						doc,
						own.map(({ id }) => id),
						!all,
					),
				);
			},
			() => session.selection.channels.some(({ property }) => canAccumulate(property)),
		),
		command(
			'channel-delete',
			'Delete the picked channels',
			'',
			() => deleteChannels(session, session.selection.channels),
			lane,
		),
		command(
			'formula',
			'Formula: compute the selected channel',
			'',
			() => addFormula(session, session.selection.channel!),
			() => session.selection.channel !== null && canCompute(session.selection.channel),
		),
		command(
			'formula-keys',
			'Convert the formula to keys',
			'',
			() => convertFormula(session, session.selection.formula!),
			() => session.selection.formula !== null,
		),
		command(
			'formula-delete',
			'Delete the formula: keys below it count again',
			'',
			() => deleteFormula(session, session.selection.formula!),
			() => session.selection.formula !== null,
		),
		command('cue', 'Add a cue at the playhead', 'q', () => addCue(session)),
		command('tween', 'Tween …: motions as numbers', 't', () => (session.asks.sheet = 'tween')),
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
	const shapes = [...SHAPE_SHEET, ...MORE_EASINGS].map(({ name, shape, shortcut }) =>
		command(
			`shape-${name.toLowerCase()}`,
			`Easing: ${name}`,
			shortcut ?? '',
			() => {
				const picked = spans();
				session.edit(`Easing ${name}`, (doc) => setShape(doc, picked, shape));
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
