/** Runs in a worker thread: writes clips as glTF and reads the file back, and reads glTF files from outside. */
import { readGltf, type GltfImport } from '$core/formats/gltf/read';
import type { Result } from '$core/result';
import { verifyGltf, type Verified } from '$core/formats/gltf/verify';
import { writeGltf, type Bounds, type ClipReport } from '$core/formats/gltf/write';
import type { Doc } from '$core/document/types';

export interface ExportTask {
	doc: Doc;
	clips: string[];
	bounds: Bounds;
	curvesOnly: boolean;
}
export interface ExportOutcome {
	bytes: Uint8Array;
	report: { clips: ClipReport[]; plainer: string[]; verified: Verified };
}
/** A message where the bound could not be kept: errors travel as values. */
export type ExportResult = ExportOutcome | { refused: string };

export default async function run({ doc, clips, bounds, curvesOnly }: ExportTask): Promise<ExportResult> {
	const chosen = clips.map((id) => doc.clips[id]);
	try {
		const written = await writeGltf(doc, chosen, { bounds, curvesOnly });
		const verified = await verifyGltf(doc, chosen, written, bounds);
		return { bytes: written.bytes, report: { clips: written.clips, plainer: written.plainer, verified } };
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
