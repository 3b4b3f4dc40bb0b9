/** Runs in a worker thread: writes clips and reads the file back, and reads files from outside. */
import type { FileIn, TakenIn } from '$core/formats/format';
import { loadShipper, takeIn } from '$core/formats/loaders';
import { FORMATS, shippingFormat } from '$core/formats/registry';
import type { Result } from '$core/result';
import type { Bounds } from '$core/tracks/bounds';
import type { ShipReport } from '$core/tracks/report';
import type { ShipOptions, Switches, Written } from '$core/tracks/ship';
import type { Doc } from '$core/document/types';

export interface ExportTask {
	doc: Doc;
	/** The id of the format. */
	target: string;
	clips: string[];
	bounds: Bounds;
	switches: Switches;
	numbers: NonNullable<ShipOptions['numbers']>;
	name: string;
	assets: NonNullable<ShipOptions['assets']>;
}
export interface ExportOutcome extends Written {
	report: ShipReport;
}
/** A message where the bound could not be kept, or the file is not sound: errors cross as values. */
export type ExportResult = ExportOutcome | { refused: string };

export default async function run({ doc, target, clips, ...options }: ExportTask): Promise<ExportResult> {
	const chosen = clips.map((id) => doc.clips[id]);
	const shipper = await loadShipper(shippingFormat(target)!);
	try {
		const { bytes, beside, ...report } = await shipper.ship(doc, chosen, options);
		return { bytes, beside, report };
	} catch (error) {
		if (error instanceof RangeError) return { refused: error.message };
		throw error;
	}
}

export type DraftTask = Pick<ExportTask, 'doc' | 'clips' | 'bounds'>;

/** The clip file of now, for a running game: written, not measured. */
export async function draft({ doc, clips, bounds }: DraftTask): Promise<Uint8Array> {
	const { draftClips } = await import('$core/formats/clips/shipping');
	return draftClips(
		doc,
		clips.map((id) => doc.clips[id]),
		bounds,
	);
}

export interface ImportTask extends FileIn {
	/** The id of the format. */
	format: string;
}

export function importFile({ format, ...file }: ImportTask): Promise<Result<TakenIn>> {
	return takeIn(FORMATS.find(({ id }) => id === format) ?? null, file);
}
