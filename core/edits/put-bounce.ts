/** Puts a drop, as the bounce builder gives it, into a clip. */
import { bounceTicks } from './bounce-builder';
import { MAX_CLIP_TICKS } from '../time';
import { channelId, formulaId, type Clip, type Doc } from '../document/types';
import { pasteKeys, type CopiedChannel } from './clipboard';
import { updateClip } from './clips';
import { insertKey, removeKeys } from './keys';

/**
 * Writes a drop from tick `t` on: what the same channels did until its end is replaced, what comes before leads to
 * where it begins, and the clip is made longer where it has to be. What a formula computes is left to the formula.
 */
export function putBounce(doc: Doc, clip: Clip, drop: readonly CopiedChannel[], t: number): Doc {
	const end = t + bounceTicks(drop);
	let cleared = doc;
	const own: CopiedChannel[] = [];
	for (const channel of drop) {
		const { part, property, component, keys } = channel;
		if (doc.formulas[formulaId(clip.id, part, property, component)]) continue;
		const id = channelId(clip.id, part, property, component);
		cleared = insertKey(cleared, id, t);
		const there = cleared.channels[id]?.keys ?? [];
		const between = there.map((key) => key.t).filter((at) => at > t && at <= end);
		cleared = removeKeys(cleared, new Map([[id, new Set(between)]]));
		const left = there.find((key) => key.t === t)?.left;
		own.push(left ? { ...channel, keys: keys.with(0, { ...keys[0], left }) } : channel);
	}
	const length = Math.min(MAX_CLIP_TICKS, Math.max(clip.length, end));
	return pasteKeys(updateClip(cleared, clip.id, { length }), clip.id, own, t, null).doc;
}
