import { json } from '@sveltejs/kit';
import { readProjectFile } from '$core/formats/project/file';
import { answer, ApiError } from '$lib/server/problem';
import { bodyText, IMPORT_LIMIT } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Stores a project file as a new project. A file that is not valid stores nothing. */
export function POST({ request }): Promise<Response> {
	return answer(async () => {
		const read = readProjectFile(await bodyText(request, IMPORT_LIMIT));
		if (!read.ok) throw ApiError.of(read.problems);
		return json({ id: getStore().add(read.value) }, { status: 201 });
	});
}
