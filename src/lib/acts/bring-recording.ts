/** A recording from a file, to be laid on parts of the open project. */
import { toast } from 'svelte-sonner';
import { inOrder } from '$core/document/types';
import { api } from '$lib/api/client';
import type { Session } from '$lib/session/session.svelte';
import { layWorkOf } from './lay-work.svelte';
import { samplesOf } from './takes';

/** Files that are recordings by their names, where a file is dropped. */
export const isRecordingFile = (file: File): boolean => /\.(bvh|csv|tsv|json)$/i.test(file.name);

/** Reads a file, and brings what it says into hand to be laid; a file of several clips offers them. */
export async function bringRecording(session: Session, file: File): Promise<void> {
	const done = toast.loading(`Reading ${file.name} …`);
	try {
		const answer = await api.addRecording(session.project.id, file);
		if (!answer.ok) {
			toast.error(answer.problem.title, { description: answer.problem.detail });
			return;
		}
		const { doc, leftOut } = answer.value;
		const takes = inOrder(doc.takes);
		if (takes.length === 0) {
			toast.error('Nothing in this file is a number that changes');
			return;
		}
		const told = await Promise.all(
			takes.map(async (take) => ({
				take,
				samples: (await samplesOf(session.project.id, take.asset)).samples,
			})),
		);
		layWorkOf(session).bring(doc, told, leftOut);
		session.asks.field = 'take-lay';
	} catch (error) {
		toast.error('The file could not be read', {
			description: error instanceof Error ? error.message : String(error),
		});
	} finally {
		toast.dismiss(done);
	}
}

/** The same with a recording that comes with the application. */
export async function bringSample(session: Session, name: string, url: string): Promise<void> {
	const response = await fetch(url).catch(() => null);
	if (response?.ok) await bringRecording(session, new File([await response.blob()], name));
	else toast.error(`${name} cannot be fetched: the server does not answer`);
}
