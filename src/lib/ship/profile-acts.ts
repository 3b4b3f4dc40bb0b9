/** Profiles made, changed and removed by hand. */
import type { Profile } from '$core/document/profiles';
import { inOrder } from '$core/document/types';
import { putProfile, removeProfile } from '$core/edits/profiles';
import { changeIn } from '$core/edits/triggers';
import { generateKeyBetween } from 'fractional-indexing';
import { freeName } from '$lib/acts/naming';
import { newId } from '$lib/session/ids';
import type { Session } from '$lib/session/session.svelte';
import type { ShipState } from './ship-state.svelte';

/** Keeps what is chosen now under a name of its format. */
export function keepProfile(session: Session, ship: ShipState): void {
	const all = inOrder(session.doc.profiles);
	const profile: Profile = {
		type: 'profile',
		id: newId(),
		order: generateKeyBetween(all.at(-1)?.order ?? null, null),
		name: freeName(
			ship.format.name,
			all.map((own) => own.name),
		),
		...ship.choices,
	};
	session.edit('Keep profile', (doc) => putProfile(doc, profile));
}

export function changeProfile(session: Session, profile: Profile, changed: Partial<Profile>): void {
	session.edit('Change profile', (doc) => changeIn(doc, { ...profile, ...changed }, putProfile));
}

export function renameProfile(session: Session, profile: Profile, text: string): void {
	const others = inOrder(session.doc.profiles).filter(({ id }) => id !== profile.id);
	// Builds find profiles by their names: no two have one.
	const name = freeName(
		text.trim(),
		others.map((own) => own.name),
	);
	if (text.trim() !== '' && name !== profile.name) changeProfile(session, profile, { name });
}

export function deleteProfile(session: Session, id: string): void {
	session.edit('Delete profile', (doc) => removeProfile(doc, id));
}
