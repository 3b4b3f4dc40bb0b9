/** Edits of profiles. */
import type { Profile } from '../document/profiles';
import type { Doc } from '../document/types';
import { without } from './without';

export function putProfile(doc: Doc, profile: Profile): Doc {
	return { ...doc, profiles: { ...doc.profiles, [profile.id]: profile } };
}

export function removeProfile(doc: Doc, id: string): Doc {
	return { ...doc, profiles: without(doc.profiles, (own) => own.id === id) };
}

/** Profiles without a clip; those that had no other are gone with it. */
export function withoutClipProfiles(doc: Doc, clip: string): Pick<Doc, 'profiles'> {
	const kept = Object.values(doc.profiles)
		.map((own): Profile =>
			own.clips?.includes(clip) ? { ...own, clips: own.clips.filter((id) => id !== clip) } : own,
		)
		.filter(({ clips }) => clips === null || clips.length > 0);
	return { profiles: Object.fromEntries(kept.map((own) => [own.id, own])) };
}
