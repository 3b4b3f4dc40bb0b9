/** Ways to close a looping clip where its end meets its start. */
import { curveOf } from '../clip/compile';
import { insertOnCurve } from '../curve/split';
import { evaluateCurve } from '../../player/curve/evaluate';
import { seamOf } from '../clip/seam';
import { clamp } from '../time';
import { contextOf, moveKeys, setAccumulates, setKeyValue, setModes, setShape, setValue } from './keys';
import { channelsOfClip, type Channel, type Clip, type Doc } from '../document/types';

/** How far a channel is from closing: v(L) − v(0), whole turns of rotations left in place. */
function gapOf(channel: Channel, clip: Clip): number {
	return seamOf(curveOf(channel, clip), clip, {
		rotates: channel.property === 'rotation',
		accumulates: channel.accumulates,
	}).gap;
}

const only = (channel: Channel, ...times: number[]) => new Map([[channel.id, new Set(times)]]);

/** A key at the clip's end with the value of its start (of a rotation the nearest that looks the same). */
export function endAtStart(doc: Doc, id: string): Doc {
	const channel = doc.channels[id];
	const clip = doc.clips[channel.clip];
	const target = evaluateCurve(curveOf(channel, clip), clip.length) - gapOf(channel, clip);
	return setValue(doc, channel, clip.length, target);
}

/** Moves the value of the last key within the clip by the gap, wherever it stands in time. */
export function shiftLastKey(doc: Doc, id: string): Doc {
	const channel = doc.channels[id];
	const clip = doc.clips[channel.clip];
	const last = channel.keys.findLast((key) => key.t <= clip.length);
	if (!last) return doc;
	const gap = gapOf(channel, clip);
	return setKeyValue(doc, only(channel, last.t), (v) => v - gap);
}

/**
 * Lets the last `ticks` of a clip lead over to its start: from an unchanged beginning of the stretch the gap is taken
 * off more and more (a smooth step), slopes at both its ends kept.
 */
export function blendSeam(doc: Doc, id: string, ticks: number): Doc {
	const channel = doc.channels[id];
	const clip = doc.clips[channel.clip];
	const gap = gapOf(channel, clip);
	const from = clamp(clip.length - Math.round(ticks), 0, clip.length - 1);
	const context = contextOf(doc, channel);
	const start = insertOnCurve(channel.keys, from, context);
	const keys = insertOnCurve(start, clip.length, context).map((key) => {
		if (key.t <= from) return key;
		const u = Math.min(1, (key.t - from) / (clip.length - from));
		const v = key.v - gap * u * u * (3 - 2 * u);
		// The end meets the start to the last digit; on the way there a few are enough.
		return { ...key, v: u === 1 ? v : Number(v.toPrecision(7)) };
	});
	return { ...doc, channels: { ...doc.channels, [id]: { ...channel, keys } } };
}

/** The channel travels: what it changes by in a round is added in every later one. */
export function markAccumulating(doc: Doc, id: string): Doc {
	return setAccumulates(doc, [id], true);
}

/** Moves the last key of each channel of a clip that ends within `reach` ticks of the clip's end onto it. */
export function moveStrayKeys(doc: Doc, clip: Clip, reach: number): Doc {
	return channelsOfClip(doc, clip.id).reduce((next, channel) => {
		const last = channel.keys.at(-1)!;
		const away = clip.length - last.t;
		if (channel.keys.length < 2 || away === 0 || Math.abs(away) > reach) return next;
		return moveKeys(next, only(channel, last.t), away, 0);
	}, doc);
}

/** Makes the first and the last key of a closed channel smooth, their neighbours taken across the seam. */
export function smoothSeam(doc: Doc, id: string): Doc {
	const channel = doc.channels[id];
	const clip = doc.clips[channel.clip];
	const before = channel.keys.at(-2);
	if (!before) return doc;
	const shaped = setShape(doc, only(channel, 0, before.t), { kind: 'handles' });
	return setModes(shaped, only(channel, 0, clip.length), 'smooth');
}
