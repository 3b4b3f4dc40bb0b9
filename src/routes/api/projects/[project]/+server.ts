import { json } from '@sveltejs/kit';
import type { Changeset } from '$core/document/changeset';
import { answer } from '$lib/server/problem';
import { baseRevision, bodyJson, EDIT_LIMIT, textMember } from '$lib/server/request';
import { getStore } from '$lib/server/store';

export function GET({ params }): Promise<Response> {
	return answer(() => {
		const loaded = getStore().load(params.project);
		return json(loaded, { headers: { etag: `"${loaded.revision}"`, 'cache-control': 'no-store' } });
	});
}

export function PATCH({ params, request }): Promise<Response> {
	return answer(async () => {
		const base = baseRevision(request);
		const body = await bodyJson(request, EDIT_LIMIT);
		const editId = textMember(body, 'editId', 64);
		const label = textMember(body, 'label', 200);
		const { changeset } = body as { changeset: Changeset };
		return json(getStore().edit(params.project, base, editId, label, changeset));
	});
}

export function DELETE({ params }): Promise<Response> {
	return answer(() => {
		getStore().remove(params.project);
		return new Response(null, { status: 204 });
	});
}
