import { json } from '@sveltejs/kit';
import { withAllTakes } from '$core/formats/incoming/recorded';
import { formatOf } from '$core/formats/registry';
import { shortName } from '$core/text';
import { runImport } from '$lib/server/exports/pool';
import { mediaOf } from '$lib/server/media';
import { answer } from '$lib/server/problem';
import { sha256 } from '$lib/server/project-store';
import { ASSET_LIMIT, bodyBytes } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Takes in a file of any format as takes: their samples are kept, and what they were recorded of comes back as a document. */
export function POST({ params, request, url }): Promise<Response> {
	return answer(async () => {
		const file = shortName(url.searchParams.get('name'), 120, 'recording');
		const content = await bodyBytes(request, ASSET_LIMIT);
		const store = getStore();
		// Known to be a project before the work begins.
		store.load(params.project);
		const name = file.replace(/\.\w+$/, '');
		const format = formatOf(content, file);
		const { doc, leftOut, files } = await withAllTakes(
			await runImport(format, { bytes: content, name, sha256: sha256(content) }),
		);
		const samples = new Set(Object.values(doc.takes).map(({ asset }) => asset));
		for (const own of files)
			if (samples.has(own.id))
				store.addAsset(params.project, await mediaOf(own.name, Buffer.from(own.content)));
		return json({ doc, leftOut }, { status: 201 });
	});
}
