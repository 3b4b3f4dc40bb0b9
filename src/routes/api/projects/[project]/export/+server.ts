import { json } from '@sveltejs/kit';
import { gzipSync } from 'node:zlib';
import { answer } from '$lib/server/problem';
import { readExportRequest } from '$lib/server/exports/request';
import { exportTogether } from '$lib/server/exports/together';
import { newId } from '$lib/server/project-store';
import { bodyJson, REQUEST_LIMIT } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Writes clips as a file, reads it back, and keeps it to be fetched. */
export function POST({ params, request }): Promise<Response> {
	return answer(async () => {
		const store = getStore();
		const { doc } = store.load(params.project);
		const task = readExportRequest(await bodyJson(request, REQUEST_LIMIT), doc);
		const { file, report } = await exportTogether(params.project, doc, task);
		const id = newId();
		store.exports.insert({
			id,
			project: params.project,
			file_name: file.name,
			media_type: file.mediaType,
			content: Buffer.from(file.bytes),
			report: JSON.stringify(report),
			made_at: new Date().toISOString(),
		});
		return json(
			{ id, fileName: file.name, bytes: file.bytes.length, gzip: gzipSync(file.bytes).length, ...report },
			{ status: 201 },
		);
	});
}
