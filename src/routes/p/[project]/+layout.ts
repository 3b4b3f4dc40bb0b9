import { error } from '@sveltejs/kit';
import { api } from '$lib/api/client';
import { serverOf } from '$lib/session/saver.svelte';
import { adoptUnsent } from '$lib/session/unsent';

export const ssr = false;

export async function load({ params, fetch }) {
	// What an earlier visit could not send comes first, so that it is in what is loaded.
	const conflicts = await adoptUnsent(params.project, serverOf(params.project));
	const answer = await api.load(params.project, fetch);
	if (!answer.ok) {
		const { status, detail, title } = answer.problem;
		error(status === 0 ? 503 : status, detail || title);
	}
	return { loaded: answer.value, conflicts };
}
