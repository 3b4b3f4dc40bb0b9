import { json } from '@sveltejs/kit';
import { gzipSync } from 'node:zlib';
import { answer } from '$lib/server/problem';
import { readExportRequest } from '$lib/server/exports/request';
import { runExport } from '$lib/server/exports/pool';
import { bodyJson, EDIT_LIMIT } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Says how large a file would be, without keeping it. */
export function POST({ params, request }): Promise<Response> {
	return answer(async () => {
		const { doc } = getStore().load(params.project);
		const task = readExportRequest(await bodyJson(request, EDIT_LIMIT), doc);
		const { bytes } = await runExport({ doc, ...task });
		return json({ bytes: bytes.length, gzip: gzipSync(bytes).length });
	});
}
