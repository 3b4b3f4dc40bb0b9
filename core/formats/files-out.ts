/** What an export comes to: a file, or several that are fetched as one. */
import { zipSync } from 'fflate';
import { NO_ORIGIN_ERRORS, worseOrigins } from '../tracks/origin-errors';
import { uniqueNames, type Shipped, type Written } from '../tracks/ship';
import type { Clip } from '../document/types';
import { fileStem } from './file-name';
import { extensionOf } from './format';
import type { ShippingFormat } from './registry';
import { EPOCH } from './zip';

/** Clips that leave together, and what their file is called without its ending. */
export interface Bundle {
	clips: Clip[];
	name: string;
}

/** One for all clips under a stem, or one for each. */
export function bundlesOf(stem: string, clips: readonly Clip[], perClip: boolean): Bundle[] {
	if (!perClip) return [{ clips: [...clips], name: stem }];
	const names = uniqueNames(clips.map(({ id, name }) => ({ id, name: fileStem(name) })));
	return clips.map((clip) => ({ clips: [clip], name: `${stem}-${fileStem(names.get(clip.id)!)}` }));
}

export interface FileOut {
	name: string;
	mediaType: string;
	bytes: Uint8Array;
}

/** The file that is fetched: the one that was written, or all in a zip. */
export function fileOut(
	stem: string,
	format: ShippingFormat,
	switches: Readonly<Record<string, boolean>>,
	all: readonly ({ name: string } & Written)[],
): FileOut {
	const extension = extensionOf(format, switches);
	const files = all.flatMap(({ name, bytes, beside = [] }) => [
		{ name: `${name}${extension}`, bytes },
		...beside,
	]);
	if (files.length === 1) return { ...files[0], mediaType: format.mediaTypes[0] };
	const entries = Object.fromEntries(
		files.map(({ name, bytes }) => [name, [bytes, { mtime: EPOCH }] as const]),
	);
	return { name: `${stem}.zip`, mediaType: 'application/zip', bytes: zipSync(entries as never) };
}

/** What is told of several files as if they were one. */
export function reportTogether(all: readonly Shipped[]): Omit<Shipped, 'bytes' | 'beside'> {
	return {
		clips: all.flatMap(({ clips }) => clips),
		plainer: [...new Set(all.flatMap(({ plainer }) => plainer))],
		...all.map(({ origin, contact }) => ({ origin, contact })).reduce(worseOrigins, NO_ORIGIN_ERRORS),
	};
}
