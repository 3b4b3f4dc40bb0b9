/** Everything that can be done in Rehearse, for its finder and the keys. */
import { nightCommand, roomCommands, type Place } from '$lib/acts/room-commands';
import { commandsOf, type Command } from '$lib/ui/command';
import type { Session } from '$lib/session/session.svelte';
import { inputsOf } from './inputs';
import type { Trial } from './trial.svelte';
import { addLayer, addMix, addTrigger } from './trigger-acts';

export type Card = 'triggers' | 'blends' | 'log' | 'kept';

/** What the room itself does. */
interface RoomActs {
	show: (card: Card) => void;
	toggleLarge: () => void;
	openPhone: () => void;
	goTo: (place: Place) => void;
}

/** What the project's clips, mixes and calls are played by. */
function namedCommands(session: Session, trial: Trial): Command[] {
	const command = commandsOf('Play');
	const played = [...(trial.made?.set.clips.keys() ?? [])].map((name) =>
		command(
			`rehearse-play-${name}`,
			`Play “${name}”`,
			'',
			() => trial.play(name),
			() => trial.recorded === null,
		),
	);
	const called = inputsOf(session.doc).calls.map((name) =>
		command(
			`rehearse-call-${name}`,
			`Call “${name}”`,
			'',
			() => trial.send({ kind: 'call', name }),
			() => trial.made !== null,
		),
	);
	return [...played, ...called];
}

export function rehearseCommands(
	session: Session,
	trial: Trial,
	{ show, toggleLarge, openPhone, goTo }: RoomActs,
): Command[] {
	const command = commandsOf('Play');
	const isThere = () => trial.made !== null;
	return [
		command('rehearse-run', 'Run or pause', '', () => trial.toggle(), isThere),
		command('rehearse-restart', 'Start again', 'Shift+Enter', () => trial.restart(), isThere),
		command('rehearse-step', 'One frame on', 'Period', () => trial.step(session.frameRate), isThere),
		command('rehearse-large', 'Stage large', '8', toggleLarge),
		command('rehearse-phone', 'Try it on a phone', '', openPhone),
		command('rehearse-triggers', 'Triggers, layers and mixes', '', () => show('triggers')),
		command('rehearse-blends', 'Blends between clips', '', () => show('blends')),
		command('rehearse-log', 'Log of cues, triggers and messages', '', () => show('log')),
		command('rehearse-kept', 'Rehearsals: record, replay, check', '', () => show('kept')),
		command(
			'rehearse-record',
			'Record a rehearsal',
			'',
			() => {
				show('kept');
				trial.startRecording();
			},
			isThere,
		),
		command('rehearse-new-trigger', 'New trigger', '', () => {
			show('triggers');
			addTrigger(session);
		}),
		command('rehearse-new-layer', 'New layer', '', () => {
			show('triggers');
			addLayer(session);
		}),
		command(
			'rehearse-new-mix',
			'New mix: clips by a parameter',
			'',
			() => {
				show('triggers');
				addMix(session);
			},
			() => session.project.clips.length > 1,
		),
		...namedCommands(session, trial),
		...roomCommands(session, ['compose', 'ship', 'projects'], goTo),
		nightCommand(),
	];
}
