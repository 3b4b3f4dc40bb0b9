import { json, type RequestHandler } from '@sveltejs/kit';
import { answer } from './problem';
import { baseRevision, bodyJson, REQUEST_LIMIT, textMember } from './request';
import { getStore } from './store';

/** The handler of undo and redo. */
export function retrace(kind: 'undo' | 'redo'): RequestHandler<{ project: string }> {
	return ({ params, request }) =>
		answer(async () => {
			const base = baseRevision(request);
			const body = await bodyJson(request, REQUEST_LIMIT);
			const editId = textMember(body, 'editId', 64);
			const of = (body as { of?: unknown }).of === undefined ? undefined : textMember(body, 'of', 64);
			return json(getStore().retrace(params.project, base, editId, kind, of));
		});
}
