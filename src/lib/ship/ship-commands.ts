/** Everything that can be done in Ship, for its finder and the keys. */
import { tick } from 'svelte';
import { toast } from 'svelte-sonner';
import { inOrder } from '$core/document/types';
import { SHIPPING } from '$core/formats/registry';
import { nightCommand, roomCommands, type Place } from '$lib/acts/room-commands';
import { addresses } from '$lib/api/client';
import { commandsOf, type Command } from '$lib/ui/command';
import type { Session } from '$lib/session/session.svelte';
import { keepProfile } from './profile-acts';
import { stageColours } from '$lib/stage/stage-colours';
import type { ShipState } from './ship-state.svelte';

export function copyCommandLine(ship: ShipState): void {
	copyText(ship.command);
}

export function copyText(text: string): void {
	navigator.clipboard.writeText(text).then(
		() => toast('Copied'),
		() => toast.error('The browser does not let this page copy'),
	);
}

/** Makes the film with the colours of the page as it is now. */
export function makeFilm({ film }: ShipState): Promise<void> {
	const sky = getComputedStyle(document.body).getPropertyValue('--sky').trim();
	return film.make(stageColours(document.body), (ground) => (ground === 'stage' ? sky : ground));
}

const fieldOf = (field: string) => document.querySelector<HTMLElement>(`[data-field="${field}"]`);
/** Once the finder has closed, which gives the focus back first. */
const bringIntoHand = (field: string) => void tick().then(() => fieldOf(field)?.focus());

export function shipCommands(session: Session, ship: ShipState, goTo: (place: Place) => void): Command[] {
	const command = commandsOf('Ship');
	const hasMotion = () => ship.format.ships.hasMotion;
	return [
		command(
			'ship-export',
			'Export the chosen clips',
			'$mod+Enter',
			() => void (ship.isFilm ? makeFilm(ship) : ship.write()),
			() => (ship.isFilm ? ship.film.progress === null : ship.canWrite),
		),
		command(
			'ship-download',
			'Download what was written',
			'',
			() => location.assign(addresses.exported(ship.result!.id)),
			() => ship.result !== null,
		),
		...SHIPPING.map((format) =>
			command(`ship-to-${format.id}`, `Format: ${format.name} (${format.extensions[0]})`, '', () => {
				ship.chooseFormat(format);
			}),
		),
		command('ship-film', 'Film or pictures: GIF, WebM, PNG, contact sheet', '', () => (ship.isFilm = true)),
		...inOrder(session.doc.profiles).map((profile) =>
			command(`ship-profile-${profile.id}`, `Profile: ${profile.name}`, '', () => ship.take(profile)),
		),
		command(
			'ship-keep-profile',
			'Keep these choices as a profile',
			'',
			() => keepProfile(session, ship),
			() => ship.profile === null && ship.chosen.length > 0,
		),
		command('ship-all', 'Choose all clips', '', () => (ship.left = new Set())),
		command(
			'ship-none',
			'Choose no clip',
			'',
			() => (ship.left = new Set(session.project.clips.map(({ id }) => id))),
		),
		command(
			'ship-bound',
			"Error bound: share of each path's range",
			'',
			() => bringIntoHand('ship-bound'),
			hasMotion,
		),
		command(
			'ship-filter',
			'Filter the curves that were written',
			'',
			() => bringIntoHand('ship-filter'),
			() => fieldOf('ship-filter') !== null,
		),
		command('ship-command', 'Copy the command line for a build', '', () => copyCommandLine(ship)),
		...roomCommands(session, ['compose', 'rehearse', 'projects'], goTo),
		nightCommand(),
	];
}
