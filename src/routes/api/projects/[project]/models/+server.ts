import { json } from '@sveltejs/kit';
import { runImport } from '$lib/server/exports/pool';
import { shortName } from '$core/text';
import { gltf } from '$core/formats/gltf/format';
import { mediaOf } from '$lib/server/media';
import { answer, ApiError } from '$lib/server/problem';
import { sha256 } from '$lib/server/project-store';
import { ASSET_LIMIT, bodyBytes } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Takes in a glTF model: the file is kept, and its nodes and animations come back as a document to be merged. */
export function POST({ params, request, url }): Promise<Response> {
	return answer(async () => {
		const name = shortName(url.searchParams.get('name'), 120, 'model');
		const content = await bodyBytes(request, ASSET_LIMIT);
		const store = getStore();
		// Known to be a project before the work begins.
		if (store.load(params.project).doc.project.space !== 'world')
			throw new ApiError('bad-request', 'Models stand in the world: this project is a screen.');
		const asset = sha256(content);
		const { doc, leftOut, files } = await runImport(gltf, { bytes: content, name, sha256: asset });
		for (const file of files)
			store.addAsset(params.project, await mediaOf(file.name, Buffer.from(file.content)));
		return json({ doc, leftOut }, { status: 201 });
	});
}
