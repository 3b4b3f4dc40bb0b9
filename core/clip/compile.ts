/** A clip ready to play: its channels compiled for the player, each bound to its place in a pose. */
import { ActiveSpans } from '../../player/curve/active-spans';
import { evaluateCurve } from '../../player/curve/evaluate';
import type { FlatCurve } from '../../player/curve/flat';
import { evaluateVector, type VectorCurve } from '../../player/curve/vector';
import { placeOf, type PoseLayout } from '../../player/layout';
import { evaluateRound, type Motion, type Turn } from '../../player/motion';
import { compileCurve } from '../curve/compile';
import type { CurveContext } from '../curve/handles';
import { compileVector, progressKeys } from '../curve/vector';
import {
	isVector,
	isVectorChannel,
	partsInTree,
	type Channel,
	type Clip,
	type Doc,
	type Part,
} from '../document/types';
import { contextOfChannel } from './context';
import { compileFormulas, runFormulas, type CompiledFormulas } from './formulas';
import { layoutOf, movedIn, nearestAngles, numberPlace } from './layout';

export interface CompiledChannel {
	channel: Channel;
	curve: FlatCurve;
	/** Index into a pose. */
	place: number;
	/** What an accumulating channel gains each round. */
	change: number;
}

/** A colour or an orientation. */
export interface CompiledVector {
	channel: Channel;
	vector: VectorCurve;
	/** Of its first number. */
	place: number;
	/** Of the angles of an orientation, where somebody reads them; else −1. */
	angles: number;
	part: Part;
}

/** Parts with the indices of their ids, parents before children. */
export interface PartTree {
	readonly parts: readonly Part[];
	readonly indexOfPart: ReadonlyMap<string, number>;
}

/** Parts with where their numbers lie in poses. */
export interface PosedTree extends PartTree {
	readonly layout: PoseLayout;
}

export interface CompiledClip extends Motion, PosedTree {
	readonly clip: Clip;
	readonly channels: readonly CompiledChannel[];
	readonly vectors: readonly CompiledVector[];
	readonly formulas: CompiledFormulas;
}

interface Cached {
	key: string;
	curve: FlatCurve;
	vector: VectorCurve | null;
}
const cache = new WeakMap<Channel, Cached>();

/** What a channel compiles to, kept for as long as neither it nor what it needs of its clip changes. */
function compiledOf(channel: Channel, clip: Clip): Cached {
	const context = contextOfChannel(channel, clip);
	const key = context.repeats ? `r${clip.length}` : '';
	const cached = cache.get(channel);
	if (cached?.key === key) return cached;
	const made = { key, ...compileKeys(channel, context) };
	cache.set(channel, made);
	return made;
}

function compileKeys(channel: Channel, context: CurveContext): Omit<Cached, 'key'> {
	const { ends, property, colourSpace } = channel;
	if (!isVectorChannel(channel)) return { curve: compileCurve(channel.keys, ends, context), vector: null };
	const mix = property === 'orientation' ? 'turn' : (colourSpace ?? 'linear');
	const vector = compileVector(channel.keys, ends, context, mix);
	return { curve: vector.progress, vector };
}

/** The compiled curve of a channel; of a colour or an orientation its progress, where key i is i. */
export function curveOf(channel: Channel, clip: Clip): FlatCurve {
	return compiledOf(channel, clip).curve;
}

/** The compiled curve of a colour or an orientation. Throws a TypeError for a channel of numbers. */
export function vectorOf(channel: Channel, clip: Clip): VectorCurve {
	const { vector } = compiledOf(channel, clip);
	if (!vector) throw new TypeError(`the channel ${channel.id} has numbers, not vectors`);
	return vector;
}

/** Keys as the curve of a channel has them: of a colour or an orientation, those of its progress. */
export function curveKeys(channel: Channel): readonly Channel['keys'][number][] {
	return isVector(channel.property) ? progressKeys(channel.keys) : channel.keys;
}

export function partTree(doc: Doc): PartTree {
	const parts = partsInTree(doc).map((entry) => entry.part);
	return { parts, indexOfPart: new Map(parts.map((part, index) => [part.id, index])) };
}

/** Compiles a clip of a document. Channels of parts that are not in the tree are left out. */
export function compileClip(doc: Doc, clip: Clip): CompiledClip {
	const tree = partTree(doc);
	const moved = movedIn(doc, [clip]);
	return compileInto(layoutOf(tree.parts, moved.channels, moved.formulas), tree, doc, clip, moved);
}

/** Compiles clips into poses of one layout, so that they can be blended. */
export function compileTogether(doc: Doc, clips: readonly Clip[]): CompiledClip[] {
	const tree = partTree(doc);
	const moved = movedIn(doc, clips);
	const layout = layoutOf(tree.parts, moved.channels, moved.formulas);
	return clips.map((clip) =>
		compileInto(layout, tree, doc, clip, {
			channels: moved.channels.filter((channel) => channel.clip === clip.id),
			formulas: moved.formulas.filter((formula) => formula.clip === clip.id),
		}),
	);
}

function compileInto(
	layout: PoseLayout,
	tree: PartTree,
	doc: Doc,
	clip: Clip,
	moved: ReturnType<typeof movedIn>,
): CompiledClip {
	const formulas = compileFormulas(doc, clip, layout, moved.formulas);
	const channels: CompiledChannel[] = [];
	const vectors: CompiledVector[] = [];
	for (const channel of moved.channels) {
		const { part, property, component, keys, accumulates } = channel;
		const place = numberPlace(layout, part, property, component);
		if (place < 0 || keys.length === 0 || formulas.places.has(place)) continue;
		if (isVector(property)) {
			const angles = property === 'orientation' ? placeOf(layout, part, 'angles') : -1;
			vectors.push({ channel, place, angles, part: doc.parts[part], vector: vectorOf(channel, clip) });
			continue;
		}
		const curve = curveOf(channel, clip);
		const change = accumulates ? evaluateCurve(curve, clip.length) - evaluateCurve(curve, 0) : 0;
		channels.push({ channel, curve, place, change });
	}
	return {
		...tree,
		clip,
		length: clip.length,
		loop: clip.loop,
		layout,
		channels,
		...flatChannels(channels),
		vectors,
		turns: turnsOf(layout, tree, channels, formulas),
		formulas,
		compute: computeOf(vectors, formulas),
	};
}

type FlatChannels = Pick<Motion, 'spans' | 'places' | 'gains' | 'travels'>;

/** Channels as the player evaluates them. */
export function flatChannels(channels: readonly CompiledChannel[]): FlatChannels {
	return {
		spans: new ActiveSpans(channels.map(({ curve }) => curve)),
		places: Int32Array.from(channels, ({ place }) => place),
		gains: Float64Array.from(channels, ({ change }) => change),
		travels: channels.filter(({ channel }) => channel.accumulates).map(({ place }) => place),
	};
}

/** The rotations that channels or formulas of their angles make. */
function turnsOf(
	layout: PoseLayout,
	{ parts }: PartTree,
	channels: readonly CompiledChannel[],
	{ order }: CompiledFormulas,
): Turn[] {
	const turned = new Set<string>();
	for (const { channel } of channels) if (channel.property === 'rotation') turned.add(channel.part);
	for (const { formula } of order) if (formula.property === 'rotation') turned.add(formula.part);
	return parts
		.filter(({ id }) => turned.has(id))
		.map(({ id, eulerOrder }) => ({
			angles: placeOf(layout, id, 'angles'),
			rotation: placeOf(layout, id, 'rotation'),
			order: eulerOrder,
		}));
}

/** Runs formulas, and before them works out the angles of orientations that they may read. */
function computeOf(vectors: readonly CompiledVector[], formulas: CompiledFormulas): Motion['compute'] {
	if (formulas.order.length === 0) return null;
	const read = vectors.filter(({ angles }) => angles >= 0);
	return (local, pose) => {
		for (const vector of read) writeAngles(vector, pose);
		runFormulas(formulas, local, pose);
	};
}

function writeAngles({ place, angles, part }: CompiledVector, pose: Float64Array): void {
	const [x, y, z, w] = pose.subarray(place, place + 4);
	pose.set(nearestAngles([x, y, z, w], part), angles);
}

/** Writes a colour, or an orientation with the angles that are read of it. */
export function writeVector(compiled: CompiledVector, local: number, pose: Float64Array): void {
	evaluateVector(compiled.vector, local, pose, compiled.place);
	if (compiled.angles >= 0) writeAngles(compiled, pose);
}

/** The pose at a local time (ticks) of a round, in an array of its own. */
export function poseAt(compiled: CompiledClip, local: number, round = 0): Float64Array {
	const pose = new Float64Array(compiled.layout.rest.length);
	evaluateRound(compiled, local, round, pose);
	return pose;
}
