/** Motions told in a coder's order: what, from where, to or by how much, when, how long and how. They become ordinary keys. */
import { curveOf } from '../clip/compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { Shape } from '../../player/easing/shape';
import { updateClip } from './clips';
import { insertKey, removeKeys, setShape, setValue, type ChannelAddress } from './keys';
import { restValue } from '../document/rest';
import { channelId, type Doc } from '../document/types';

export interface Tween extends ChannelAddress {
	/** Null: what it is at the start. */
	from: number | null;
	/** Where it goes, or how far from where it starts. */
	to: { value: number } | { by: number };
	/** Ticks. */
	start: number;
	duration: number;
	shape: Shape;
}

function idOf({ clip, part, property, component }: ChannelAddress): string {
	return channelId(clip, part, property, component);
}

/** The value of a number at a tick: of its curve, or at rest. */
export function valueAt(doc: Doc, address: ChannelAddress, t: number): number {
	const channel = doc.channels[idOf(address)];
	return channel
		? evaluateCurve(curveOf(channel, doc.clips[address.clip]), t)
		: restValue(doc.parts[address.part], address.property, address.component);
}

/**
 * Writes a tween: a key where it starts and one where it ends, what lay between is replaced, and the clip is made
 * longer where it has to be. Throws a RangeError for a duration below one tick.
 */
export function addTween(doc: Doc, tween: Tween): Doc {
	const { start, duration, shape, to } = tween;
	if (!(duration >= 1)) throw new RangeError('a motion must last a tick at least');
	const id = idOf(tween);
	const end = start + duration;
	const from = tween.from ?? valueAt(doc, tween, start);
	const target = 'value' in to ? to.value : from + to.by;
	// What came before waits at its own value until it begins.
	const before = doc.channels[id];
	const first = before || start === 0 ? doc : setValue(doc, tween, 0, valueAt(doc, tween, 0));
	const held =
		before || start === 0 ? first : setShape(first, new Map([[id, new Set([0])]]), { kind: 'hold' });
	const started = setValue(held.channels[id] ? insertKey(held, id, start) : held, tween, start, from);
	const between = started.channels[id].keys.map((key) => key.t).filter((t) => t > start && t < end);
	const cleared = removeKeys(started, new Map([[id, new Set(between)]]));
	const shaped = setShape(setValue(cleared, tween, end, target), new Map([[id, new Set([start])]]), shape);
	return end > shaped.clips[tween.clip].length ? updateClip(shaped, tween.clip, { length: end }) : shaped;
}
