import { json } from '@sveltejs/kit';
import { answer } from '$lib/server/problem';
import { getStore } from '$lib/server/store';

const ROWS = 200;

export function GET({ params }): Promise<Response> {
	return answer(() => json({ rows: getStore().history(params.project, ROWS) }));
}
