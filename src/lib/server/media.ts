/** Pictures, films, sounds and models that are taken in: told by their first bytes, not by what the sender says they are. */

const starts = (bytes: Uint8Array, at: number, text: string) =>
	[...text].every((c, i) => bytes[at + i] === c.charCodeAt(0));

const KINDS: readonly { type: string; is: (bytes: Uint8Array) => boolean }[] = [
	{ type: 'image/png', is: (b) => starts(b, 0, '\x89PNG\r\n\x1a\n') },
	{ type: 'image/jpeg', is: (b) => b[0] === 0xff && b[1] === 0xd8 && b[2] === 0xff },
	{ type: 'image/webp', is: (b) => starts(b, 0, 'RIFF') && starts(b, 8, 'WEBP') },
	{ type: 'video/mp4', is: (b) => starts(b, 4, 'ftyp') },
	{ type: 'video/webm', is: (b) => b[0] === 0x1a && b[1] === 0x45 && b[2] === 0xdf && b[3] === 0xa3 },
	{ type: 'audio/wav', is: (b) => starts(b, 0, 'RIFF') && starts(b, 8, 'WAVE') },
	{ type: 'audio/ogg', is: (b) => starts(b, 0, 'OggS') },
	{ type: 'audio/flac', is: (b) => starts(b, 0, 'fLaC') },
	{ type: 'audio/mpeg', is: (b) => starts(b, 0, 'ID3') || (b[0] === 0xff && (b[1] & 0xe6) === 0xe2) },
	{ type: 'model/gltf-binary', is: (b) => starts(b, 0, 'glTF') },
	{
		type: 'model/gltf+json',
		is: (b) => /^\s*\{/.test(head(b)) && /"(asset|buffers|accessors|scenes|nodes)"/.test(head(b)),
	},
	{
		type: 'image/svg+xml',
		is: (b) => /^\s*<(\?xml|!--|!DOCTYPE svg|svg)/i.test(head(b)) && /<svg[\s>]/i.test(head(b)),
	},
];

function head(bytes: Uint8Array): string {
	return new TextDecoder().decode(bytes.subarray(0, 2000)).replace(/^\uFEFF/, '');
}

/** The media type of some content; null for what is none of these. */
export function mediaTypeOf(bytes: Uint8Array): string | null {
	return KINDS.find((kind) => kind.is(bytes))?.type ?? null;
}
