import { stemOfClips } from '$core/formats/file-name';
import { json } from '@sveltejs/kit';
import { gzipSync } from 'node:zlib';
import { shippingFormat } from '$core/formats/registry';
import { answer } from '$lib/server/problem';
import { readExportRequest } from '$lib/server/exports/request';
import { runExport } from '$lib/server/exports/pool';
import { newId } from '$lib/server/project-store';
import { bodyJson, EDIT_LIMIT } from '$lib/server/request';
import { getStore } from '$lib/server/store';

/** Writes clips as a file, reads it back, and keeps it to be fetched. */
export function POST({ params, request }): Promise<Response> {
	return answer(async () => {
		const store = getStore();
		const { doc } = store.load(params.project);
		const task = readExportRequest(await bodyJson(request, EDIT_LIMIT), doc);
		const { bytes, report } = await runExport({ doc, ...task });
		const { extensions, mediaTypes } = shippingFormat(task.target)!;
		const stem = stemOfClips(
			doc,
			task.clips.map((id) => doc.clips[id]),
		);
		const fileName = `${stem}${extensions[0]}`;
		const id = newId();
		store.exports.insert({
			id,
			project: params.project,
			file_name: fileName,
			media_type: mediaTypes[0],
			content: Buffer.from(bytes),
			report: JSON.stringify(report),
			made_at: new Date().toISOString(),
		});
		return json(
			{ id, fileName, bytes: bytes.length, gzip: gzipSync(bytes).length, ...report },
			{ status: 201 },
		);
	});
}
