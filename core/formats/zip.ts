/**
 * Reads zip files that nobody vouches for: what they say of sizes and checksums is held against what comes out, and
 * unpacking ends where more comes out than was said. Source: PKWARE APPNOTE 6.3, 4.3 to 4.5.
 */
import crc32 from 'crc-32';
import { Inflate, strFromU8 } from 'fflate';
import { fail, ok, type Result } from '../result';

export interface ZipLimits {
	/** Whether a file of that name is wanted; others are passed over, unread. */
	wants: (name: string) => boolean;
	/** Bytes of all that is unpacked, and of one file. */
	mostBytes: number;
	mostOf?: (name: string) => number;
	mostFiles: number;
}

/** The time of every file in what is written: the same content makes the same bytes. */
export const EPOCH = new Date(1980, 0, 1);

const END = 0x06054b50;
const CENTRAL = 0x02014b50;
const LOCAL = 0x04034b50;
const END_SIZE = 22;
const CENTRAL_SIZE = 46;
const LOCAL_SIZE = 30;
const LONGEST_COMMENT = 65_535;
const STORED = 0;
const DEFLATED = 8;
const ENCRYPTED = 1;
/** Bytes that are fed at once: deflate makes at most 1032 of each. */
const PIECE = 4096;
const BEYOND = 0xffffffff;

interface Entry {
	name: string;
	method: number;
	isEncrypted: boolean;
	crc: number;
	packed: number;
	size: number;
	local: number;
}

/** Where the last record of a zip file begins; −1 where there is none. */
function endOf(view: DataView): number {
	const last = view.byteLength - END_SIZE;
	for (let at = last; at >= Math.max(0, last - LONGEST_COMMENT); at--)
		if (view.getUint32(at, true) === END) return at;
	return -1;
}

function entriesOf(bytes: Uint8Array, mostFiles: number): Result<Entry[]> {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	const end = endOf(view);
	if (end < 0) return fail('', 'This is no zip file, or its end is missing.');
	const count = view.getUint16(end + 10, true);
	const [listed, start] = [view.getUint32(end + 12, true), view.getUint32(end + 16, true)];
	let at = start;
	if (at === BEYOND) return fail('', 'Zip files of more than 4 GB are not read.');
	if (count > mostFiles) return fail('', `The zip file holds ${count} files; ${mostFiles} is the most.`);
	const entries: Entry[] = [];
	for (let i = 0; i < count; i++) {
		if (at + CENTRAL_SIZE > bytes.length || view.getUint32(at, true) !== CENTRAL)
			return fail('', 'The list of files in this zip file is torn.');
		const [nameLength, extra, comment] = [28, 30, 32].map((own) => view.getUint16(at + own, true));
		const flags = view.getUint16(at + 8, true);
		entries.push({
			name: strFromU8(bytes.subarray(at + CENTRAL_SIZE, at + CENTRAL_SIZE + nameLength)),
			method: view.getUint16(at + 10, true),
			isEncrypted: (flags & ENCRYPTED) !== 0,
			crc: view.getInt32(at + 16, true),
			packed: view.getUint32(at + 20, true),
			size: view.getUint32(at + 24, true),
			local: view.getUint32(at + 42, true),
		});
		at += CENTRAL_SIZE + nameLength + extra + comment;
	}
	// A number of files that is too small would leave some out in silence.
	if (at - start !== listed) return fail('', 'The list of files in this zip file is torn.');
	return ok(entries);
}

/** The packed bytes of an entry; null where they are not in the file. */
function packedOf(bytes: Uint8Array, { local, packed }: Entry): Uint8Array | null {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	if (local + LOCAL_SIZE > bytes.length || view.getUint32(local, true) !== LOCAL) return null;
	const start = local + LOCAL_SIZE + view.getUint16(local + 26, true) + view.getUint16(local + 28, true);
	return start + packed <= bytes.length ? bytes.subarray(start, start + packed) : null;
}

/** Unpacks piece by piece into as many bytes as were said; null where it comes to more, to less, or to nothing. */
function inflated(packed: Uint8Array, size: number): Uint8Array | null {
	const out = new Uint8Array(size);
	let filled = 0;
	let isOver = false;
	const inflate = new Inflate((chunk) => {
		isOver ||= filled + chunk.length > size;
		if (isOver) return;
		out.set(chunk, filled);
		filled += chunk.length;
	});
	try {
		for (let at = 0; at < packed.length && !isOver; at += PIECE)
			inflate.push(packed.subarray(at, at + PIECE), at + PIECE >= packed.length);
	} catch {
		return null;
	}
	return !isOver && filled === size ? out : null;
}

/** The wanted files of a zip file by their names; the first that is not sound, or goes beyond a limit, refuses it all. */
export function readZip(bytes: Uint8Array, limits: ZipLimits): Result<Map<string, Uint8Array>> {
	const entries = entriesOf(bytes, limits.mostFiles);
	if (!entries.ok) return entries;
	const files = new Map<string, Uint8Array>();
	let total = 0;
	for (const entry of entries.value) {
		const { name, size, method } = entry;
		if (!limits.wants(name)) continue;
		total += size;
		const most = limits.mostOf?.(name) ?? limits.mostBytes;
		if (size > most || total > limits.mostBytes)
			return fail('', `“${name}” unpacks to more than ${Math.min(most, limits.mostBytes) / 1024 / 1024} MB.`);
		if (entry.isEncrypted) return fail('', `“${name}” is encrypted.`);
		if (files.has(name)) return fail('', `“${name}” is there twice.`);
		if (method !== STORED && method !== DEFLATED)
			return fail('', `“${name}” is packed in a way that is not known.`);
		const packed = packedOf(bytes, entry);
		const content = packed && (method === STORED ? packed : inflated(packed, size));
		if (!content || content.length !== size || crc32.buf(content) !== entry.crc)
			return fail('', `“${name}” is damaged: it is not what the zip file says it is.`);
		files.set(name, content);
	}
	return ok(files);
}
