/** The rows of the lanes, top to bottom: a row for each part, below it its channels. */
import { bisector } from 'd3-array';
import {
	componentsOf,
	PROPERTIES,
	type Channel,
	type Clip,
	type Formula,
	type Part,
} from '$core/document/types';
import { channelLabel } from '$core/document/labels';
import { livesOf, type Life } from '$core/edits/life';
import { PART_ROW } from './lane-view.svelte';
import { isFiltering, type RowFilter } from './row-filter';

export interface PartRow {
	kind: 'part';
	id: string;
	part: Part;
	depth: number;
	open: boolean;
	channels: Channel[];
	/** When it is shown; null where a formula says so. */
	lives: readonly Life[] | null;
	/** Whether that is its own in this clip, by keys. */
	hasLife: boolean;
	/** Lanes below it, of channels and formulas. */
	count: number;
	top: number;
	height: number;
}
export interface LaneRow {
	kind: 'lane';
	id: string;
	part: Part;
	channel: Channel;
	top: number;
	height: number;
}
/** A number that a formula computes. */
export interface FormulaRow {
	kind: 'formula';
	id: string;
	part: Part;
	formula: Formula;
	top: number;
	height: number;
}
export type Row = PartRow | LaneRow | FormulaRow;

export interface RowLayout {
	rows: Row[];
	height: number;
	/** Parts left out since they do not move here. */
	stillParts: number;
}

export interface RowOptions {
	tree: readonly { part: Part; depth: number }[];
	channels: Readonly<Record<string, Channel>>;
	formulas: Readonly<Record<string, Formula>>;
	clip: Clip;
	closed: ReadonlySet<string>;
	heightOf: (channel: string) => number;
	showStill: boolean;
	/** Whether a part has its row though it does not move: it is selected, or new. */
	stays: (part: string) => boolean;
	filter: RowFilter;
}

type Laned = Channel | Formula;

/** Lanes of a part stand in the order of its properties, x before y. */
const order = ({ property, component }: Laned) =>
	100 * PROPERTIES.indexOf(property) + componentsOf(property).indexOf(component);

/** Whether a filter lets a channel or formula of a part through. */
function passes({ words, families }: RowFilter, part: Part, { property, component }: Laned): boolean {
	if (families.size > 0 && !families.has(property)) return false;
	const name = `${part.name} ${channelLabel(property, component, part)}`.toLowerCase();
	return words
		.toLowerCase()
		.split(/\s+/)
		.every((word) => name.includes(word));
}

function byPart<T extends Laned>(entities: Readonly<Record<string, T>>, clip: string): Map<string, T[]> {
	const found = new Map<string, T[]>();
	for (const entity of Object.values(entities)) {
		if (entity.clip !== clip) continue;
		const list = found.get(entity.part);
		if (list) list.push(entity);
		else found.set(entity.part, [entity]);
	}
	return found;
}

function lifeOf(own: readonly Laned[], part: Part, clip: Clip): Pick<PartRow, 'lives' | 'hasLife'> {
	const visible = own.find(({ property }) => property === 'visible');
	if (visible?.type === 'formula') return { lives: null, hasLife: false };
	return { lives: livesOf(visible, part, clip), hasLife: visible !== undefined };
}

export function layoutRows(options: RowOptions): RowLayout {
	const { clip, filter } = options;
	const channelsOf = byPart(options.channels, clip.id);
	const formulasOf = byPart(options.formulas, clip.id);
	const filtering = isFiltering(filter);
	const rows: Row[] = [];
	let top = 0;
	let stillParts = 0;
	const showAll = !filtering && (options.showStill || channelsOf.size + formulasOf.size === 0);
	for (const { part, depth } of options.tree) {
		if (filter.parts && !filter.parts.has(part.id)) continue;
		const own = [...(channelsOf.get(part.id) ?? []), ...(formulasOf.get(part.id) ?? [])];
		const laned = own.filter((entity) => passes(filter, part, entity)).sort((a, b) => order(a) - order(b));
		if (laned.length === 0 && (filtering || (!showAll && !options.stays(part.id)))) {
			if (own.length === 0) stillParts++;
			continue;
		}
		const open = filtering || !options.closed.has(part.id);
		const channels = laned.filter((entity) => entity.type === 'channel');
		const count = laned.length;
		const life = lifeOf(own, part, clip);
		rows.push({
			kind: 'part',
			id: part.id,
			part,
			depth,
			open,
			channels,
			...life,
			count,
			top,
			height: PART_ROW,
		});
		top += PART_ROW;
		if (!open) continue;
		for (const entity of laned) {
			const height = options.heightOf(entity.id);
			const place = { id: entity.id, part, top, height };
			if (entity.type === 'channel') rows.push({ kind: 'lane', channel: entity, ...place });
			else rows.push({ kind: 'formula', formula: entity, ...place });
			top += height;
		}
	}
	return { rows, height: top, stillParts };
}

const byLowerEdge = bisector((row: Row) => row.top + row.height);

/** Rows that touch a stretch of height: found by bisection, since there can be many. */
export function rowsWithin(rows: readonly Row[], top: number, bottom: number): Row[] {
	const low = byLowerEdge.right(rows, top);
	const found: Row[] = [];
	for (let i = low; i < rows.length && rows[i].top < bottom; i++) found.push(rows[i]);
	return found;
}

/** Times at which any channel of a part has a key, in order. */
export function columnTimes(channels: readonly Channel[]): readonly number[] {
	const known = columns.get(channels);
	if (known) return known;
	const times = new Set<number>();
	for (const { keys } of channels) for (const key of keys) times.add(key.t);
	const sorted = [...times].sort((a, b) => a - b);
	columns.set(channels, sorted);
	return sorted;
}

/** A row's list of channels is made anew when one of them changes. */
const columns = new WeakMap<readonly Channel[], readonly number[]>();
