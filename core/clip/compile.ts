/** A clip ready to play: its channels compiled, each bound to a slot of a pose buffer. */
import { compileCurve, type CompiledCurve } from '../curve/compile';
import { evaluateCurve } from '../curve/evaluate';
import { compileVector, evaluateVector, progressKeys, type VectorCurve } from '../curve/vector';
import {
	channelsOfClip,
	componentsOf,
	isVector,
	MOST_WEIGHTS,
	partsInTree,
	PROPERTIES,
	type Channel,
	type Clip,
	type Component,
	type Doc,
	type Drawing,
	type Part,
	type Property,
} from '../document/types';
import { drawnWith, numbersOf, restValue } from '../document/rest';
import { parseHex } from '../pose/colour';
import { closestEuler, toEuler, type Quaternion } from '../pose/quaternion';
import { ActiveSpans } from './active-spans';
import { contextOfChannel } from './context';
import { compileFormulas, runFormulas, type CompiledFormulas } from './formulas';
import { localTime } from './loop';

/**
 * Numbers a part takes in a pose buffer: translation xyz, rotation xyz in degrees, scale xyz, opacity, visible (0 or
 * 1), colour (sRGB and alpha), then those of its drawing: size xyz, corner radius, width, start and end of its stroke,
 * field of view, morph weights. An orientation is written as the rotation that means the same.
 */
const PROPERTY_OFFSET: Record<Property, number> = {
	translation: 0,
	rotation: 3,
	orientation: 3,
	scale: 6,
	opacity: 9,
	visible: 10,
	colour: 11,
	size: 15,
	radius: 18,
	stroke: 19,
	trim: 20,
	fieldOfView: 22,
	weight: 23,
};
export const POSE_STRIDE = PROPERTY_OFFSET.weight + MOST_WEIGHTS;
/** Where the numbers of the drawing begin; they go on to the end of what a part takes. */
export const DRAWING_OFFSET = PROPERTY_OFFSET.size;
export const DRAWING_PROPERTIES = PROPERTIES.filter(
	(property) => PROPERTY_OFFSET[property] >= DRAWING_OFFSET,
);

export function slotOffset(property: Property, component: Component): number {
	return PROPERTY_OFFSET[property] + componentsOf(property).indexOf(component);
}

export interface CompiledChannel {
	channel: Channel;
	curve: CompiledCurve;
	/** Index into the pose buffer. */
	slot: number;
	/** What an accumulating channel gains each round. */
	change: number;
}

/** A colour or an orientation. */
export interface CompiledVector {
	channel: Channel;
	vector: VectorCurve;
	slot: number;
	part: Part;
}

export interface CompiledClip {
	clip: Clip;
	/** Parents before children; part i owns the numbers from i · POSE_STRIDE. */
	parts: readonly Part[];
	indexOfPart: ReadonlyMap<string, number>;
	/** The pose at rest. */
	rest: Float64Array;
	channels: readonly CompiledChannel[];
	vectors: readonly CompiledVector[];
	formulas: CompiledFormulas;
	active: ActiveSpans;
}

interface Cached {
	key: string;
	curve: CompiledCurve;
	vector: VectorCurve | null;
}
const cache = new WeakMap<Channel, Cached>();

/** What a channel compiles to, kept for as long as neither it nor what it needs of its clip changes. */
function compiledOf(channel: Channel, clip: Clip): Cached {
	const context = contextOfChannel(channel, clip);
	const key = context.repeats ? `r${clip.length}` : '';
	const cached = cache.get(channel);
	if (cached?.key === key) return cached;
	const { keys, ends, property, colourSpace } = channel;
	let made: Cached;
	if (isVector(property)) {
		const vector = compileVector(
			keys,
			ends,
			context,
			property === 'orientation' ? 'turn' : (colourSpace ?? 'linear'),
		);
		made = { key, curve: vector.progress, vector };
	} else made = { key, curve: compileCurve(keys, ends, context), vector: null };
	cache.set(channel, made);
	return made;
}

/** The compiled curve of a channel; of a colour or an orientation its progress, where key i is i. */
export function curveOf(channel: Channel, clip: Clip): CompiledCurve {
	return compiledOf(channel, clip).curve;
}

/** The compiled curve of a colour or an orientation. */
export function vectorOf(channel: Channel, clip: Clip): VectorCurve {
	return compiledOf(channel, clip).vector!;
}

/** Keys as the curve of a channel has them: of a colour or an orientation, those of its progress. */
export function curveKeys(channel: Channel): readonly Channel['keys'][number][] {
	return isVector(channel.property) ? progressKeys(channel.keys) : channel.keys;
}

export function writeRest(part: Part, out: Float64Array, at: number): void {
	out.set(part.rest.translation, at);
	out.set(part.rest.rotation, at + 3);
	out.set(part.rest.scale, at + 6);
	out[at + 9] = part.rest.opacity;
	out[at + 10] = part.visible ? 1 : 0;
	out.set(parseHex(part.colour), at + 11);
	for (const property of DRAWING_PROPERTIES)
		componentsOf(property).forEach((component, i) => {
			out[at + PROPERTY_OFFSET[property] + i] = restValue(part, property, component);
		});
}

/** What a part looks like in a pose: its drawing with the numbers that differ from rest, or itself where none does. */
export function drawingIn({ rest }: CompiledClip, part: Part, pose: ArrayLike<number>, at: number): Drawing {
	let drawing = part.drawing;
	for (let k = DRAWING_OFFSET; k < POSE_STRIDE; k++) {
		if (pose[at + k] === rest[at + k]) continue;
		for (const { property, component } of numbersOf(part))
			if (slotOffset(property, component) === k)
				drawing = drawnWith(drawing, property, component, pose[at + k]);
	}
	return drawing;
}

/** Compiles a clip of a document. Channels of parts that are not in the tree are left out. */
export function compileClip(doc: Doc, clip: Clip): CompiledClip {
	const parts = partsInTree(doc).map((entry) => entry.part);
	const indexOfPart = new Map(parts.map((part, index) => [part.id, index]));
	const rest = new Float64Array(parts.length * POSE_STRIDE);
	parts.forEach((part, index) => writeRest(part, rest, index * POSE_STRIDE));
	const slotOf = (part: string, property: Property, component: Component): number | null => {
		const index = indexOfPart.get(part);
		return index === undefined ? null : index * POSE_STRIDE + slotOffset(property, component);
	};
	const formulas = compileFormulas(doc, clip, rest, slotOf);
	const channels: CompiledChannel[] = [];
	const vectors: CompiledVector[] = [];
	for (const channel of channelsOfClip(doc, clip.id)) {
		const slot = slotOf(channel.part, channel.property, channel.component);
		if (slot === null || channel.keys.length === 0 || formulas.slots.has(slot)) continue;
		if (isVector(channel.property)) {
			vectors.push({ channel, slot, part: doc.parts[channel.part], vector: vectorOf(channel, clip) });
			continue;
		}
		const curve = curveOf(channel, clip);
		channels.push({
			channel,
			curve,
			slot,
			change: channel.accumulates ? evaluateCurve(curve, clip.length) - evaluateCurve(curve, 0) : 0,
		});
	}
	const active = new ActiveSpans(channels.map((channel) => channel.curve));
	return { clip, parts, indexOfPart, rest, channels, vectors, formulas, active };
}

const quaternion: Quaternion = [0, 0, 0, 1];

/** Writes a colour, or an orientation as the rotation nearest to the part's rest that means the same. */
export function writeVector({ vector, slot, part }: CompiledVector, local: number, out: Float64Array): void {
	if (vector.mix !== 'turn') {
		evaluateVector(vector, local, out, slot);
		return;
	}
	evaluateVector(vector, local, quaternion);
	out.set(closestEuler(toEuler(quaternion, part.eulerOrder), part.rest.rotation, part.eulerOrder), slot);
}

/**
 * The pose at a local time (ticks from the start of a round) in a given round, written into `out`, which holds
 * POSE_STRIDE numbers a part. Numbers and switches allocate nothing.
 */
export function evaluateRound(compiled: CompiledClip, local: number, round: number, out: Float64Array): void {
	out.set(compiled.rest);
	const { channels, vectors, active, formulas } = compiled;
	const values = active.evaluate(local);
	for (let i = 0; i < channels.length; i++) {
		const { slot, change } = channels[i];
		out[slot] = values[i] + round * change;
	}
	for (const vector of vectors) writeVector(vector, local, out);
	if (formulas.order.length > 0) runFormulas(formulas, local, out);
}

const place = { local: 0, round: 0 };

/** The pose at a time since the clip's start, its loop taken into account. Allocates nothing. */
export function evaluateClip(compiled: CompiledClip, ticks: number, out: Float64Array): void {
	localTime(compiled.clip, ticks, place);
	evaluateRound(compiled, place.local, compiled.clip.loop.mode === 'repeat' ? place.round : 0, out);
}
