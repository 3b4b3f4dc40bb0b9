import { json } from '@sveltejs/kit';
import { answer } from '$lib/server/problem';
import { getStore } from '$lib/server/store';

/** Days of work: the list shows what is in sight. */
const ROWS = 20_000;

export function GET({ params }): Promise<Response> {
	return answer(() => json({ rows: getStore().history(params.project, ROWS) }));
}
