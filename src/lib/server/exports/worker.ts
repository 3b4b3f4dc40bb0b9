/** Runs in a worker thread: writes clips as glTF and reads the file back, and reads glTF files from outside. */
import { readGltf, type GltfImport } from '$core/formats/gltf/read';
import type { Result } from '$core/result';
import { exportGltf, type GltfFile } from '$core/formats/gltf/export';
import type { Bounds } from '$core/formats/gltf/write';
import type { Doc } from '$core/document/types';

export interface ExportTask {
	doc: Doc;
	clips: string[];
	bounds: Bounds;
	curvesOnly: boolean;
}
export interface ExportOutcome {
	bytes: Uint8Array;
	report: Omit<GltfFile, 'bytes'>;
}
/** A message where the bound could not be kept, or the file is not sound: errors travel as values. */
export type ExportResult = ExportOutcome | { refused: string };

export default async function run({ doc, clips, bounds, curvesOnly }: ExportTask): Promise<ExportResult> {
	const chosen = clips.map((id) => doc.clips[id]);
	try {
		const { bytes, ...report } = await exportGltf(doc, chosen, { bounds, curvesOnly });
		return { bytes, report };
	} catch (error) {
		if (error instanceof RangeError) return { refused: error.message };
		throw error;
	}
}

export interface ImportTask {
	bytes: Uint8Array;
	name: string;
	/** What the file is kept as. */
	asset: string;
}

export function importGltf({ bytes, name, asset }: ImportTask): Promise<Result<GltfImport>> {
	return readGltf(bytes, name, asset);
}
