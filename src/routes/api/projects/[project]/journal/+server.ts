import { json } from '@sveltejs/kit';
import { answer, ApiError } from '$lib/server/problem';
import { getStore } from '$lib/server/store';

/** Edits on a page of the list. */
const ROWS = 200;

export function GET({ params, url }): Promise<Response> {
	return answer(() => {
		if (url.searchParams.get('named') === 'true')
			return json({ rows: getStore().namedVersions(params.project) });
		const upTo = url.searchParams.get('upTo');
		if (upTo !== null && !/^\d{1,12}$/.test(upTo))
			throw new ApiError('bad-request', '"upTo" must be a revision.');
		return json({ rows: getStore().history(params.project, ROWS, upTo === null ? undefined : Number(upTo)) });
	});
}
