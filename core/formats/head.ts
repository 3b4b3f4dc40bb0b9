/** Files as text, and the first of it, by which formats are told. */
import { strFromU8, strToU8 } from 'fflate';
import { fail, ok, type Result } from '../result';

const LENGTH = 2000;
const MARK = [0xef, 0xbb, 0xbf];

export function headOf(bytes: Uint8Array): string {
	return strFromU8(bytes.subarray(0, LENGTH)).replace(/^\uFEFF/, '');
}

/** Whether a file begins as JSON of a list or an object does. */
export function isJsonText(bytes: Uint8Array): boolean {
	return /^\s*[[{]/.test(headOf(bytes));
}

/** The text of a file; what is not UTF-8 is refused. */
export function textOf(bytes: Uint8Array): Result<string> {
	const plain = MARK.every((byte, i) => bytes[i] === byte) ? bytes.subarray(MARK.length) : bytes;
	const text = strFromU8(plain);
	// What cannot be read is replaced by a character of three bytes.
	return strToU8(text).length === plain.length ? ok(text) : fail('', 'The file is not UTF-8 text.');
}
