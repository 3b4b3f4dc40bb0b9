/**
 * The file of a take's samples: 20 bytes of head, then the times as uint32, then a column of float32 after the other, all
 * little-endian. Described in docs/formats/take.md.
 */
import { fail, ok, type Result } from '../result';
import { MOST_TAKE_COLUMNS } from '../document/takes';
import { MAX_CLIP_TICKS } from '../time';

/** What a take says over time: whole ticks of its clip, rising, and a column of values for each thing that was recorded. */
export interface TakeSamples {
	times: Uint32Array;
	/** As long as the times; NaN where nothing was recorded. */
	columns: Float32Array[];
}

export const TAKE_MEDIA_TYPE = 'application/x-hillock-take';
const MAGIC = 'HILLTAKE';
const VERSION = 1;
const HEAD = 20;
/** Ten minutes at a thousand a second. */
export const MOST_TAKE_SAMPLES = 600_000;

export function isTakeFile(content: Uint8Array): boolean {
	return content.length >= HEAD && new TextDecoder().decode(content.subarray(0, MAGIC.length)) === MAGIC;
}

export function writeTakeFile({ times, columns }: TakeSamples): Uint8Array<ArrayBuffer> {
	const out = new Uint8Array(HEAD + times.length * 4 * (1 + columns.length));
	out.set(new TextEncoder().encode(MAGIC));
	const view = new DataView(out.buffer);
	view.setUint32(8, VERSION, true);
	view.setUint32(12, times.length, true);
	view.setUint32(16, columns.length, true);
	let at = HEAD;
	for (const t of times) {
		view.setUint32(at, t, true);
		at += 4;
	}
	for (const column of columns)
		for (const v of column) {
			view.setFloat32(at, v, true);
			at += 4;
		}
	return out;
}

/** Reads the file of a take; what is wrong with it is told, and nothing of it is taken then. */
export function readTakeFile(content: Uint8Array): Result<TakeSamples> {
	if (!isTakeFile(content)) return fail('', 'This is no file of a take.');
	const view = new DataView(content.buffer, content.byteOffset, content.byteLength);
	const version = view.getUint32(8, true);
	if (version !== VERSION)
		return fail('', `This take is of version ${version}, which this Hillock does not read.`);
	const [count, width] = [view.getUint32(12, true), view.getUint32(16, true)];
	if (count < 1 || count > MOST_TAKE_SAMPLES)
		return fail('', `A take has 1 to ${MOST_TAKE_SAMPLES} samples, this one ${count}.`);
	if (width < 1 || width > MOST_TAKE_COLUMNS)
		return fail('', `A take has 1 to ${MOST_TAKE_COLUMNS} columns, this one ${width}.`);
	const size = HEAD + count * 4 * (1 + width);
	if (content.length !== size)
		return fail('', `The take should have ${size} bytes and has ${content.length}: it was cut or added to.`);
	const times = new Uint32Array(count);
	for (let i = 0; i < count; i++) {
		times[i] = view.getUint32(HEAD + 4 * i, true);
		if (times[i] > MAX_CLIP_TICKS || (i > 0 && times[i] <= times[i - 1]))
			return fail(
				'',
				`Sample ${i + 1} of the take is no later than the one before it, or beyond the longest clip.`,
			);
	}
	const columns: Float32Array[] = [];
	for (let c = 0; c < width; c++) {
		const from = HEAD + 4 * count * (1 + c);
		// Of the file's own order of bytes, which is that of every machine that a browser runs on.
		const start = content.byteOffset + from;
		const column = new Float32Array(content.buffer.slice(start, start + 4 * count) as ArrayBuffer);
		const bad = column.findIndex((v) => Math.abs(v) === Infinity);
		if (bad >= 0) return fail('', `Sample ${bad + 1} of column ${c + 1} of the take is infinite.`);
		columns.push(column);
	}
	return ok({ times, columns });
}
