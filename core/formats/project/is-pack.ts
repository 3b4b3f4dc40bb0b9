/** Whether a file is a zip. Source: APPNOTE.TXT 4.3.7, the signature of a local file header. */
export function isPack(bytes: Uint8Array): boolean {
	return bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
}
