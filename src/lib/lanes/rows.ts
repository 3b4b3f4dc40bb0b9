/** The rows of the lanes, top to bottom: a row for each part, below it its channels. */
import { slotOffset } from '$core/clip/compile';
import type { Channel, Clip, Part } from '$core/document/types';
import { PART_ROW } from './lane-view.svelte';

export interface PartRow {
	kind: 'part';
	id: string;
	part: Part;
	depth: number;
	open: boolean;
	channels: Channel[];
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
export type Row = PartRow | LaneRow;

export interface RowLayout {
	rows: Row[];
	height: number;
	/** Parts left out since they do not move here. */
	stillParts: number;
}

export interface RowOptions {
	tree: readonly { part: Part; depth: number }[];
	channels: Readonly<Record<string, Channel>>;
	clip: Clip;
	closed: ReadonlySet<string>;
	heightOf: (channel: string) => number;
	showStill: boolean;
	pickedPart: string | null;
}

const order = (channel: Channel) => slotOffset(channel.property, channel.component);

export function layoutRows(options: RowOptions): RowLayout {
	const byPart = new Map<string, Channel[]>();
	for (const channel of Object.values(options.channels)) {
		if (channel.clip !== options.clip.id) continue;
		const list = byPart.get(channel.part);
		if (list) list.push(channel);
		else byPart.set(channel.part, [channel]);
	}
	const rows: Row[] = [];
	let top = 0;
	let stillParts = 0;
	const showAll = options.showStill || byPart.size === 0;
	for (const { part, depth } of options.tree) {
		const channels = byPart.get(part.id)?.sort((a, b) => order(a) - order(b)) ?? [];
		if (channels.length === 0 && !showAll && part.id !== options.pickedPart) {
			stillParts++;
			continue;
		}
		const open = !options.closed.has(part.id);
		rows.push({ kind: 'part', id: part.id, part, depth, open, channels, top, height: PART_ROW });
		top += PART_ROW;
		if (!open) continue;
		for (const channel of channels) {
			const height = options.heightOf(channel.id);
			rows.push({ kind: 'lane', id: channel.id, part, channel, top, height });
			top += height;
		}
	}
	return { rows, height: top, stillParts };
}

/** Rows that touch a stretch of height: found by bisection, since there can be many. */
export function rowsWithin(rows: readonly Row[], top: number, bottom: number): Row[] {
	let low = 0;
	let high = rows.length;
	while (low < high) {
		const middle = (low + high) >> 1;
		if (rows[middle].top + rows[middle].height <= top) low = middle + 1;
		else high = middle;
	}
	const found: Row[] = [];
	for (let i = low; i < rows.length && rows[i].top < bottom; i++) found.push(rows[i]);
	return found;
}

/** Times at which any channel of a part has a key, in order. */
export function columnTimes(channels: readonly Channel[]): number[] {
	const times = new Set<number>();
	for (const { keys } of channels) for (const key of keys) times.add(key.t);
	return [...times].sort((a, b) => a - b);
}
