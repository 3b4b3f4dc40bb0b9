/** A glTF file as it leaves: written, read back, measured, and looked at by the standard's own validator. */
import validator from 'gltf-validator';
import type { Clip, Doc } from '../../document/types';
import { verifyGltf, type Verified } from './verify';
import { DEFAULT_BOUNDS, writeGltf, type ClipReport, type WriteOptions } from './write';

export interface GltfFile {
	bytes: Uint8Array;
	clips: ClipReport[];
	/** Parts that the file draws plainer than they are, in words. */
	plainer: string[];
	verified: Verified;
}

/** How many of the validator's messages are told. */
const TOLD = 3;

/**
 * Writes clips as binary glTF and proves the file. Throws a RangeError with what is wrong when a bound cannot be kept,
 * when the file as read back does not keep it, or when the validator finds an error.
 */
export async function exportGltf(
	doc: Doc,
	clips: readonly Clip[],
	options: WriteOptions = {},
): Promise<GltfFile> {
	const written = await writeGltf(doc, clips, options);
	const verified = await verifyGltf(doc, clips, written, options.bounds ?? DEFAULT_BOUNDS);
	const [bad] = verified.violations;
	if (bad)
		throw new RangeError(
			`${bad.clip} · ${bad.part} · ${bad.path}: read back with an error of ${bad.error}, over ${bad.bound}`,
		);
	const { issues } = await validator.validateBytes(written.bytes);
	if (issues.numErrors > 0) {
		const errors = issues.messages.filter(({ severity }) => severity === 0).slice(0, TOLD);
		const told = errors.map(({ code, message, pointer }) => `${code} at ${pointer ?? '/'}: ${message}`);
		throw new RangeError(`the glTF validator found ${issues.numErrors} errors: ${told.join('; ')}`);
	}
	return { ...written, verified };
}
