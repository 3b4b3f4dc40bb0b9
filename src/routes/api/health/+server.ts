import { json } from '@sveltejs/kit';
import { getStore } from '$lib/server/store';

export function GET(): Response {
	getStore();
	return json({ status: 'ok' });
}
