/** What can be done in every room. */
import type { Session } from '$lib/session/session.svelte';
import { commandsOf, type Command } from '$lib/ui/command';
import { theme } from '$lib/ui/theme.svelte';

export type Place = 'compose' | 'rehearse' | 'ship' | 'projects';
const WORDS: Readonly<Record<Place, string>> = {
	compose: 'Compose: go back to the lanes',
	rehearse: 'Rehearse: try clips with triggers and blends',
	ship: 'Export: go to Ship',
	projects: 'All projects',
};

/** Undo, redo, the guide, and the ways to other places. */
export function roomCommands(
	session: Session,
	places: readonly Place[],
	goTo: (place: Place) => void,
): Command[] {
	const { saver } = session;
	const command = commandsOf('Edit');
	const { asks } = session;
	return [
		command(
			'undo',
			'Undo',
			'$mod+z',
			() => void session.project.undo(),
			() => saver.undo !== null,
		),
		command(
			'redo',
			'Redo',
			['$mod+Shift+Z', '$mod+y'],
			() => void session.project.redo(),
			() => saver.redo !== null,
		),
		...places.map((place) => command(place, WORDS[place], '', () => goTo(place))),
		command('find', 'Find a command, a clip or a part', '$mod+k', () => (asks.sheet = 'finder')),
		command('guide-pages', 'Guide: how it is done, page by page', 'F1', () => asks.toggleGuide()),
	];
}

export const nightCommand = (): Command =>
	commandsOf('View')('night', 'Light or night', '', () => theme.toggle());
