import { shortName } from '$core/text';
import { json } from '@sveltejs/kit';
import { mediaOf } from '$lib/server/media';
import { answer } from '$lib/server/problem';
import { ASSET_LIMIT, bodyBytes } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Takes in a picture, a film or a sound, to be referred to by its id. */
export function POST({ params, request, url }): Promise<Response> {
	return answer(async () => {
		const name = shortName(url.searchParams.get('name'), 120, 'picture');
		const media = await mediaOf(name, await bodyBytes(request, ASSET_LIMIT));
		return json(getStore().addAsset(params.project, media), { status: 201 });
	});
}
