import { json } from '@sveltejs/kit';
import { readProjectFile } from '$core/formats/project/file';
import { readPack } from '$core/formats/project/pack';
import { runImport } from '$lib/server/exports/pool';
import { answer, ApiError } from '$lib/server/problem';
import { sha256 } from '$lib/server/project-store';
import { bodyBytes, bodyText, IMPORT_LIMIT, PACK_LIMIT } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Stores a project file, a pack or a glTF file as a new project. A file that is not valid stores nothing. */
export function POST({ request, url }): Promise<Response> {
	return answer(async () => {
		const type = request.headers.get('content-type') ?? '';
		if (/^model\/gltf/.test(type)) {
			const name = url.searchParams.get('name')?.slice(0, 120) || 'Imported';
			const content = await bodyBytes(request, IMPORT_LIMIT);
			const asset = sha256(content);
			const { doc, leftOut } = await runImport(content, name, asset);
			return json(
				{ id: getStore().add(doc, { files: [{ id: asset, name, content }] }), leftOut },
				{ status: 201 },
			);
		}
		if (/^application\/zip/.test(type)) {
			const read = readPack(await bodyBytes(request, PACK_LIMIT));
			if (!read.ok) throw ApiError.of(read.problems);
			const { doc, files, missing } = read.value;
			const id = getStore().add(doc, {
				files: files.map((file) => ({ id: file.id, name: file.id, content: Buffer.from(file.content) })),
			});
			const leftOut = missing.map((asset) => `${asset.slice(0, 8)}…: a file that the zip does not hold`);
			return json({ id, leftOut }, { status: 201 });
		}
		const read = readProjectFile(await bodyText(request, IMPORT_LIMIT));
		if (!read.ok) throw ApiError.of(read.problems);
		return json({ id: getStore().add(read.value), leftOut: [] }, { status: 201 });
	});
}
