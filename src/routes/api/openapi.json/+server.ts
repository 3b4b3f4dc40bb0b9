import { json } from '@sveltejs/kit';
import { openapi } from '$lib/server/openapi';

export function GET(): Response {
	return json(openapi);
}
