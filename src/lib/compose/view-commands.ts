/** How lanes and stage show things, and what concerns the whole window. */
import { RULER_UNITS } from '$lib/lanes/lane-view.svelte';
import { NO_FILTER } from '$lib/lanes/row-filter';
import { ARRANGEMENTS, type ArrangementName } from '$lib/session/arrangement.svelte';
import { AXES_OF } from '$lib/session/stage-look.svelte';
import { kindOf } from '$core/document/types';
import { toast } from 'svelte-sonner';
import { hasSpeed } from '$lib/session/lane-speed';
import { commandsOf, type Command } from '$lib/ui/command';
import { type CommandTargets } from './targets';
import { stretchOf } from '$lib/acts/key-actions';
import { nightCommand, roomCommands } from '$lib/acts/room-commands';

/** Selected channels that have a speed. */
const speedLanes = ({ session }: CommandTargets) => session.selection.channels.filter(hasSpeed);

export function viewCommands(targets: CommandTargets): Command[] {
	const { session, view } = targets;
	const command = commandsOf('View');
	return [
		command(
			'height',
			'Height of the selected lane: thin, normal, tall',
			'l',
			() => {
				if (session.selection.channelId) view.cycleHeight(session.selection.channelId);
				view.remember();
			},
			() => session.selection.channelId !== null,
		),
		command(
			'speed',
			'Show the speed of the selected lanes, or hide it',
			'Shift+L',
			() => session.view.toggleSpeeds(speedLanes(targets).map(({ id }) => id)),
			() => speedLanes(targets).length > 0,
		),
		command('lay-over', 'Overlay the selected lanes, or separate them', 'o', () => layOver(targets)),
		command('fit', 'Fit selected keys', 'x', () => fitPicked(targets)),
		command('fit-clip', 'Fit the clip', 'Shift+X', () => {
			if (session.clip) view.fit(0, session.clip.length);
			view.remember();
		}),
		command('unit', 'Ruler in frames, seconds or milliseconds', '', () => {
			view.unit = RULER_UNITS[(RULER_UNITS.indexOf(view.unit) + 1) % RULER_UNITS.length];
			view.remember();
		}),
		command('still', 'Show still parts, or moving ones only', '', () => {
			view.showStill = !view.showStill;
			view.remember();
		}),
		command('lane-kinds', 'Filter lanes by kind …', '', () => (session.asks.popover = 'lane-kinds')),
		command('snap', 'Snap to keys, cues, playhead and grid …', '', () => (session.asks.popover = 'snap')),
		command('unfilter', 'Show all lanes', '', () => (view.filter = NO_FILTER)),
		command(
			'seam',
			'Seam of the loop: its last and first part side by side',
			'',
			() => {
				view.showSeam = !view.showSeam;
				view.remember();
			},
			() => session.clip !== null && session.clip.loop.mode !== 'once',
		),
		...layoutCommands(targets),
		...stageCommands(targets),
		...versionCommands(targets),
		command('bench', 'Focus the bench', 'b', () => document.getElementById('bench')?.focus()),
		command('guide', 'A first clip, in six steps', '', () => (session.asks.guide = true)),
		nightCommand(),
	];
}

function versionCommands({ session }: CommandTargets): Command[] {
	const command = commandsOf('View');
	return [
		command('versions', 'Versions: pin, name, restore', 'v', () => (session.asks.sheet = 'versions')),
		command('pin', 'Pin the clip as it is, or unpin it', 'p', () => session.togglePin()),
		command(
			'swap',
			'Swap with the pinned version',
			'Shift+P',
			() => session.swapPinned(),
			() => session.pinnedClip !== null,
		),
	];
}

const ARRANGEMENT_WORDS: Record<ArrangementName, string> = {
	balanced: 'Layout: balanced',
	stage: 'Layout: stage large',
	lanes: 'Layout: lanes large',
};

function layoutCommands({ session }: CommandTargets): Command[] {
	const command = commandsOf('View');
	return ARRANGEMENTS.map((name, i) =>
		command(`layout-${name}`, ARRANGEMENT_WORDS[name], `${i + 7}`, () =>
			session.view.arrangement.choose(name),
		),
	);
}

function stageCommands({ session }: CommandTargets): Command[] {
	const { look } = session.view;
	const command = commandsOf('View');
	const part = () => session.selection.part !== null;
	return [
		command('path', 'Motion path of the selected part on or off', 'y', () => (look.path = !look.path)),
		command('ghosts', 'Ghosts of the selected part on or off', 'u', () => (look.ghosts = !look.ghosts)),
		command(
			'rest-outline',
			'Rest pose of the selected part as an outline',
			'',
			() => (look.rest = !look.rest),
		),
		command('stage-all', 'Fit all on the stage', 'z', () => look.frame(null)),
		command('stage-part', 'Fit selection', 'Shift+Z', () => look.frame(session.selection.partId), part),
		command('stage-axes', 'Handles along the axes of parent, part or world', '', () => {
			look.axes = AXES_OF[(AXES_OF.indexOf(look.axes) + 1) % AXES_OF.length];
		}),
		...(session.doc.project.space === 'world'
			? (['perspective', 'front', 'side', 'top', 'camera'] as const).map((name) =>
					command(
						`stage-${name}`,
						name === 'camera' ? 'Stage through the camera' : `Stage: ${name} view`,
						'',
						() => (look.view = name),
						() =>
							name !== 'camera' ||
							Object.values(session.doc.parts).some(({ drawing }) => drawing.kind === 'camera'),
					),
				)
			: []),
	];
}

export function editCommands({ session, goTo }: CommandTargets): Command[] {
	const command = commandsOf('Edit');
	return [
		...roomCommands(session, ['rehearse', 'ship', 'projects'], goTo),
		command('escape', 'Select nothing', 'Escape', () => session.selection.clear()),
		command('help', 'Show all shortcuts', ['Shift+?', '?'], () => (session.asks.sheet = 'help')),
	];
}

/** Lanes with selected keys on one axis; where they are so already, each for itself again. */
function layOver({ session, view }: CommandTargets): void {
	const ids = [...session.selection.keys.keys()].filter(
		(id) => session.doc.channels[id] && kindOf(session.doc.channels[id].property) === 'number',
	);
	const same = ids.length === view.together.length && ids.every((id) => view.together.includes(id));
	if (ids.length >= 2 && !same) view.together = ids;
	else if (view.together.length > 0) view.together = [];
	else toast('Select keys on two lanes or more first', { description: 'Shift adds keys to those selected.' });
}

function fitPicked({ session, view }: CommandTargets): void {
	const stretch = stretchOf(session);
	if (stretch) view.fit(stretch.from, stretch.to);
	else if (session.clip) view.fit(0, session.clip.length);
	view.remember();
}
