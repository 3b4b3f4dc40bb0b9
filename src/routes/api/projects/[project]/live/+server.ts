import type { RequestEvent } from '@sveltejs/kit';
import { ApiError, answer } from '$lib/server/problem';
import { liveStream } from '$lib/server/live';
import { getStore } from '$lib/server/store';

export function GET({ params, request, url }: RequestEvent<{ project: string }>): Promise<Response> {
	return answer(() => {
		// A browser that lost the line says itself where it was.
		const since = request.headers.get('last-event-id') ?? url.searchParams.get('since') ?? '';
		if (!/^\d{1,12}$/.test(since))
			throw new ApiError('bad-request', 'Say with ?since= after which revision.', '/since');
		const store = getStore();
		store.changes(params.project, Number(since));
		return liveStream(store, params.project, Number(since));
	});
}
