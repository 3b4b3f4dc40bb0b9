import { json } from '@sveltejs/kit';
import { readProjectFile } from '$core/formats/project/file';
import { runImport } from '$lib/server/exports/pool';
import { answer, ApiError } from '$lib/server/problem';
import { bodyBytes, bodyText, IMPORT_LIMIT } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Stores a project file or a glTF file as a new project. A file that is not valid stores nothing. */
export function POST({ request, url }): Promise<Response> {
	return answer(async () => {
		if (/^model\/gltf/.test(request.headers.get('content-type') ?? '')) {
			const name = url.searchParams.get('name')?.slice(0, 120) || 'Imported';
			const { doc, leftOut } = await runImport(await bodyBytes(request, IMPORT_LIMIT), name);
			return json({ id: getStore().add(doc), leftOut }, { status: 201 });
		}
		const read = readProjectFile(await bodyText(request, IMPORT_LIMIT));
		if (!read.ok) throw ApiError.of(read.problems);
		return json({ id: getStore().add(read.value), leftOut: [] }, { status: 201 });
	});
}
