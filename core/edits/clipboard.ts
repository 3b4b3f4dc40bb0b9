/** Copying picked keys, and pasting them at a time, onto the same parts or another one. */
import { indexAt, putKey } from '../curve/edit';
import type { Key } from '../curve/types';
import {
	channelId,
	childrenOf,
	partsInTree,
	type Component,
	type Doc,
	type Property,
} from '../document/types';
import { hasNumber } from '../document/rest';
import { extentOf, makeChannel, type KeySelection } from './keys';

export interface CopiedChannel {
	part: string;
	property: Property;
	component: Component;
	/** Times from the earliest copied key. */
	keys: Key[];
}

export function copyKeys(doc: Doc, selection: KeySelection): CopiedChannel[] {
	const extent = extentOf(selection);
	if (!extent) return [];
	return [...selection].flatMap(([id, times]) => {
		const channel = doc.channels[id];
		if (!channel) return [];
		const { part, property, component } = channel;
		const keys = channel.keys
			.filter((key) => times.has(key.t))
			.map((key) => ({ ...key, t: key.t - extent.first }));
		return keys.length > 0 ? [{ part, property, component, keys }] : [];
	});
}

/**
 * Which part each copied part goes to when all of them are pasted onto another one: the topmost to that, the others to
 * what hangs below it under the same name, or else at the same place among its siblings. Parts without a match are
 * left out.
 */
function matchParts(doc: Doc, copied: readonly CopiedChannel[], onto: string): Map<string, string> {
	const wanted = new Set(copied.map((channel) => channel.part));
	const tree = partsInTree(doc).filter(({ part }) => wanted.has(part.id));
	const top = tree[0]?.part;
	const matched = new Map<string, string>(top ? [[top.id, onto]] : []);
	const find = (id: string): string | undefined => {
		const known = matched.get(id);
		const part = doc.parts[id];
		if (known !== undefined || part.parent === null) return known;
		const parent = find(part.parent);
		if (parent === undefined) return undefined;
		const there = childrenOf(doc, parent);
		const place = childrenOf(doc, part.parent).findIndex((child) => child.id === id);
		const found = (there.find((child) => child.name === part.name) ?? there[place])?.id;
		if (found !== undefined) matched.set(id, found);
		return found;
	};
	for (const { part } of tree) find(part.id);
	return matched;
}

/**
 * Pastes at tick `t` of a clip; keys past its end, and of what a part has not, are left out. With `onto`, keys go to that part and, where they came
 * from several, to the parts below it that match. Gives the document and the pasted keys.
 */
export function pasteKeys(
	doc: Doc,
	clip: string,
	copied: readonly CopiedChannel[],
	t: number,
	onto: string | null,
): { doc: Doc; selection: Map<string, Set<number>> } {
	const length = doc.clips[clip].length;
	// Keys of several parts that are pasted onto one of these go back to the parts that they came from.
	const severally = new Set(copied.map((channel) => channel.part)).size > 1;
	const isOwn = severally && copied.some((channel) => channel.part === onto);
	const matched = onto === null || isOwn ? null : matchParts(doc, copied, onto);
	const channels = { ...doc.channels };
	const selection = new Map<string, Set<number>>();
	for (const { part: from, property, component, keys } of copied) {
		const part = matched ? matched.get(from) : from;
		if (part === undefined || !doc.parts[part] || !hasNumber(doc.parts[part], property, component)) continue;
		const id = channelId(clip, part, property, component);
		let list = channels[id]?.keys ?? [];
		for (const key of keys) {
			const at = key.t + t;
			if (at > length) continue;
			list = putKey(list, at, key.v);
			list = list.with(indexAt(list, at), { ...key, t: at });
			selection.set(id, (selection.get(id) ?? new Set()).add(at));
		}
		if (list.length === 0) continue;
		channels[id] = { ...(channels[id] ?? makeChannel({ clip, part, property, component }, [])), keys: list };
	}
	return { doc: { ...doc, channels }, selection };
}

/** What says of a text that it holds keys. */
export const COPIED_FORMAT = 'hillock-keys';

/** Copied keys as text, for the system's clipboard: other windows and other projects can take them. */
export function writeCopied(doc: Doc, copied: readonly CopiedChannel[]): string {
	const channels = copied.map((channel) => ({ ...channel, partName: doc.parts[channel.part]?.name ?? '' }));
	return JSON.stringify({ format: COPIED_FORMAT, channels });
}
