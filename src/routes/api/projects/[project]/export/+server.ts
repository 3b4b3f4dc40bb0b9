import { json } from '@sveltejs/kit';
import { answer, ApiError } from '$lib/server/problem';
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
		if (report.verified.violations.length > 0) {
			throw new ApiError(
				'bound-not-kept',
				'The file that was written does not keep the bound when read back.',
			);
		}
		const name = task.clips.length === 1 ? doc.clips[task.clips[0]].name : doc.project.name;
		const id = newId();
		store.exports.insert({
			id,
			project: params.project,
			file_name: `${name}.glb`,
			media_type: 'model/gltf-binary',
			content: Buffer.from(bytes),
			report: JSON.stringify(report),
			made_at: new Date().toISOString(),
		});
		return json({ id, fileName: `${name}.glb`, bytes: bytes.length, ...report }, { status: 201 });
	});
}
