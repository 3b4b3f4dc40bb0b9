import type { Cleaning, Smoothing, Take } from '../core/document/takes';
import { inOrder, type Doc } from '../core/document/types';
import { columnLabel } from '../core/document/labels';
import { TakeCleaner, groupsIn } from '../core/takes/clean';
import { putTake } from '../core/takes/put-take';
import { readTakeFile } from '../core/takes/samples-file';
import { CliError } from './error';
import { readAny, writeProject } from './import';

export interface CleanOptions {
	take: readonly string[];
	out: string;
	tolerance?: number;
	smooth?: Smoothing;
	steadiness?: number;
	spikes?: boolean;
	still?: number;
}

function chosenTakes(doc: Doc, file: string, names: readonly string[]): Take[] {
	const all = inOrder(doc.takes);
	const missing = names.find((name) => name !== 'all' && !all.some((take) => take.name === name));
	if (all.length === 0 || missing !== undefined) {
		const known = all.map(({ name }) => `"${name}"`).join(', ') || 'none';
		throw new CliError(`${file}: there is no take "${missing ?? names[0]}"; there are: ${known}`, 2);
	}
	return names.includes('all') ? all : all.filter(({ name }) => names.includes(name));
}

/** What is given goes before what the take was cleaned with last. */
function cleaningOf(take: Take, options: CleanOptions): Cleaning {
	const { tolerance, smooth, steadiness, spikes, still } = options;
	const given = { tolerance, smoothing: smooth, steadiness, spikes, stillness: still };
	const said = Object.entries(given).filter(([, value]) => value !== undefined);
	return { ...take.cleaning, ...(Object.fromEntries(said) as Partial<Cleaning>) };
}

const short = (v: number) => String(Number(v.toPrecision(3)));

/** Makes keys of takes anew, from their raw samples, and writes the project with them. */
export async function cleanFile(file: string, options: CleanOptions): Promise<void> {
	const { doc, files } = await readAny(file);
	let next = doc;
	const told: string[] = [];
	for (const take of chosenTakes(doc, file, options.take)) {
		const content = files.find(({ id }) => id === take.asset)?.content;
		const read = content && readTakeFile(content);
		if (!read?.ok)
			throw new CliError(
				`${file}: the samples of "${take.name}" ${read ? `cannot be read: ${read.problems[0].message}` : 'are not there: give the project as a zip'}`,
				1,
			);
		const cleaning = cleaningOf(take, options);
		const cleaned = new TakeCleaner(read.value, groupsIn(doc, take)).clean(cleaning);
		const put = putTake(next, { ...take, cleaning }, cleaned);
		next = put.doc;
		take.columns.forEach((column, i) => {
			const { samples, keys, largest, rms } = cleaned[i].figures;
			const name = columnLabel(doc, column);
			const why = put.leftOut.find((own) => own.column === column)?.why;
			told.push(
				`${take.name} · ${name}: ${why ? `left out, ${why}` : `${samples} samples → ${keys} keys, off by ${short(largest)} at most, ${short(rms)} RMS`}`,
			);
		});
	}
	writeProject(options.out, next, files);
	process.stdout.write(`${told.join('\n')}\n${options.out}: written\n`);
}
