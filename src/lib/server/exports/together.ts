/** Exports as they are asked for: of clips together or each on its own, with the pictures and models that they need. */
import { drawnAssets } from '$core/document/assets';
import type { Doc } from '$core/document/types';
import { bundlesOf, fileOut, reportTogether, type FileOut } from '$core/formats/files-out';
import { fileStem, stemOfClips } from '$core/formats/file-name';
import { shippingFormat } from '$core/formats/registry';
import type { ShipReport } from '$core/tracks/report';
import { getStore } from '../store';
import { runExport } from './pool';
import type { ExportRequest } from './request';

/** Writes clips of a project; nothing is kept. */
export async function exportTogether(
	project: string,
	doc: Doc,
	{ clips, perClip, ...task }: ExportRequest,
): Promise<{ file: FileOut; report: ShipReport }> {
	const format = shippingFormat(task.target)!;
	const wanted = format.ships.hasDrawings && !task.switches.curvesOnly ? drawnAssets(doc) : new Set<string>();
	const assets = new Map(
		getStore()
			.assetsOf(project, doc)
			.flatMap(({ id, content }) => (wanted.has(id) ? [[id, new Uint8Array(content)] as const] : [])),
	);
	const chosen = clips.map((id) => doc.clips[id]);
	const stem = perClip ? fileStem(doc.project.name) : stemOfClips(doc, chosen);
	const bundles = bundlesOf(stem, chosen, perClip);
	const written = await Promise.all(
		bundles.map(async ({ clips, name }) => {
			const ids = clips.map(({ id }) => id);
			const { report, ...own } = await runExport({ doc, ...task, clips: ids, name, assets });
			return { name, ...own, ...report };
		}),
	);
	return {
		file: fileOut(stem, format, task.switches, written),
		report: reportTogether(written),
	};
}
