/** Everything that can be done from the keyboard, in one list: the keys, the menus and the help read it. */
import { HANDLE_MODES } from '$core/curve/types';
import { duplicateKeys, setModes, setShape } from '$core/document/edits/keys';
import { holdPose, keysAfter, mirrorValues, openGap, reverseKeys } from '$core/document/edits/retime';
import { SHAPE_SHEET } from '$lib/bench/shapes';
import { theme } from '$lib/ui/theme.svelte';
import { PASTES, type Command, type CommandTargets } from './command';
import {
	changeTime,
	copyPicked,
	fitPicked,
	goToKey,
	invertPicks,
	joinPicked,
	keyHere,
	layOver,
	mirroredTimes,
	nudge,
	paste,
	pickAll,
	removePicked,
	spansInHand,
	toggleRange,
} from './key-actions';
import { addCue } from './new-things';
import { partCommands } from './part-commands';

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
			id: 'range',
			group: 'Play',
			label: 'Play the stretch of the picked keys only, or the whole clip again',
			keys: ['Shift+R'],
			shown: 'Shift+R',
			run: () => toggleRange(targets),
		},
		{
			id: 'range-start',
			group: 'Play',
			label: 'The range that plays starts here',
			keys: ['Shift+Home'],
			shown: 'Shift+Home',
			run: () => transport.setRange(transport.local, transport.range?.to ?? session.clip?.length ?? 0),
		},
		{
			id: 'range-end',
			group: 'Play',
			label: 'The range that plays ends here',
			keys: ['Shift+End'],
			shown: 'Shift+End',
			run: () => transport.setRange(transport.range?.from ?? 0, transport.local),
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
			id: 'join',
			group: 'Keys',
			label: 'Join spans: delete the picked keys that carry no motion',
			keys: ['j'],
			shown: 'J',
			run: () => joinPicked(targets),
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
			keys: [PASTES],
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
		...partCommands(targets),
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
			id: 'lay-over',
			group: 'View',
			label: 'Lay the picked lanes over one another, or apart',
			keys: ['o'],
			shown: 'O',
			run: () => layOver(targets),
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
			id: 'versions',
			group: 'View',
			label: 'Earlier versions to pin',
			keys: ['v'],
			shown: 'V',
			run: targets.openVersions,
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
