/** Edits that move many keys across the channels of a clip. */
import * as retime from '../curve/retime';
import { moveKeys } from '../curve/edit';
import { curveOf } from '../clip/compile';
import { evaluateCurve } from '../../player/curve/evaluate';
import { expandSpan } from '../curve/split';
import { reversedShape, reverseKeys as reverse, reverseSwitch } from '../curve/reverse';
import { turnRises } from '../curve/vector';
import {
	channelsOfClip,
	isVector,
	kindOf,
	partsInTree,
	type Channel,
	type Clip,
	type Doc,
} from '../document/types';
import { contextOf, editOnCurve, extentOf, type KeySelection } from './keys';

function mapChannels(doc: Doc, pick: (channel: Channel) => Channel['keys'] | null): Doc {
	const channels = { ...doc.channels };
	for (const channel of Object.values(doc.channels)) {
		const keys = pick(channel);
		if (keys && keys !== channel.keys) channels[channel.id] = { ...channel, keys };
	}
	return { ...doc, channels };
}

function mapSelected(
	doc: Doc,
	selection: KeySelection,
	edit: (channel: Channel, times: ReadonlySet<number>) => Channel['keys'],
): Doc {
	return mapChannels(doc, (channel) => {
		const times = selection.get(channel.id);
		return times && times.size > 0 ? edit(channel, times) : null;
	});
}

/** Scales picked keys in time about a tick; the caller keeps them within the clip by its choice of factor. */
export function scaleTime(doc: Doc, selection: KeySelection, pivot: number, factor: number): Doc {
	if (factor === 1) return doc;
	return mapSelected(doc, selection, ({ keys }, times) =>
		retime.scaleKeys(keys, times, { pivot, factor }, { pivot: 0, factor: 1 }),
	);
}

/** The ticks of a selection after `scaleTime`. */
export function scaledSelection(
	selection: KeySelection,
	pivot: number,
	factor: number,
): Map<string, Set<number>> {
	return new Map(
		[...selection].map(([id, times]) => [
			id,
			new Set([...times].map((t) => Math.round(pivot + (t - pivot) * factor))),
		]),
	);
}

/** What picked values are scaled about, channel by channel: the first, lowest or highest of them, or the value at a tick. */
export type ValuePivot = 'first' | 'lowest' | 'highest' | { at: number };

function pivotOf(doc: Doc, channel: Channel, times: ReadonlySet<number>, pivot: ValuePivot): number {
	const clip = doc.clips[channel.clip];
	if (typeof pivot === 'object') return clip ? evaluateCurve(curveOf(channel, clip), pivot.at) : 0;
	const values = channel.keys.filter((key) => times.has(key.t)).map((key) => key.v);
	if (pivot === 'first') return values[0] ?? 0;
	return pivot === 'lowest' ? Math.min(...values) : Math.max(...values);
}

/** Scales the values of picked keys. */
export function scaleValues(
	doc: Doc,
	selection: KeySelection,
	factor: number,
	about: ValuePivot = 'first',
): Doc {
	return mapSelected(doc, selection, (channel, times) => {
		if (kindOf(channel.property) !== 'number') return channel.keys;
		const pivot = pivotOf(doc, channel, times, about);
		return retime.scaleKeys(channel.keys, times, { pivot: 0, factor: 1 }, { pivot, factor });
	});
}

/**
 * Plays picked keys backwards in the stretch that they take together: each channel's own stretch is turned about and
 * stands mirrored in the whole.
 */
export function reverseKeys(doc: Doc, selection: KeySelection): Doc {
	const whole = extentOf(selection);
	if (!whole) return doc;
	const turned = reverseEach(doc, selection);
	const all = new Map<string, Set<number>>();
	const ticks = new Map<string, number>();
	for (const [id, times] of selection) {
		const [first, last] = [Math.min(...times), Math.max(...times)];
		const inside = turned.channels[id]?.keys.filter(({ t }) => t >= first && t <= last) ?? [];
		all.set(id, new Set(inside.map(({ t }) => t)));
		ticks.set(id, whole.first + whole.last - first - last);
	}
	return moveEach(turned, all, ticks);
}

/** Ticks of a selection that is played backwards in the stretch that it takes together. */
export function mirroredSelection(selection: KeySelection): Map<string, Set<number>> {
	const whole = extentOf(selection);
	return new Map(
		[...selection].map(([id, times]) => [
			id,
			new Set([...times].map((t) => (whole ? whole.first + whole.last - t : t))),
		]),
	);
}

/** Each channel's stretch played backwards in its own place. */
function reverseEach(doc: Doc, selection: KeySelection): Doc {
	return mapSelected(doc, selection, (channel, times) => {
		if (channel.property === 'visible') return reverseSwitch(channel.keys, times);
		if (!isVector(channel.property)) return reverse(channel.keys, times, contextOf(doc, channel));
		// Springs and bounces become keys on the curve first: what is left can be turned about as it is.
		const plain = editOnCurve(doc, channel, (keys, context) =>
			keys.reduceRight(
				(next, key, i) => (reversedShape(key.shape) === null ? expandSpan(next, i, context) : next),
				keys,
			),
		);
		const turned = reverse(plain, times, contextOf(doc, channel));
		return turnRises(turned, Math.min(...times), Math.max(...times));
	});
}

/** Mirrors picked values of each channel about the middle of their range. */
export function mirrorValues(doc: Doc, selection: KeySelection): Doc {
	return mapSelected(doc, selection, ({ keys, property }, times) => {
		if (kindOf(property) !== 'number') return keys;
		const values = keys.filter((key) => times.has(key.t)).map((key) => key.v);
		return retime.mirrorKeys(keys, times, (Math.min(...values) + Math.max(...values)) / 2);
	});
}

/**
 * Opens (or, with negative ticks, closes) a gap in the whole clip: keys from a tick on move, the end too, and cues unless
 * they are to stay, as far as the clip is long enough.
 */
export function openGap(doc: Doc, clip: Clip, from: number, ticks: number, cuesToo = true): Doc {
	const length = Math.max(1, clip.length + ticks);
	const moved = mapChannels(doc, (channel) =>
		channel.clip === clip.id ? retime.shiftFrom(channel.keys, from, ticks) : null,
	);
	const channels = Object.fromEntries(
		Object.entries(moved.channels).filter(([, channel]) => channel.keys.length > 0),
	);
	const cues = Object.fromEntries(
		Object.entries(doc.cues).map(([id, cue]) => {
			if (cue.clip !== clip.id) return [id, cue];
			const goes = cuesToo && cue.t >= from;
			const t = goes ? Math.max(from + Math.min(0, ticks), cue.t + ticks) : Math.min(cue.t, length);
			return [id, t === cue.t ? cue : { ...cue, t }];
		}),
	);
	return { ...moved, channels, cues, clips: { ...doc.clips, [clip.id]: { ...clip, length } } };
}

/**
 * Holds the pose at a tick for some ticks more: every channel of the clip waits, what follows comes later, cues too
 * unless they are to stay.
 */
export function holdPose(doc: Doc, clip: Clip, t: number, ticks: number, cuesToo = true): Doc {
	const held = mapChannels(doc, (channel) => {
		if (channel.clip !== clip.id) return null;
		const { keys } = channel;
		const between = keys[0].t < t && keys.at(-1)!.t > t;
		return between
			? editOnCurve(doc, channel, (own, context) => retime.holdPose(own, t, ticks, context))
			: retime.shiftFrom(keys, t === 0 ? t : t + 1, ticks);
	});
	const cues = Object.fromEntries(
		Object.entries(doc.cues).map(([id, cue]) => [
			id,
			cuesToo && cue.clip === clip.id && cue.t > t ? { ...cue, t: cue.t + ticks } : cue,
		]),
	);
	return { ...held, cues, clips: { ...doc.clips, [clip.id]: { ...clip, length: clip.length + ticks } } };
}

/** Stretches a clip to a length: all keys and cues with it. */
export function stretchClip(doc: Doc, clip: Clip, length: number): Doc {
	const factor = length / clip.length;
	const stretched = mapChannels(doc, (channel) =>
		channel.clip === clip.id ? retime.stretchKeys(channel.keys, factor) : null,
	);
	const cues = Object.fromEntries(
		Object.entries(doc.cues).map(([id, cue]) => [
			id,
			cue.clip === clip.id ? { ...cue, t: Math.round(cue.t * factor) } : cue,
		]),
	);
	const loop = { ...clip.loop, pause: Math.round(clip.loop.pause * factor) };
	return { ...stretched, cues, clips: { ...doc.clips, [clip.id]: { ...clip, length, loop } } };
}

/** Another frame rate: the same seconds, or the same frame numbers (every clip is stretched). */
export function changeFrameRate(doc: Doc, frameRate: number, keep: 'seconds' | 'frames'): Doc {
	const before = doc.project.frameRate;
	const stretched =
		keep === 'frames'
			? Object.values(doc.clips).reduce(
					(next, clip) =>
						stretchClip(next, clip, Math.max(1, Math.round((clip.length * before) / frameRate))),
					doc,
				)
			: doc;
	return { ...stretched, project: { ...doc.project, frameRate } };
}

/** What a stagger counts: the picked parts in the order of the tree, or how deep they hang. */
export type StaggerBy = 'order' | 'depth';

/**
 * By how many ticks a stagger moves each channel of a selection: part n by n · delay (or, growing, by 1 + 2 + … + n
 * times the delay).
 */
export function staggerTicks(
	doc: Doc,
	selection: KeySelection,
	delay: number,
	growing: boolean,
	by: StaggerBy = 'order',
): Map<string, number> {
	const tree = partsInTree(doc);
	const picked = new Set([...selection.keys()].map((id) => doc.channels[id].part));
	const rows = tree.filter(({ part }) => picked.has(part.id));
	const least = Math.min(...rows.map(({ depth }) => depth));
	const places = new Map(rows.map(({ part, depth }, i) => [part.id, by === 'depth' ? depth - least : i]));
	return new Map(
		[...selection.keys()].map((id) => {
			const n = places.get(doc.channels[id].part) ?? 0;
			return [id, growing ? (delay * n * (n + 1)) / 2 : delay * n];
		}),
	);
}

/** The ticks of `moveEach`, where needed less, so that picked keys stay within a clip. */
export function withinClip(
	selection: KeySelection,
	ticks: ReadonlyMap<string, number>,
	length: number,
): Map<string, number> {
	return new Map(
		[...selection].map(([id, times]) => [
			id,
			Math.max(-Math.min(...times), Math.min(length - Math.max(...times), ticks.get(id) ?? 0)),
		]),
	);
}

/** Moves the picked keys of each channel by its own ticks. */
export function moveEach(doc: Doc, selection: KeySelection, ticks: ReadonlyMap<string, number>): Doc {
	return mapSelected(doc, selection, ({ id, keys }, times) => moveKeys(keys, times, ticks.get(id) ?? 0, 0));
}

/** Adds to picked values and to all later keys of their channels. */
export function offsetFrom(doc: Doc, selection: KeySelection, value: number): Doc {
	return mapSelected(doc, selection, ({ keys, property }, times) =>
		kindOf(property) === 'number' ? retime.offsetFrom(keys, Math.min(...times), value) : keys,
	);
}

/** All keys of a clip's channels at or after a tick. */
export function keysAfter(doc: Doc, clip: string, from: number): Map<string, Set<number>> {
	const found = new Map<string, Set<number>>();
	for (const channel of channelsOfClip(doc, clip)) {
		const times = channel.keys.filter((key) => key.t >= from).map((key) => key.t);
		if (times.length > 0) found.set(channel.id, new Set(times));
	}
	return found;
}
