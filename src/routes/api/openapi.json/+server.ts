import { json } from '@sveltejs/kit';
import { openapi } from '$lib/api/openapi';

export function GET(): Response {
	return json(openapi);
}
