import { json } from '@sveltejs/kit';
import { VERSION_NAME } from '$lib/api/openapi';
import { answer } from '$lib/server/problem';
import { bodyJson, REQUEST_LIMIT, textMember } from '$lib/server/request';
import { getStore } from '$lib/server/store';

export function GET({ params }): Promise<Response> {
	return answer(() => json(getStore().version(params.project, Number(params.revision))));
}

export function PATCH({ params, request }): Promise<Response> {
	return answer(async () => {
		const body = await bodyJson(request, REQUEST_LIMIT);
		const isOff = (body as { name?: unknown } | null)?.name === null;
		const name = isOff ? null : textMember(body, 'name', VERSION_NAME).trim();
		getStore().nameVersion(params.project, Number(params.revision), name);
		return new Response(null, { status: 204 });
	});
}
