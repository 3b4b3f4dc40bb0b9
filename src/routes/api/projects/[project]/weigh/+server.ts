import { json } from '@sveltejs/kit';
import { gzipSync } from 'node:zlib';
import { answer } from '$lib/server/problem';
import { readExportRequest } from '$lib/server/exports/request';
import { exportTogether } from '$lib/server/exports/together';
import { bodyJson, REQUEST_LIMIT } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Says how large a file would be, without keeping it. */
export function POST({ params, request }): Promise<Response> {
	return answer(async () => {
		const { doc } = getStore().load(params.project);
		const task = readExportRequest(await bodyJson(request, REQUEST_LIMIT), doc);
		const { file } = await exportTogether(params.project, doc, task);
		return json({ bytes: file.bytes.length, gzip: gzipSync(file.bytes).length });
	});
}
