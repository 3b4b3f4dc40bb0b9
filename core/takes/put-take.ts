/** Takes in a document: their keys, put over what a clip did while they were recorded. */
import type { Key } from '../curve/types';
import { hasNumber } from '../document/rest';
import {
	channelId,
	formulaId,
	kindOf,
	type Channel,
	type Component,
	type Doc,
	type Part,
	type Property,
} from '../document/types';
import type { Take, TakeColumn } from '../document/takes';
import { updateClip } from '../edits/clips';
import { insertKey, makeChannel } from '../edits/keys';
import { without } from '../edits/without';
import type { Four } from '../../player/maths/vector';
import type { CleanedColumn } from './clean';

/** Numbers that have an end, and what it is. */
const LIMITS: Partial<Record<Property, readonly [low: number, high: number]>> = {
	opacity: [0, 1],
	trim: [0, 1],
	reveal: [0, 1],
	size: [0, Infinity],
	radius: [0, Infinity],
	stroke: [0, Infinity],
	fieldOfView: [1, 170],
};

/** Between which values a number of a part may be. */
export function limitsOf(part: Part, property: Property, component: Component): readonly [number, number] {
	const own = property === 'custom' ? part.numbers?.find(({ key }) => key === component) : undefined;
	return own ? [own.low, own.high] : (LIMITS[property] ?? [-Infinity, Infinity]);
}

/** Why a number of a part cannot be recorded in a clip; null where it can. */
export function whyNotRecorded(
	doc: Doc,
	clip: string,
	{ part, property, component, index }: TakeColumn,
): string | null {
	const own = doc.parts[part];
	if (!own || !hasNumber(own, property, component)) return 'the part has no such number any more';
	if (kindOf(property) !== 'number' && index === undefined) return 'only numbers can be recorded';
	if (doc.formulas[formulaId(clip, part, property, component)]) return 'a formula computes it';
	if (property === 'rotation' && doc.channels[channelId(clip, part, 'orientation', 'value')])
		return 'the part is turned by an orientation here';
	return null;
}

/** A channel with keys in the place of what it did while they go on; what it does before and after stays. */
export function withStretch(doc: Doc, clip: string, column: TakeColumn, keys: readonly Key[]): Doc {
	const id = channelId(clip, column.part, column.property, column.component);
	const [start, end] = [keys[0].t, keys.at(-1)!.t];
	let next = doc;
	if (next.channels[id]) next = insertKey(insertKey(next, id, start), id, end);
	else next = { ...next, channels: { ...next.channels, [id]: makeChannel({ clip, ...column }, []) } };
	const channel: Channel = next.channels[id];
	const at = (t: number) => channel.keys.find((key) => key.t === t);
	const [before, after] = [at(start), at(end)];
	const made = keys.map((key, i): Key => {
		const own = { ...key };
		if (i === 0 && before?.left) own.left = before.left;
		if (i === keys.length - 1 && after) {
			own.shape = after.shape;
			if (after.right) own.right = after.right;
		}
		return own;
	});
	const kept = channel.keys;
	const all = [...kept.filter(({ t }) => t < start), ...made, ...kept.filter(({ t }) => t > end)];
	return { ...next, channels: { ...next.channels, [id]: { ...channel, keys: all } } };
}

export interface PutTake {
	doc: Doc;
	/** The keys that were put, by channel. */
	selection: Map<string, Set<number>>;
	/** Columns that could not be put, with the reason. */
	leftOut: { column: TakeColumn; why: string }[];
}

type Stretches = Pick<CleanedColumn, 'stretches'> | undefined;

/** Keys of a number, within what it may be. */
function numberKeys(doc: Doc, { part, property, component }: TakeColumn, cleaned: Stretches): Key[][] {
	const [low, high] = limitsOf(doc.parts[part], property, component);
	const within = (key: Key): Key => ({ ...key, v: Math.min(high, Math.max(low, key.v)) });
	return (cleaned?.stretches ?? []).map((keys) => keys.map(within));
}

/** Keys of the colour whose red is column `red`: all four of its numbers have theirs at the same times. */
function colours({ columns }: Take, red: number, cleaned: readonly Stretches[]): Key[][] {
	const four = [0, 1, 2, 3].map((k) =>
		columns.findIndex(
			(own) => own.part === columns[red].part && own.property === 'colour' && own.index === k,
		),
	);
	if (four.some((c) => c < 0)) return [];
	return (cleaned[red]?.stretches ?? []).map((keys, s) =>
		keys.map((key, i): Key => {
			const vector = four.map((c) => cleaned[c]!.stretches[s][i].v) as unknown as Four;
			return { ...key, v: 0, vector };
		}),
	);
}

/** The take in the document, its keys in the place of what the clip did between them. */
export function putTake(doc: Doc, take: Take, cleaned: readonly Pick<CleanedColumn, 'stretches'>[]): PutTake {
	const clip = doc.clips[take.clip];
	let next: Doc = { ...doc, takes: { ...doc.takes, [take.id]: take } };
	const selection: PutTake['selection'] = new Map();
	const leftOut: PutTake['leftOut'] = [];
	take.columns.forEach((column, i) => {
		// A colour is put with the first of its numbers.
		if (column.index !== undefined && column.index > 0) return;
		const why = whyNotRecorded(doc, take.clip, column);
		if (why) return void leftOut.push({ column, why });
		const times = new Set<number>();
		for (const keys of column.index === undefined
			? numberKeys(doc, column, cleaned[i])
			: colours(take, i, cleaned)) {
			next = withStretch(next, take.clip, column, keys);
			for (const { t } of keys) times.add(t);
		}
		if (times.size > 0)
			selection.set(channelId(take.clip, column.part, column.property, column.component), times);
	});
	const last = [...selection.values()].reduce((end, times) => Math.max(end, ...[...times].slice(-1)), 0);
	if (last > clip.length) next = updateClip(next, clip.id, { length: last });
	return { doc: next, selection, leftOut };
}

export function updateTake(doc: Doc, id: string, change: Partial<Pick<Take, 'name' | 'columns'>>): Doc {
	const take = doc.takes[id];
	return take ? { ...doc, takes: { ...doc.takes, [id]: { ...take, ...change } } } : doc;
}

/** The document without a take; its keys stay. */
export function removeTake(doc: Doc, id: string): Doc {
	return { ...doc, takes: without(doc.takes, (own) => own.id === id) };
}
