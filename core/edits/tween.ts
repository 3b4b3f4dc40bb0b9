/** Motions told in a coder's order: what, from where, to or by how much, when, how long and how. They become ordinary keys. */
import { curveOf, vectorOf } from '../clip/compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import { evaluateVector } from '../../player/curve/vector';
import type { Shape } from '../../player/easing/shape';
import type { Four } from '../../player/maths/vector';
import { parseHex } from '../pose/hex';
import { updateClip } from './clips';
import { insertKey, removeKeys, setShape, setValue, setVector, type ChannelAddress } from './keys';
import { restValue } from '../document/rest';
import { channelId, isVectorChannel, type Doc } from '../document/types';

/** A number, 0 or 1 of a switch, or a colour as sRGB with alpha in 0…1. */
export type TweenValue = number | Readonly<Four>;

export interface Tween extends ChannelAddress {
	/** Null: what it is at the start. */
	from: TweenValue | null;
	/** Where it goes, or how far from where it starts. */
	to: { value: TweenValue } | { by: number };
	/** Ticks. */
	start: number;
	duration: number;
	shape: Shape;
}

function idOf({ clip, part, property, component }: ChannelAddress): string {
	return channelId(clip, part, property, component);
}

/** The value of a number or a colour at a tick: of its curve, or at rest. */
export function valueAt(doc: Doc, address: ChannelAddress, t: number): TweenValue {
	const channel = doc.channels[idOf(address)];
	const part = doc.parts[address.part];
	if (address.property === 'colour') {
		const colour = parseHex(part.colour);
		if (channel && isVectorChannel(channel))
			evaluateVector(vectorOf(channel, doc.clips[address.clip]), t, colour);
		return colour;
	}
	return channel
		? evaluateCurve(curveOf(channel, doc.clips[address.clip]), t)
		: restValue(part, address.property, address.component);
}

function put(doc: Doc, address: ChannelAddress, t: number, value: TweenValue): Doc {
	return typeof value === 'number'
		? setValue(doc, address, t, value)
		: setVector(doc, address, t, [...value]);
}

/** Where it goes, and what stands at its start: a switch is on from the start of a motion that turns it on. */
function endsOf(doc: Doc, { from, to, start, ...address }: Tween): [TweenValue, TweenValue] {
	const first = from ?? valueAt(doc, address, start);
	if ('value' in to) return address.property === 'visible' && to.value === 1 ? [1, 1] : [first, to.value];
	if (typeof first !== 'number') throw new RangeError('a colour goes to a colour');
	return [first, first + to.by];
}

/**
 * Writes a tween: a key where it starts and one where it ends, what lay between is replaced, and the clip is made
 * longer where it has to be. As CSS has it for `visibility`, a part is shown from the start of what shows it to the end of
 * what hides it. Throws a RangeError for a duration below one tick, and for a colour that is to go by a number.
 */
export function addTween(doc: Doc, tween: Tween): Doc {
	const { start, duration, shape } = tween;
	if (!(duration >= 1)) throw new RangeError('a motion must last a tick at least');
	const id = idOf(tween);
	const end = start + duration;
	const [from, target] = endsOf(doc, tween);
	// What came before waits at its own value until it begins.
	const before = doc.channels[id];
	const first = before || start === 0 ? doc : put(doc, tween, 0, valueAt(doc, tween, 0));
	const held =
		before || start === 0 ? first : setShape(first, new Map([[id, new Set([0])]]), { kind: 'hold' });
	const started = put(held.channels[id] ? insertKey(held, id, start) : held, tween, start, from);
	const between = started.channels[id].keys.map((key) => key.t).filter((t) => t > start && t < end);
	const cleared = removeKeys(started, new Map([[id, new Set(between)]]));
	const shaped = setShape(put(cleared, tween, end, target), new Map([[id, new Set([start])]]), shape);
	return end > shaped.clips[tween.clip].length ? updateClip(shaped, tween.clip, { length: end }) : shaped;
}
