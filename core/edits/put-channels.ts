/** Puts keys that were made elsewhere (a drop, a motion) over what a clip does for a while. */
import { MAX_CLIP_TICKS } from '../time';
import { channelId, formulaId, type Clip, type Doc } from '../document/types';
import { indexAt } from '../curve/edit';
import { pasteKeys, type CopiedChannel } from './clipboard';
import { updateClip } from './clips';
import { insertKey, removeKeys } from './keys';

/**
 * Writes keys from tick `t` on: what the same channels did until the last of them is replaced, what comes before leads
 * to where they begin, and the clip is made longer where it has to be. Where they begin somewhere else than the part is
 * then, and `lead` is given, what comes before stays as it was until so many ticks before, and waits. What a formula
 * computes is left to the formula. Gives the document, and the keys put.
 */
export function putChannels(
	doc: Doc,
	clip: Clip,
	channels: readonly CopiedChannel[],
	t: number,
	lead = 0,
): { doc: Doc; selection: Map<string, Set<number>> } {
	const end = t + channels.reduce((last, { keys }) => Math.max(last, keys.at(-1)!.t), 0);
	let cleared = doc;
	const own: CopiedChannel[] = [];
	for (const channel of channels) {
		const { part, property, component, keys } = channel;
		if (doc.formulas[formulaId(clip.id, part, property, component)]) continue;
		const id = channelId(clip.id, part, property, component);
		cleared = insertKey(cleared, id, t);
		const there = cleared.channels[id]?.keys ?? [];
		const between = there.map((key) => key.t).filter((at) => at > t && at <= end);
		cleared = removeKeys(cleared, new Map([[id, new Set(between)]]));
		const at = there.findIndex((key) => key.t === t);
		if (lead > 0 && at > 0 && there[at].v !== keys[0].v) cleared = waiting(cleared, id, Math.round(t - lead));
		const left = there[at]?.left;
		own.push(left ? { ...channel, keys: keys.with(0, { ...keys[0], left }) } : channel);
	}
	const length = Math.min(MAX_CLIP_TICKS, Math.max(clip.length, end));
	return pasteKeys(updateClip(cleared, clip.id, { length }), clip.id, own, t, null);
}

/** The channel with a key on its curve at a tick, that holds until the next one. */
function waiting(doc: Doc, id: string, t: number): Doc {
	const first = doc.channels[id].keys[0].t;
	const at = Math.max(first, t);
	const next = insertKey(doc, id, at);
	const channel = next.channels[id];
	const index = indexAt(channel.keys, at);
	const keys = channel.keys.with(index, { ...channel.keys[index], shape: { kind: 'hold' } });
	return { ...next, channels: { ...next.channels, [id]: { ...channel, keys } } };
}
