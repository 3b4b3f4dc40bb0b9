/** Edits on keys across channels of a clip: pure functions from document to document. */
import { PLAYS_ONCE, type CurveContext } from '../curve/handles';
import { parseHex } from '../pose/hex';
import { fromEuler } from '../../player/maths/quaternion';
import * as curve from '../curve/edit';
import { expandSpan, insertOnCurve, joinSpans } from '../curve/split';
import type { Ends } from '../../player/curve/flat';
import type { HandleMode, HandleSide, Key } from '../curve/types';
import type { Four } from '../../player/maths/vector';
import type { Shape } from '../../player/easing/shape';
import { editVector } from '../curve/vector';
import { evaluateVector } from '../../player/curve/vector';
import { vectorOf } from '../clip/compile';
import { contextOfChannel } from '../clip/context';
import { restValue } from '../document/rest';
import {
	channelId,
	channelsOfClip,
	formulaId,
	isVector,
	isVectorChannel,
	kindOf,
	type Channel,
	type Component,
	type Doc,
	type Property,
} from '../document/types';
import type { ColourSpace } from '../../player/maths/colour';

/** Ticks of picked keys, by channel id. */
export type KeySelection = ReadonlyMap<string, ReadonlySet<number>>;

export function countKeys(selection: KeySelection): number {
	let count = 0;
	for (const times of selection.values()) count += times.size;
	return count;
}

/** One component of one property of one part in one clip. */
export interface ChannelAddress {
	clip: string;
	part: string;
	property: Property;
	component: Component;
}

export const HOLD_ENDS: Ends = { before: 'hold', after: 'hold' };

export function contextOf(doc: Doc, channel: Channel): CurveContext {
	const clip = doc.clips[channel.clip];
	return clip ? contextOfChannel(channel, clip) : PLAYS_ONCE;
}

/** A document with new keys for a channel; without the channel when no key is left. */
function withKeys(doc: Doc, channel: Channel, keys: Key[]): Doc {
	if (keys === channel.keys) return doc;
	if (keys.length === 0) {
		const channels = { ...doc.channels };
		delete channels[channel.id];
		return { ...doc, channels };
	}
	return { ...doc, channels: { ...doc.channels, [channel.id]: { ...channel, keys } } };
}

/** Applies a function to the keys of every channel of a selection, in one new map. */
function mapSelected(
	doc: Doc,
	selection: KeySelection,
	edit: (keys: Key[], times: ReadonlySet<number>, channel: Channel) => Key[],
): Doc {
	const channels = { ...doc.channels };
	for (const [id, times] of selection) {
		const channel = channels[id];
		if (!channel || times.size === 0) continue;
		const keys = edit(channel.keys, times, channel);
		if (keys.length === 0) delete channels[id];
		else if (keys !== channel.keys) channels[id] = { ...channel, keys };
	}
	return { ...doc, channels };
}

const HOLD: Shape = { kind: 'hold' };

/** What a new key of a channel starts as, before it takes on the shape of its span. */
function putValue(keys: readonly Key[], property: Property, t: number, v: number): Key[] {
	if (kindOf(property) !== 'switch') return curve.putKey(keys, t, v);
	const next = curve.putKey(keys, t, v >= 0.5 ? 1 : 0);
	const at = curve.indexAt(next, t);
	return next[at].shape.kind === 'hold' ? next : next.with(at, { ...next[at], shape: HOLD });
}

/** A new channel that holds before and after its keys. */
export function makeChannel({ clip, part, property, component }: ChannelAddress, keys: Key[]): Channel {
	const id = channelId(clip, part, property, component);
	return { type: 'channel', id, clip, part, property, component, keys, ends: HOLD_ENDS, accumulates: false };
}

/** A channel with changed keys, made where it is missing. */
function putChannel(doc: Doc, address: ChannelAddress, edit: (keys: readonly Key[]) => Key[]): Doc {
	const channel = doc.channels[channelId(address.clip, address.part, address.property, address.component)];
	if (channel) return withKeys(doc, channel, edit(channel.keys));
	const made = makeChannel(address, edit([]));
	return { ...doc, channels: { ...doc.channels, [made.id]: made } };
}

/** Sets a number (or a switch: 0 or 1) at a tick, making channel and key where they are missing; no colour is one. */
export function setValue(doc: Doc, address: ChannelAddress, t: number, v: number): Doc {
	if (isVector(address.property)) return doc;
	return putChannel(doc, address, (keys) => putValue(keys, address.property, t, v));
}

/** Sets the colour or the orientation at a tick, making channel and key where they are missing. */
export function setVector(doc: Doc, address: ChannelAddress, t: number, vector: Four): Doc {
	return putChannel(doc, address, (keys) => {
		const next = curve.putKey(keys, t, 0);
		const at = curve.indexAt(next, t);
		const key = { ...next[at] };
		delete key.tangents;
		const shape: Shape = key.shape.kind === 'tangents' ? { kind: 'linear' } : key.shape;
		const set = next.with(at, { ...key, shape, vector });
		// A neighbour's cubic needs the tangents of both its keys.
		return set[at - 1]?.shape.kind === 'tangents' ? set.with(at - 1, { ...set[at - 1], shape }) : set;
	});
}

/** Sets a colour at a time; how opaque it is stays as the channel has it there. */
export function setColour(doc: Doc, address: ChannelAddress, t: number, [r, g, b]: Readonly<Four>): Doc {
	const channel = doc.channels[channelId(address.clip, address.part, address.property, address.component)];
	const shown: Four = [0, 0, 0, 1];
	if (channel) evaluateVector(vectorOf(channel, doc.clips[channel.clip]), t, shown);
	return setVector(doc, address, t, [r, g, b, shown[3]]);
}

/** Applies an edit that may put keys on the curve, whatever the channel's keys hold. */
export function editOnCurve(
	doc: Doc,
	channel: Channel,
	edit: (keys: Key[], context: CurveContext) => Key[],
): Key[] {
	const context = contextOf(doc, channel);
	const clip = doc.clips[channel.clip];
	if (!isVectorChannel(channel) || !clip) return edit(channel.keys, context);
	return editVector(channel.keys, vectorOf(channel, clip), context, (keys) => edit(keys, context));
}

/** Puts a key on a channel's curve at a tick: the motion stays as it is. */
export function insertKey(doc: Doc, id: string, t: number): Doc {
	const channel = doc.channels[id];
	if (!channel) return doc;
	return withKeys(
		doc,
		channel,
		editOnCurve(doc, channel, (keys, context) => insertOnCurve(keys, t, context)),
	);
}

/**
 * Keys numbers at a tick as they are there: on their curves where they have some, else as they rest.
 * Those that a formula computes are left out, as are colours and orientations without a channel.
 */
export function keyAsIs(doc: Doc, addresses: readonly ChannelAddress[], t: number): Doc {
	return addresses.reduce((next, address) => {
		const { clip, part, property, component } = address;
		const id = channelId(clip, part, property, component);
		if (next.channels[id]) return insertKey(next, id, t);
		if (next.formulas[formulaId(clip, part, property, component)]) return next;
		return setValue(next, address, t, restValue(doc.parts[part], property, component));
	}, doc);
}

/** Keys the rest pose at a tick on every channel that a part has in a clip; whether it is shown is no pose. */
export function keyRestPose(doc: Doc, clip: string, part: string, t: number): Doc {
	const { rest, eulerOrder, colour } = doc.parts[part];
	return channelsOfClip(doc, clip)
		.filter((channel) => channel.part === part && channel.property !== 'visible')
		.reduce((next, channel) => {
			if (channel.property === 'colour') return setVector(next, channel, t, parseHex(colour));
			if (channel.property === 'orientation')
				return setVector(next, channel, t, fromEuler(rest.rotation, eulerOrder));
			return setValue(next, channel, t, restValue(doc.parts[part], channel.property, channel.component));
		}, doc);
}

export function removeKeys(doc: Doc, selection: KeySelection): Doc {
	return mapSelected(doc, selection, (keys, times) => curve.removeKeys(keys, times));
}

/** Takes away those of the picked keys that carry no motion: where the spans beside them are one. */
export function joinKeys(doc: Doc, selection: KeySelection): Doc {
	return mapSelected(doc, selection, (keys, times, channel) => {
		if (kindOf(channel.property) !== 'number') return keys;
		const context = contextOf(doc, channel);
		return [...times].reduce((next, t) => joinSpans(next, t, context) ?? next, keys);
	});
}

/** Moves picked keys in time and value; from the document as it was when the drag began. */
export function moveKeys(doc: Doc, selection: KeySelection, ticks: number, value: number): Doc {
	return mapSelected(doc, selection, (keys, times, { property }) =>
		curve.moveKeys(keys, times, ticks, kindOf(property) === 'number' ? value : 0),
	);
}

/** First and last tick of a selection; null when it is empty. */
export function extentOf(selection: KeySelection): { first: number; last: number } | null {
	let first = Infinity;
	let last = -Infinity;
	for (const times of selection.values())
		for (const t of times) {
			first = Math.min(first, t);
			last = Math.max(last, t);
		}
	return first <= last ? { first, last } : null;
}

/** How far a selection may move so that all its keys stay within 0…`length`. */
export function limitMove(selection: KeySelection, ticks: number, length: number): number {
	const extent = extentOf(selection);
	return extent ? Math.max(-extent.first, Math.min(Math.max(0, length - extent.last), ticks)) : 0;
}

/** A selection with all its ticks moved. */
export function shiftSelection(selection: KeySelection, ticks: number): Map<string, Set<number>> {
	return new Map([...selection].map(([id, times]) => [id, new Set([...times].map((t) => t + ticks))]));
}

export function setShape(doc: Doc, selection: KeySelection, shape: Shape): Doc {
	return mapSelected(doc, selection, (keys, times, { property }) =>
		kindOf(property) === 'switch' ? keys : curve.setShape(keys, times, shape),
	);
}

export function setKeyValue(doc: Doc, selection: KeySelection, value: (old: number) => number): Doc {
	return mapSelected(doc, selection, (keys, times, { property }) => {
		if (isVector(property)) return keys;
		const set = (v: number) => (kindOf(property) === 'switch' ? (value(v) >= 0.5 ? 1 : 0) : value(v));
		return keys.map((key) => (times.has(key.t) ? { ...key, v: set(key.v) } : key));
	});
}

export function setModes(doc: Doc, selection: KeySelection, mode: HandleMode): Doc {
	return mapSelected(doc, selection, (keys, times, channel) =>
		kindOf(channel.property) === 'switch'
			? keys
			: editOnCurve(doc, channel, (own, context) => curve.setModes(own, times, mode, context)),
	);
}

export function setSide(doc: Doc, id: string, t: number, side: curve.SideName, value: HandleSide): Doc {
	const channel = doc.channels[id];
	const index = channel ? curve.indexAt(channel.keys, t) : -1;
	if (index < 0) return doc;
	return withKeys(
		doc,
		channel,
		editOnCurve(doc, channel, (keys, context) => curve.setSide(keys, index, side, value, context)),
	);
}

/** Replaces parametric spans (springs, bounces, families, steps) by keys that draw the same. */
export function expandSpans(doc: Doc, selection: KeySelection): Doc {
	return mapSelected(doc, selection, (_, times, channel) =>
		editOnCurve(doc, channel, (keys, context) => {
			let next = keys;
			for (const t of times) {
				const index = curve.indexAt(next, t);
				if (index >= 0 && index < next.length - 1) next = expandSpan(next, index, context);
			}
			return next;
		}),
	);
}

/** Copies the picked keys so that the earliest lands on tick `t`, their spacing kept. */
export function duplicateKeys(doc: Doc, selection: KeySelection, t: number): Doc {
	let first = Infinity;
	for (const times of selection.values()) for (const time of times) first = Math.min(first, time);
	return mapSelected(doc, selection, (keys, times) => {
		let next = keys;
		for (const key of keys) {
			if (!times.has(key.t)) continue;
			const at = key.t - first + t;
			next = curve.putKey(next, at, key.v);
			const index = curve.indexAt(next, at);
			next = next.with(index, { ...key, t: at });
		}
		return next;
	});
}

/** Changes whole channels; ids that are none are left out. */
function changeChannels(doc: Doc, ids: readonly string[], change: (channel: Channel) => Channel): Doc {
	const channels = { ...doc.channels };
	for (const id of ids) if (channels[id]) channels[id] = change(channels[id]);
	return { ...doc, channels };
}

/** What channels do before their first key or after their last. */
export function setEnds(doc: Doc, ids: readonly string[], ends: Partial<Ends>): Doc {
	return changeChannels(doc, ids, (channel) => ({ ...channel, ends: { ...channel.ends, ...ends } }));
}

/** Whether a round can go on from where the one before it ended: not what has no more than a whole of itself. */
export function canAccumulate(property: Property): boolean {
	return kindOf(property) === 'number' && property !== 'opacity';
}

/** Whether channels go on from round to round; those that cannot stay as they are. */
export function setAccumulates(doc: Doc, ids: readonly string[], accumulates: boolean): Doc {
	return changeChannels(doc, ids, (channel) =>
		canAccumulate(channel.property) ? { ...channel, accumulates } : channel,
	);
}

export function setColourSpace(doc: Doc, ids: readonly string[], colourSpace: ColourSpace): Doc {
	return changeChannels(doc, ids, (channel) =>
		channel.property === 'colour' ? { ...channel, colourSpace } : channel,
	);
}

export function removeChannels(doc: Doc, ids: readonly string[]): Doc {
	const channels = { ...doc.channels };
	for (const id of ids) delete channels[id];
	return { ...doc, channels };
}
