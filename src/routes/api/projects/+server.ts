import { json } from '@sveltejs/kit';
import { BEGINNINGS, type Beginning } from '$core/motions/beginnings';
import { answer, ApiError } from '$lib/server/problem';
import { projectCard } from '$lib/server/project-card';
import { bodyJson, REQUEST_LIMIT, textMember } from '$lib/server/request';
import { getStore } from '$lib/server/store';

export function GET(): Promise<Response> {
	return answer(() => json({ projects: getStore().list().map(projectCard), deleted: getStore().deleted() }));
}

export function POST({ request }): Promise<Response> {
	return answer(async () => {
		const body = await bodyJson(request, REQUEST_LIMIT);
		const name = textMember(body, 'name', 120);
		const space = textMember(body, 'space', 20);
		if (space !== 'world' && space !== 'interface') {
			throw new ApiError('bad-document', 'The space must be "world" or "interface".', '/space');
		}
		const { start = 'nothing' } = body as { start?: unknown };
		if (!BEGINNINGS.includes(start as Beginning))
			throw new ApiError('bad-document', `“start” must be one of ${BEGINNINGS.join(', ')}.`, '/start');
		return json({ id: getStore().create(name, space, start as Beginning) }, { status: 201 });
	});
}
