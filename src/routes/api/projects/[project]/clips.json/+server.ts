import type { RequestEvent } from '@sveltejs/kit';
import { ApiError, answer } from '$lib/server/problem';
import { runDraft } from '$lib/server/exports/pool';
import { chosenClips } from '$lib/server/exports/request';
import { getStore } from '$lib/server/store';

/** The clip file of a project as it is now, for a game that runs beside the work. */
export function GET({ params, request, url }: RequestEvent<{ project: string }>): Promise<Response> {
	return answer(async () => {
		const { doc, revision } = getStore().load(params.project);
		const clips = chosenClips(doc, url.searchParams.getAll('clip'));
		const relative = Number(url.searchParams.get('bound') ?? 0.001);
		if (!(relative > 0 && relative <= 1))
			throw new ApiError('bad-request', 'A bound must be a number above 0 and at most 1.', '/bound');
		const headers = { etag: `"${revision}"`, 'cache-control': 'no-cache' };
		if (request.headers.get('if-none-match') === headers.etag)
			return new Response(null, { status: 304, headers });
		const bytes = await runDraft({ doc, clips, bounds: { relative } });
		return new Response(new Uint8Array(bytes), {
			headers: { ...headers, 'content-type': 'application/json' },
		});
	});
}
