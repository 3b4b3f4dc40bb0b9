/** Project files and packs as what comes in. */
import { ok, type Result } from '../../result';
import { textOf } from '../head';
import type { FileIn, TakenIn } from '../format';
import { readProjectFile } from './file';
import { readPack } from './pack';

export async function takeProjectFile({ bytes }: FileIn): Promise<Result<TakenIn>> {
	const text = textOf(bytes);
	if (!text.ok) return text;
	const read = readProjectFile(text.value);
	return read.ok ? ok({ doc: read.value, files: [], leftOut: [] }) : read;
}

/** Contents and names are not compared here: whoever keeps the files does. */
export async function takePack({ bytes }: FileIn): Promise<Result<TakenIn>> {
	const read = readPack(bytes);
	if (!read.ok) return read;
	const { doc, files, missing } = read.value;
	return ok({
		doc,
		files: files.map(({ id, content }) => ({ id, name: id, content })),
		leftOut: missing.map((asset) => `${asset.slice(0, 8)}…: a file that is not there`),
	});
}
