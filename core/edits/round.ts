/** Moves a channel of a looping clip round the loop. */
import { curveOf } from '../clip/compile';
import { seamOf } from '../clip/seam';
import { freezeEnds, indexAt } from '../curve/edit';
import { evaluateCurve } from '../../player/curve/evaluate';
import { insertOnCurve, joinSpans } from '../curve/split';
import type { Key } from '../curve/types';
import { isVector, type Channel, type Clip, type Doc } from '../document/types';
import { contextOf, editOnCurve } from './keys';

const HOLD = { kind: 'hold' } as const;

/** Whether two ends of a loop are the same value, but for rounding. */
const SAME = 1e-9;

/**
 * A channel with a key at both ends of its clip and at `cut`, the motion between as it was. Smooth ends become what
 * they come to: their neighbours across the seam change.
 */
function withEnds(doc: Doc, channel: Channel, clip: Clip, cut: number): Key[] {
	return editOnCurve(doc, channel, (keys, context) => {
		let own = freezeEnds(keys, context);
		// A stretch without keys at an end holds: the shape of the key beside it says nothing about it.
		if (own[0].t > 0) own = [{ t: 0, v: own[0].v, shape: HOLD }, ...own];
		const last = own.at(-1)!;
		if (last.t < clip.length)
			own = [...own.slice(0, -1), { ...last, shape: HOLD }, { t: clip.length, v: last.v, shape: HOLD }];
		return insertOnCurve(insertOnCurve(own, clip.length, context), cut, context);
	});
}

/** Whether a channel can be moved round its loop: its clip repeats, and what lies beyond its keys holds. */
export function goesRound(doc: Doc, channel: Channel): boolean {
	const clip = doc.clips[channel.clip];
	const { keys, ends } = channel;
	return (
		clip?.loop.mode === 'repeat' &&
		(ends.before === 'hold' || keys[0].t === 0) &&
		(ends.after === 'hold' || keys.at(-1)!.t >= clip.length)
	);
}

/**
 * What a channel does comes later by some ticks (or, below 0, sooner), and what passes the end of the clip comes in at
 * its start: played again and again the motion is the same, at another phase. What accumulates, and whole turns, are
 * carried on; a value that jumps at the seam jumps a tick before the place that it moves to. A channel that does not
 * go round is left as it is.
 */
export function shiftRound(doc: Doc, id: string, ticks: number): Doc {
	const channel = doc.channels[id];
	if (!channel || !goesRound(doc, channel)) return doc;
	const clip = doc.clips[channel.clip];
	const { length } = clip;
	const shift = ((Math.round(ticks) % length) + length) % length;
	if (shift === 0) return doc;
	const cut = length - shift;
	const keys = withEnds(doc, channel, clip, cut);
	const [start, end] = [0, length].map((t) => keys[indexAt(keys, t)]);
	const isApart = start.vector?.some((v, k) => Math.abs(v - (end.vector?.[k] ?? v)) > SAME);
	const [change, gap] = isVector(channel.property) ? [0, isApart ? 1 : 0] : changeOver(doc, channel, clip);
	const jumps = Math.abs(gap) > SAME && shift > 1;
	// Where it jumps, the last tick before the seam is the end's own.
	const last = jumps ? length - 1 : length;
	const moved: Key[] = [];
	for (const key of keys) {
		if (key.t >= cut && key.t < last) moved.push({ ...key, t: key.t - cut, v: key.v - change });
	}
	if (jumps) moved.push({ ...end, t: shift - 1, v: end.v - change, shape: HOLD });
	const met: Key = { ...start, t: shift };
	if (!jumps && end.left) met.left = end.left;
	moved.push(met);
	for (const key of keys) {
		if (key.t > 0 && key.t <= cut) moved.push({ ...key, t: key.t + shift });
		// What lies beyond the clip's end is not played, and stays.
		if (key.t > length) moved.push(key);
	}
	// A key that only an earlier move round the loop put there goes again.
	const joined = isVector(channel.property) ? null : joinSpans(moved, shift, contextOf(doc, channel));
	return { ...doc, channels: { ...doc.channels, [id]: { ...channel, keys: joined ?? moved } } };
}

/** By how much a number is further after a round, and what of that is a jump at the seam. */
function changeOver(doc: Doc, channel: Channel, clip: Clip): [change: number, gap: number] {
	const curve = curveOf(channel, clip);
	const { gap } = seamOf(curve, clip, {
		rotates: channel.property === 'rotation',
		accumulates: contextOf(doc, channel).accumulates,
	});
	return [evaluateCurve(curve, clip.length) - evaluateCurve(curve, 0) - gap, gap];
}
