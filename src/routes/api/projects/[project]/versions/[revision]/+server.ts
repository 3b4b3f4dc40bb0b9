import { json } from '@sveltejs/kit';
import { answer } from '$lib/server/problem';
import { getStore } from '$lib/server/store';

export function GET({ params }): Promise<Response> {
	return answer(() => json(getStore().version(params.project, Number(params.revision))));
}
