/** Clips as a table: a row a moment, a column for each number that moves. Source: RFC 4180. */
import { strToU8 } from 'fflate';
import Papa from 'papaparse';
import type { Target } from '../../../player/layout';
import { evaluateRound } from '../../../player/motion';
import { TICKS_PER_SECOND, ticksToSeconds } from '../../../player/time';
import { compileClip, partTree, type CompiledClip } from '../../clip/compile';
import { channelLabel } from '../../document/labels';
import { componentsOf, type Clip, type Doc, type Part, type Property } from '../../document/types';
import { uniqueNames, unmeasured, type Shipped, type Shipper, type ShipOptions } from '../../tracks/ship';
import { csv } from './format';

/** A number that some clip moves. */
interface Column {
	head: string;
	/** Where it lies in the poses of each clip that moves it. */
	places: Map<CompiledClip, number>;
}

/** Rows that a table may have: more are for no table. */
export const MOST_ROWS = 1_000_000;
/** Digits that tell every number of a float32 apart. */
const DIGITS = 9;

const LENGTHS: readonly string[] = ['translation', 'size', 'radius', 'stroke'];

function unitOf(property: Property, { project: { space } }: Doc): string {
	if (LENGTHS.includes(property)) return space === 'world' ? ' [m]' : ' [px]';
	return property === 'rotation' || property === 'fieldOfView' ? ' [°]' : '';
}

/** The property of the document that a target of a pose is, with its components; null for what another target says. */
function propertyOf({ vectors, layout }: CompiledClip, { part, path, at }: Target): Property | null {
	const isOriented = vectors.some(
		({ place, vector }) => place === layout.places.get(part)?.get('rotation') && vector.mix === 'turn',
	);
	if (path === 'rotation') return isOriented ? 'orientation' : null;
	if (path === 'angles') return isOriented ? null : 'rotation';
	return at < 0 ? null : (path as Property);
}

const COLOUR = ['r', 'g', 'b', 'alpha'];

function labelsOf(property: Property, part: Part): string[] {
	if (property === 'colour') return COLOUR.map((own) => `colour ${own}`);
	if (property === 'orientation') return ['x', 'y', 'z', 'w'].map((own) => `orientation ${own}`);
	return componentsOf(property).map((component) => channelLabel(property, component, part));
}

/** Columns of all numbers that any of the clips moves, parts in the order of the tree. */
function columnsOf(doc: Doc, clips: readonly CompiledClip[]): Column[] {
	const { parts } = partTree(doc);
	const names = uniqueNames(parts);
	const columns = new Map<string, Column>();
	for (const part of parts)
		for (const compiled of clips)
			for (const target of compiled.layout.targets.filter((own) => own.part === part.id)) {
				const property = propertyOf(compiled, target);
				if (!property) continue;
				labelsOf(property, part)
					.slice(0, target.size)
					.forEach((label, k) => {
						const head = `${names.get(part.id)} ${label}${unitOf(property, doc)}`;
						const column = columns.get(head) ?? { head, places: new Map() };
						columns.set(head, column);
						column.places.set(compiled, target.at + k);
					});
			}
	return [...columns.values()];
}

/** Moments of a clip in ticks: every so often, and its end. */
function momentsOf({ length }: Clip, rate: number): number[] {
	const step = TICKS_PER_SECOND / rate;
	const count = Math.ceil(length / step - 1e-9);
	return [...Array.from({ length: count }, (_, i) => i * step), length];
}

function rowsOf(compiled: CompiledClip, name: string, columns: readonly Column[], rate: number) {
	const pose = compiled.layout.rest.slice();
	return momentsOf(compiled.clip, rate).map((t) => {
		evaluateRound(compiled, t, 0, pose);
		const numbers = columns.map(({ places }) => {
			const place = places.get(compiled);
			return place === undefined ? '' : Number(pose[place].toPrecision(DIGITS));
		});
		return [name, Number(ticksToSeconds(t).toFixed(7)), ...numbers];
	});
}

/** Throws a RangeError when the table would be too long. */
function ship(doc: Doc, clips: readonly Clip[], { numbers = {} }: ShipOptions): Shipped {
	const rate = numbers.rate ?? csv.ships!.numbers![0].initial(doc);
	const count = clips.reduce((sum, { length }) => sum + ticksToSeconds(length) * rate, 0);
	if (count > MOST_ROWS)
		throw new RangeError(
			`at ${rate} rows a second there would be ${Math.round(count)} rows, more than ${MOST_ROWS}: take fewer`,
		);
	const compiled = clips.map((clip) => compileClip(doc, clip));
	const names = uniqueNames(clips);
	const columns = columnsOf(doc, compiled);
	const rows = compiled.flatMap((own) => rowsOf(own, names.get(own.clip.id)!, columns, rate));
	const head = ['clip', 'time [s]', ...columns.map((column) => column.head)];
	const text = `${Papa.unparse([head, ...rows], { newline: '\n' })}\n`;
	return unmeasured(strToU8(text), clips);
}

export const csvShipper: Shipper = {
	ship: async (doc, clips, options) => ship(doc, clips, options),
};
