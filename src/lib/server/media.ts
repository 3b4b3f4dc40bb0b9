/** Pictures, films, sounds, models and samples of takes that are taken in: told by their content, not by what the sender says they are. */
import { fileTypeFromBuffer } from 'file-type';
import { isTakeFile, readTakeFile, TAKE_MEDIA_TYPE } from '$core/takes/samples-file';
import { ApiError } from './problem';

/** A file that is taken in. */
export interface Media {
	name: string;
	content: Buffer;
	mediaType: string;
}

/** Media types that are taken, by what content tells itself to be. */
const TAKEN: Readonly<Record<string, string>> = {
	'image/png': 'image/png',
	'image/jpeg': 'image/jpeg',
	'image/webp': 'image/webp',
	'video/mp4': 'video/mp4',
	'video/x-m4v': 'video/mp4',
	'video/webm': 'video/webm',
	'audio/wav': 'audio/wav',
	'audio/mpeg': 'audio/mpeg',
	'audio/flac': 'audio/flac',
	'audio/ogg': 'audio/ogg',
	'audio/ogg; codecs=opus': 'audio/ogg',
	'model/gltf-binary': 'model/gltf-binary',
};

/** Kinds that are text have no first bytes of their own. */
function textTypeOf(content: Uint8Array): string | undefined {
	const head = new TextDecoder().decode(content.subarray(0, 2000)).replace(/^\uFEFF/, '');
	if (/^\s*<(\?xml|!--|!DOCTYPE svg|svg)/i.test(head) && /<svg[\s>]/i.test(head)) return 'image/svg+xml';
	const isGltf = /^\s*\{/.test(head) && /"(asset|buffers|accessors|scenes|nodes)"/.test(head);
	return isGltf ? 'model/gltf+json' : undefined;
}

/** A file with its media type. Throws an ApiError for what is none of the kinds that are taken. */
export async function mediaOf(name: string, content: Buffer): Promise<Media> {
	if (isTakeFile(content)) {
		const read = readTakeFile(content);
		if (!read.ok) throw new ApiError('bad-request', `${name}: ${read.problems[0].message}`);
		return { name, content, mediaType: TAKE_MEDIA_TYPE };
	}
	const told = await fileTypeFromBuffer(content);
	const mediaType = TAKEN[told?.mime ?? ''] ?? textTypeOf(content);
	if (mediaType) return { name, content, mediaType };
	throw new ApiError(
		'bad-request',
		`${name} is no picture (PNG, JPEG, WebP, SVG), film (MP4, WebM), sound (WAV, MP3, Ogg, FLAC), model (glTF) or take.`,
	);
}
