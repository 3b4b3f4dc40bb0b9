import { shortName } from '$core/text';
import { clipsInOrder, type Doc } from '$core/document/types';
import { SHIPPING, shippingFormat, type ShippingFormat } from '$core/formats/registry';
import type { Bounds, PartsBounds } from '$core/tracks/bounds';
import { ApiError } from '../problem';
import type { ExportTask } from './worker';

const OWN_BOUNDS = ['translation', 'rotation', 'scale', 'number'] as const;
/** The largest bound in a path's own units. */
const MOST = 1e6;

/** Numbers of a format, those that are asked for. */
function numbersIn(
	others: Readonly<Record<string, unknown>>,
	{ ships }: ShippingFormat,
): Record<string, number> {
	const read: Record<string, number> = {};
	for (const { id, says, lowest, highest, whole } of ships.numbers ?? []) {
		const value = others[id];
		if (value === undefined || value === null) continue;
		const isWithin = typeof value === 'number' && value >= lowest && value <= highest;
		if (!isWithin || (whole && !Number.isInteger(value)))
			throw new ApiError(
				'bad-document',
				`${says}: a ${whole ? 'whole ' : ''}number from ${lowest} to ${highest}.`,
				`/${id}`,
			);
		read[id] = value;
	}
	return read;
}

function positive(value: unknown, pointer: string, highest: number): number {
	if (typeof value !== 'number' || !(value > 0) || value > highest) {
		throw new ApiError('bad-document', `A bound must be a number above 0 and at most ${highest}.`, pointer);
	}
	return value;
}

/** Bounds of single parts, by their ids. */
function partsIn(given: unknown, doc: Doc): PartsBounds | undefined {
	if (given === undefined || given === null) return undefined;
	if (typeof given !== 'object')
		throw new ApiError('bad-document', 'Bounds of parts are an object.', '/bounds/parts');
	const parts = Object.entries(given).map(([id, own]) => {
		const pointer = `/bounds/parts/${id}`;
		if (!Object.hasOwn(doc.parts, id)) throw new ApiError('bad-document', 'There is no such part.', pointer);
		if (own === null || typeof own !== 'object')
			throw new ApiError('bad-document', 'Bounds of a part are an object.', pointer);
		const read = Object.entries(own).map(([path, value]) => [
			path,
			positive(value, `${pointer}/${path}`, path === 'relative' ? 1 : MOST),
		]);
		return [id, Object.fromEntries(read)];
	});
	return Object.fromEntries(parts);
}

/** What is asked for where clips are written. */
export interface ExportRequest extends Omit<ExportTask, 'doc' | 'name' | 'assets'> {
	/** Whether each clip has a file of its own. */
	perClip: boolean;
}

/** Reads `{ clips, target, bounds, perClip }` with the switches and numbers of the target. */
export function readExportRequest(body: unknown, doc: Doc): ExportRequest {
	const { clips, target, bounds, ...others } = (body ?? {}) as Record<string, unknown>;
	const format = typeof target === 'string' ? shippingFormat(target) : undefined;
	if (!format) {
		const known = SHIPPING.map(({ id }) => `"${id}"`).join(', ');
		throw new ApiError('bad-document', `There is no such target; there are: ${known}.`, '/target');
	}
	const { spaces } = format.ships;
	if (spaces && !spaces.includes(doc.project.space))
		throw new ApiError(
			'bad-document',
			`${format.name} is for projects of the kind ${spaces.join(', ')}; this one is of the kind ${doc.project.space}.`,
			'/target',
		);
	if (!Array.isArray(clips) || clips.length === 0) {
		throw new ApiError('bad-document', 'Choose one clip or more.', '/clips');
	}
	const unknown = clips.findIndex((id) => typeof id !== 'string' || !Object.hasOwn(doc.clips, id));
	if (unknown >= 0) throw new ApiError('bad-document', 'There is no such clip.', `/clips/${unknown}`);
	const given = (bounds ?? {}) as Record<string, unknown>;
	const read: Bounds = { relative: positive(given.relative ?? 0.001, '/bounds/relative', 1) };
	for (const path of OWN_BOUNDS) {
		if (given[path] !== undefined && given[path] !== null)
			read[path] = positive(given[path], `/bounds/${path}`, MOST);
	}
	const parts = partsIn(given.parts, doc);
	if (parts) read.parts = parts;
	return {
		target: format.id,
		clips: [...new Set(clips as string[])],
		bounds: read,
		switches: Object.fromEntries(format.ships.switches.map(({ id }) => [id, others[id] === true])),
		numbers: numbersIn(others, format),
		perClip: others.perClip === true,
	};
}

/** Ids of the clips that are asked for by id or name; of all in their order where none is. */
export function chosenClips(doc: Doc, wanted: readonly string[]): string[] {
	const all = clipsInOrder(doc);
	if (wanted.length === 0 && all.length === 0)
		throw new ApiError('not-found', 'The project has no clips yet.');
	const chosen = wanted.map((own) => {
		const clip = all.find(({ id, name }) => id === own || name === own);
		if (!clip) throw new ApiError('not-found', `There is no clip “${shortName(own, 80)}”.`, '/clip');
		return clip.id;
	});
	return chosen.length > 0 ? [...new Set(chosen)] : all.map(({ id }) => id);
}
