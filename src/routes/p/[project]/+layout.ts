import { error } from '@sveltejs/kit';
import { api } from '$lib/session/api';

export const ssr = false;

export async function load({ params, fetch }) {
	const answer = await api.load(params.project, fetch);
	if (!answer.ok) {
		const { status, detail, title } = answer.problem;
		error(status === 0 ? 503 : status, detail || title);
	}
	return { loaded: answer.value };
}
