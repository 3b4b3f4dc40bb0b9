/** Files that a clip goes by: a picture or a film behind the stage, a sound under the ruler. */
import { shortName } from '$core/text';
import { updateClip } from '$core/edits/clips';
import type { Reference, Sound } from '$core/document/types';
import { toast } from 'svelte-sonner';
import { api } from '$lib/api/client';
import type { Session } from '$lib/session/session.svelte';

/** Keeps a file with the project and puts it into the open clip, in the place of another of its kind. */
export async function takeReference(session: Session, file: File): Promise<void> {
	const id = session.clipId;
	if (id === null) return;
	const answer = await api.addAsset(session.project.id, file);
	if (!answer.ok) {
		toast.error(answer.problem.title, { description: answer.problem.detail });
		return;
	}
	const { id: asset, mediaType } = answer.value;
	const isWorld = session.doc.project.space === 'world';
	const name = shortName(file.name, 120, 'reference');
	const sound: Sound = { asset, name: name || 'sound', begins: 0, gain: 1 };
	const reference: Reference = {
		kind: mediaType.startsWith('video/') ? 'film' : 'picture',
		asset,
		name: name || 'reference',
		x: 0,
		y: isWorld ? 2 : 0,
		width: isWorld ? 8 : 800,
		opacity: 0.6,
		begins: 0,
		rate: 1,
	};
	const isSound = mediaType.startsWith('audio/');
	session.edit(isSound ? 'Put in a sound' : 'Put in a reference', (doc) =>
		doc.clips[id] ? updateClip(doc, id, isSound ? { sound } : { reference }) : doc,
	);
}
