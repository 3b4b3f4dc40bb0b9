import { answer } from '$lib/server/problem';
import { getStore } from '$lib/server/store';

/** Brings a deleted project back. */
export function POST({ params }): Promise<Response> {
	return answer(() => {
		getStore().restore(params.project);
		return new Response(null, { status: 204 });
	});
}
