/** Playing and going through time. */
import { toast } from 'svelte-sonner';
import { commandsOf, type Command } from '$lib/ui/command';
import { type CommandTargets } from './targets';
import { focusField } from '$lib/session/fields';
import { hasSpeed } from '$lib/session/lane-speed';
import { recorderOf } from '$lib/acts/recorder.svelte';
import { goToFastest, goToKey, toggleRange } from '$lib/acts/key-actions';

/** Preview speeds that a command changes between, in percent. */
const SPEEDS = [10, 25, 50, 100, 200, 400];

export function playCommands(targets: CommandTargets): Command[] {
	const { session } = targets;
	const { transport } = session;
	const command = commandsOf('Play');
	const step = (frames: number) => () => transport.stepFrames(frames, session.frameRate);
	const goTo = (t: () => number) => () => {
		transport.stop();
		transport.seek(t());
	};
	const length = () => session.clip?.length ?? 0;
	return [
		command('play', 'Play or pause', 'Space', () => session.togglePlaying()),
		command('pause-frames', 'Pause on whole frames, or at the exact time', '', () => {
			transport.restsOnFrames = !transport.restsOnFrames;
			toast(transport.restsOnFrames ? 'Pausing stops on whole frames' : 'Pausing stops at the exact time');
		}),
		command(
			'play-across',
			'Play across into the next clip',
			'',
			() => {
				const blend = Object.values(session.doc.blends).find(({ from }) => from === session.clipId);
				if (blend) session.playAcross(blend);
			},
			() => Object.values(session.doc.blends).some(({ from }) => from === session.clipId),
		),
		command('play-start', 'Play from the start', 'Enter', () => session.togglePlaying(true)),
		...recordCommands(targets),
		command('frame-back', 'A frame back', 'ArrowLeft', step(-1)),
		command('frame-on', 'A frame on', 'ArrowRight', step(1)),
		command('ten-back', 'Ten frames back', 'Shift+ArrowLeft', step(-10)),
		command('ten-on', 'Ten frames on', 'Shift+ArrowRight', step(10)),
		command(
			'start',
			'To the start',
			'Home',
			goTo(() => 0),
		),
		command('end', 'To the end', 'End', goTo(length)),
		command('go-to-frame', 'To a typed frame', 'f', () => focusField('playhead')),
		command(
			'fastest',
			'To the fastest frame of the selected lane',
			'Shift+F',
			() => goToFastest(session),
			() => session.selection.channel !== null && hasSpeed(session.selection.channel),
		),
		command('key-before', 'To the key before', '[', () => goToKey(session, -1)),
		command('key-after', 'To the key after', ']', () => goToKey(session, 1)),
		...previewCommands(targets),
	];
}

/** Acting a motion, and bringing one in. */
function recordCommands({ session }: CommandTargets): Command[] {
	const command = commandsOf('Play');
	return [
		command('record', 'Record: act a motion live, or stop and keep it', 'c', () =>
			recorderOf(session).toggle(),
		),
		command('record-settings', 'Recording: device, speed, count-in, takes', '', () => {
			session.asks.field = 'record-device';
		}),
		command('record-bring', 'Bring in a recording: BVH, CSV, glTF, JSON, laid on parts', '', () => {
			session.asks.field = 'recording-file';
		}),
		command('record-latency', 'Latency of recording: what is taken off, measured by tapping', '', () => {
			session.asks.field = 'record-latency';
		}),
	];
}

/** What part of the clip plays, and how fast. */
function previewCommands({ session }: CommandTargets): Command[] {
	const { transport } = session;
	const command = commandsOf('Play');
	const length = () => session.clip?.length ?? 0;
	const now = () => Math.round(transport.speed * 100);
	return [
		command('range', 'Play the stretch of the selected keys only, or the whole clip again', 'Shift+R', () =>
			toggleRange(session),
		),
		command('range-start', 'The range that plays starts here', 'Shift+Home', () =>
			transport.setRange(transport.local, transport.range?.to ?? length()),
		),
		command('range-end', 'The range that plays ends here', 'Shift+End', () =>
			transport.setRange(transport.range?.from ?? 0, transport.local),
		),
		command(
			'slower',
			'Preview slower; the clip stays as it is',
			'Alt+Comma',
			() => (transport.speed = (SPEEDS.findLast((speed) => speed < now()) ?? SPEEDS[0]) / 100),
			() => now() > SPEEDS[0],
		),
		command(
			'faster',
			'Preview faster; the clip stays as it is',
			'Alt+Period',
			() => (transport.speed = (SPEEDS.find((speed) => speed > now()) ?? SPEEDS.at(-1)!) / 100),
			() => now() < SPEEDS.at(-1)!,
		),
		command(
			'full-speed',
			'Preview as fast as the clip is',
			'',
			() => (transport.speed = 1),
			() => transport.speed !== 1,
		),
	];
}
