/** Copying picked keys, and pasting them at a time, onto the same parts or another one. */
import { indexAt, putKey } from '../../curve/edit';
import type { Key } from '../../curve/types';
import { channelId, type Component, type Doc, type Property } from '../types';
import { HOLD_ENDS, type KeySelection } from './keys';
import { extentOf } from './retime';

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
 * Pastes at tick `t` of a clip; keys past its end are left out. With `onto`, keys copied from one part go to that
 * part. Gives the document and the pasted keys.
 */
export function pasteKeys(
	doc: Doc,
	clip: string,
	copied: readonly CopiedChannel[],
	t: number,
	onto: string | null,
): { doc: Doc; selection: Map<string, Set<number>> } {
	const length = doc.clips[clip].length;
	const onePart = new Set(copied.map((channel) => channel.part)).size === 1;
	const channels = { ...doc.channels };
	const selection = new Map<string, Set<number>>();
	for (const { part: from, property, component, keys } of copied) {
		const part = onto !== null && onePart ? onto : from;
		if (!doc.parts[part]) continue;
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
		const made = {
			type: 'channel' as const,
			id,
			clip,
			part,
			property,
			component,
			ends: HOLD_ENDS,
			accumulates: false,
		};
		channels[id] = { ...(channels[id] ?? made), keys: list };
	}
	return { doc: { ...doc, channels }, selection };
}
