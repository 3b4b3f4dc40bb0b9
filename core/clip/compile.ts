/** A clip ready to play: its channels compiled, each bound to a slot of a pose buffer. */
import { compileCurve, type CompiledCurve } from '../curve/compile';
import { evaluateCurve } from '../curve/evaluate';
import { ActiveSpans } from './active-spans';
import {
	AXES,
	PROPERTIES,
	channelsOfClip,
	componentsOf,
	partsInTree,
	type Channel,
	type Clip,
	type Component,
	type Doc,
	type Part,
	type Property,
} from '../document/types';
import { localTime } from './loop';

/** Numbers a part takes in a pose buffer: translation xyz, rotation xyz in degrees, scale xyz, opacity. */
export const POSE_STRIDE = 10;
const PROPERTY_OFFSET: Record<Property, number> = { translation: 0, rotation: 3, scale: 6, opacity: 9 };

export function slotOffset(property: Property, component: Component): number {
	return PROPERTY_OFFSET[property] + (component === 'value' ? 0 : AXES.indexOf(component));
}

/** Property and component that each slot of a part holds: the inverse of `slotOffset`. */
export const SLOTS: readonly { property: Property; component: Component }[] = PROPERTIES.flatMap((property) =>
	componentsOf(property).map((component) => ({ property, component })),
);

export interface CompiledChannel {
	channel: Channel;
	curve: CompiledCurve;
	/** Index into the pose buffer. */
	slot: number;
	/** What an accumulating channel gains each round. */
	change: number;
}

export interface CompiledClip {
	clip: Clip;
	/** Parents before children; part i owns the numbers from i · POSE_STRIDE. */
	parts: readonly Part[];
	indexOfPart: ReadonlyMap<string, number>;
	/** The pose at rest. */
	rest: Float64Array;
	channels: readonly CompiledChannel[];
	active: ActiveSpans;
}

const curveCache = new WeakMap<Channel, { key: string; curve: CompiledCurve }>();

/** The compiled curve of a channel, kept for as long as neither it nor what it needs of its clip changes. */
export function curveOf(channel: Channel, clip: Clip): CompiledCurve {
	const repeats = clip.loop.mode === 'repeat';
	const key = repeats ? `r${clip.length}` : '';
	const cached = curveCache.get(channel);
	if (cached?.key === key) return cached.curve;
	const curve = compileCurve(channel.keys, channel.ends, {
		repeats,
		length: clip.length,
		accumulates: channel.accumulates,
	});
	curveCache.set(channel, { key, curve });
	return curve;
}

export function writeRest(part: Part, out: Float64Array, at: number): void {
	out.set(part.rest.translation, at);
	out.set(part.rest.rotation, at + 3);
	out.set(part.rest.scale, at + 6);
	out[at + 9] = part.rest.opacity;
}

/** Compiles a clip of a document. Channels of parts that are not in the tree are left out. */
export function compileClip(doc: Doc, clip: Clip): CompiledClip {
	const parts = partsInTree(doc).map((entry) => entry.part);
	const indexOfPart = new Map(parts.map((part, index) => [part.id, index]));
	const rest = new Float64Array(parts.length * POSE_STRIDE);
	parts.forEach((part, index) => writeRest(part, rest, index * POSE_STRIDE));
	const channels: CompiledChannel[] = [];
	for (const channel of channelsOfClip(doc, clip.id)) {
		const index = indexOfPart.get(channel.part);
		if (index === undefined || channel.keys.length === 0) continue;
		const curve = curveOf(channel, clip);
		channels.push({
			channel,
			curve,
			slot: index * POSE_STRIDE + slotOffset(channel.property, channel.component),
			change: channel.accumulates ? evaluateCurve(curve, clip.length) - evaluateCurve(curve, 0) : 0,
		});
	}
	const active = new ActiveSpans(channels.map((channel) => channel.curve));
	return { clip, parts, indexOfPart, rest, channels, active };
}

/**
 * The pose at a local time (ticks from the start of a round) in a given round, written into `out`, which holds
 * POSE_STRIDE numbers a part. Allocates nothing.
 */
export function evaluateRound(compiled: CompiledClip, local: number, round: number, out: Float64Array): void {
	out.set(compiled.rest);
	const { channels, active } = compiled;
	const values = active.evaluate(local);
	for (let i = 0; i < channels.length; i++) {
		const { slot, change } = channels[i];
		out[slot] = values[i] + round * change;
	}
}

const place = { local: 0, round: 0 };

/** The pose at a time since the clip's start, its loop taken into account. Allocates nothing. */
export function evaluateClip(compiled: CompiledClip, ticks: number, out: Float64Array): void {
	localTime(compiled.clip, ticks, place);
	evaluateRound(compiled, place.local, compiled.clip.loop.mode === 'repeat' ? place.round : 0, out);
}
