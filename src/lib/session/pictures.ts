/** Pictures from files: kept by the server, shown by a part. */
import { toast } from 'svelte-sonner';
import { api } from './api';
import { addImagePart } from './new-things';
import type { Session } from './session.svelte';

/** Width over height of a picture; 1 where it cannot be told. */
async function ratioOf(file: File): Promise<number> {
	const url = URL.createObjectURL(file);
	try {
		const image = new Image();
		image.src = url;
		await image.decode();
		return image.naturalWidth / image.naturalHeight || 1;
	} catch {
		return 1;
	} finally {
		URL.revokeObjectURL(url);
	}
}

/** Makes a part of a picture file. */
export async function takePicture(session: Session, file: File): Promise<void> {
	const [answer, ratio] = await Promise.all([api.addAsset(session.projectId, file), ratioOf(file)]);
	if (!answer.ok) toast.error(answer.problem.title, { description: answer.problem.detail });
	else if (!answer.value.mediaType.startsWith('image/'))
		toast.error('This is a film', { description: 'Films go behind the stage: see the clip card.' });
	else
		addImagePart(session, answer.value.id, file.name.replace(/\.\w+$/, '').slice(0, 100) || 'picture', ratio);
}
