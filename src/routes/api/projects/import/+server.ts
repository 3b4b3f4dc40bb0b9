import { shortName } from '$core/text';
import { json } from '@sveltejs/kit';
import { formatOf } from '$core/formats/registry';
import { runImport } from '$lib/server/exports/pool';
import { answer } from '$lib/server/problem';
import { newFile, sha256 } from '$lib/server/project-store';
import { bodyBytes, PACK_LIMIT } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Stores a file of any format that comes in as a new project. A file that is not valid stores nothing. */
export function POST({ request }): Promise<Response> {
	return answer(async () => {
		const fileName = shortName(new URL(request.url).searchParams.get('name'), 120, 'Imported');
		const content = await bodyBytes(request, PACK_LIMIT);
		const { doc, files, leftOut } = await runImport(formatOf(content, fileName), {
			bytes: content,
			name: fileName.replace(/\.\w+$/, ''),
			sha256: sha256(content),
		});
		const kept = await Promise.all(files.map(newFile));
		return json({ id: getStore().add(doc, { files: kept }), leftOut }, { status: 201 });
	});
}
