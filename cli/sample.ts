import { sampleRows } from '../core/formats/samples/write';
import { chosenClips, readProject } from './files';

/** Prints `{clip, target, path, t, value}` for every path, at a rate, over each clip. */
export function sampleFile(file: string, options: { clip: readonly string[]; rate: number }): void {
	const doc = readProject(file);
	const rows = chosenClips(doc, options.clip).flatMap((clip) =>
		Array.from(sampleRows(doc, clip, options.rate), (row) => JSON.stringify(row)),
	);
	process.stdout.write(`[\n${rows.join(',\n')}\n]\n`);
}
