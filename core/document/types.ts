/** The document: one project as a set of small entities by id. Immutable in memory; edits make new ones. */
import { EDGES, MOST_WEIGHTS, type Drawing } from './drawing';
import type { Reference, Sound } from './aids';
import type { Ends } from '../../player/curve/flat';
import type { Key, VectorKey } from '../curve/types';
import type { Loop } from '../../player/loop';
import type { Shape } from '../../player/easing/shape';
import type { ColourSpace } from '../../player/maths/colour';
import type { EulerOrder } from '../../player/maths/quaternion';
import type { Space } from '../pose/space';
import type { Vec3 } from '../../player/maths/vector';
import type { Motion } from './motions';
import type { Profile } from './profiles';
import type { Rehearsal } from './rehearsals';
import type { Take } from './takes';
import type { Layer, Mix, Trigger } from './triggers';

export * from './aids';
export * from './drawing';

export interface Project {
	type: 'project';
	id: string;
	name: string;
	/** World: metres, y up. Interface: pixels, y down. */
	space: Space;
	/** Whole frames a second. */
	frameRate: number;
	/** Frames between the places that drags along time snap to, 0 for none; a frame where it is absent. */
	snapStep?: number;
	/** In pixels: a screen that the interface is made for, its upper left corner at the origin. */
	screen?: { width: number; height: number };
}

export const MOST_NUMBERS = 8;

/** A number of one's own that a part has, for what code reads: a sound's volume, a blur. */
export interface OwnNumber {
	/** Its component, which it keeps whatever it is called. */
	key: OwnKey;
	name: string;
	/** As it is written behind a number; empty for none. */
	unit: string;
	low: number;
	high: number;
	/** At rest. */
	value: number;
}
export type OwnKey = `n${number}`;

/** Translation in units, rotation in degrees, scale as factors, opacity in 0…1. */
export interface RestPose {
	translation: Vec3;
	rotation: Vec3;
	scale: Vec3;
	opacity: number;
}

export interface Part {
	type: 'part';
	id: string;
	name: string;
	parent: string | null;
	order: string;
	drawing: Drawing;
	/** `#rrggbb`. */
	colour: string;
	rest: RestPose;
	eulerOrder: EulerOrder;
	visible: boolean;
	/** Absent where there are none. */
	numbers?: readonly OwnNumber[];
}

/** A finding of the checks that is meant to be so, found again by its rule, its place and its time. */
export interface Intended {
	rule: string;
	/** Id of the channel or formula; null for what concerns the whole clip. */
	channel: string | null;
	/** Ticks. */
	t: number;
	reason: string;
}

export interface Clip {
	type: 'clip';
	id: string;
	name: string;
	order: string;
	/** Ticks. */
	length: number;
	loop: Loop;
	note: string;
	reference?: Reference;
	sound?: Sound;
	/** Findings that are meant to be so; absent where there are none. */
	intended?: readonly Intended[];
}

export const PROPERTIES = [
	'translation',
	'rotation',
	'orientation',
	'scale',
	'opacity',
	'visible',
	'colour',
	'size',
	'radius',
	'stroke',
	'trim',
	'fieldOfView',
	'weight',
	'reveal',
	'custom',
] as const;
export type Property = (typeof PROPERTIES)[number];
/** Morph weights are `w0` … `w7`, numbers of one's own `n0` … `n7`; a trim has the `start` and the `end` of a stroke. */
export type Component =
	'x' | 'y' | 'z' | 'value' | 'start' | 'end' | (typeof EDGES)[number] | `w${number}` | OwnKey;

/** What a channel's keys hold: a number, 0 or 1 held, a colour or a unit quaternion. */
export type ChannelKind = 'number' | 'switch' | 'colour' | 'orientation';

export function kindOf(property: Property): ChannelKind {
	if (property === 'visible') return 'switch';
	return property === 'colour' || property === 'orientation' ? property : 'number';
}

/** Whether keys hold four numbers (a colour or an orientation) in `vector`, and `v` says nothing. */
export function isVector(property: Property): boolean {
	return property === 'colour' || property === 'orientation';
}

export interface Channel {
	type: 'channel';
	/** `clip/part/property/component`, so there cannot be two for one thing. */
	id: string;
	clip: string;
	part: string;
	property: Property;
	component: Component;
	keys: Key[];
	ends: Ends;
	/** Adds its change over a round in every later round of a repeating clip: it travels. */
	accumulates: boolean;
	/** Colours only: where they are mixed; linear light when absent. */
	colourSpace?: ColourSpace;
}

/** A channel of colours or orientations. */
export interface VectorChannel extends Channel {
	keys: VectorKey[];
}

/** Whether a channel's keys hold vectors: those of a checked document do where its property says so. */
export function isVectorChannel(channel: Channel): channel is VectorChannel {
	return isVector(channel.property);
}

/** What a name in a formula stands for: another channel of the clip, or a constant. */
export type FormulaInput = { part: string; property: Property; component: Component } | { value: number };

/** Computes one number of a part from others, instead of keys. It goes before a channel for the same. */
export interface Formula {
	type: 'formula';
	/** The id of the channel that it stands for, and `/formula`. */
	id: string;
	clip: string;
	part: string;
	property: Property;
	component: Component;
	text: string;
	inputs: Readonly<Record<string, FormulaInput>>;
}

export interface Cue {
	type: 'cue';
	id: string;
	clip: string;
	name: string;
	t: number;
	payload: unknown;
}

export const BLEND_KINDS = ['crossfade', 'inertial', 'cut'] as const;
export type BlendKind = (typeof BLEND_KINDS)[number];

/** How one clip gives way to another. */
export interface Blend {
	type: 'blend';
	/** `from/to/blend`: one for each pair. */
	id: string;
	from: string;
	to: string;
	kind: BlendKind;
	seconds: number;
	/** Where the next clip begins: at its start, at the phase of the one that goes, or at a time in seconds. */
	start: 'start' | 'phase' | number;
	/** Weight of the next clip over a crossfade. */
	shape: Shape;
}

/** A shape of the user's own, in the sheet beside those that come with Hillock. */
export interface SavedShape {
	type: 'savedShape';
	id: string;
	name: string;
	order: string;
	shape: Shape;
}

export type Entity =
	| Project
	| Part
	| Clip
	| Channel
	| Formula
	| Cue
	| Blend
	| SavedShape
	| Trigger
	| Layer
	| Mix
	| Rehearsal
	| Profile
	| Motion
	| Take;

export interface Doc {
	project: Project;
	parts: Readonly<Record<string, Part>>;
	clips: Readonly<Record<string, Clip>>;
	channels: Readonly<Record<string, Channel>>;
	formulas: Readonly<Record<string, Formula>>;
	cues: Readonly<Record<string, Cue>>;
	blends: Readonly<Record<string, Blend>>;
	shapes: Readonly<Record<string, SavedShape>>;
	triggers: Readonly<Record<string, Trigger>>;
	layers: Readonly<Record<string, Layer>>;
	mixes: Readonly<Record<string, Mix>>;
	rehearsals: Readonly<Record<string, Rehearsal>>;
	profiles: Readonly<Record<string, Profile>>;
	motions: Readonly<Record<string, Motion>>;
	takes: Readonly<Record<string, Take>>;
}

/** The maps of a document, and which of them holds which type of entity. */
export const MAPS = [
	'parts',
	'clips',
	'channels',
	'formulas',
	'cues',
	'blends',
	'shapes',
	'triggers',
	'layers',
	'mixes',
	'rehearsals',
	'profiles',
	'motions',
	'takes',
] as const;
export type MapName = (typeof MAPS)[number];
export const MAP_OF = {
	part: 'parts',
	clip: 'clips',
	channel: 'channels',
	formula: 'formulas',
	cue: 'cues',
	blend: 'blends',
	savedShape: 'shapes',
	trigger: 'triggers',
	layer: 'layers',
	mix: 'mixes',
	rehearsal: 'rehearsals',
	profile: 'profiles',
	motion: 'motions',
	take: 'takes',
} as const satisfies Record<Exclude<Entity['type'], 'project'>, MapName>;

export const AXES = ['x', 'y', 'z'] as const;
const VALUE = ['value'] as const;
const TRIM = ['start', 'end'] as const;
const OWN = Array.from({ length: MOST_NUMBERS }, (_, i): OwnKey => `n${i}`);
const WEIGHTS = Array.from({ length: MOST_WEIGHTS }, (_, i): Component => `w${i}`);

export function componentsOf(property: Property): readonly Component[] {
	switch (property) {
		case 'translation':
		case 'rotation':
		case 'scale':
		case 'size':
			return AXES;
		case 'trim':
			return TRIM;
		case 'weight':
			return WEIGHTS;
		case 'reveal':
			return EDGES;
		case 'custom':
			return OWN;
		default:
			return VALUE;
	}
}

/** A document with nothing in it but its project. */
export function emptyDoc(project: Project): Doc {
	return { project, ...(Object.fromEntries(MAPS.map((map) => [map, {}])) as Omit<Doc, 'project'>) };
}

export function channelId(clip: string, part: string, property: Property, component: Component): string {
	return `${clip}/${part}/${property}/${component}`;
}

export function formulaId(clip: string, part: string, property: Property, component: Component): string {
	return `${channelId(clip, part, property, component)}/formula`;
}

export function blendId(from: string, to: string): string {
	return `${from}/${to}/blend`;
}

/** By their fractional order, ties by id, so that every reader sees the same order. */
export function byOrder(a: { order: string; id: string }, b: { order: string; id: string }): number {
	if (a.order !== b.order) return a.order < b.order ? -1 : 1;
	return a.id < b.id ? -1 : 1;
}

/** Entities of a map in their order. */
export function inOrder<E extends { order: string; id: string }>(map: Readonly<Record<string, E>>): E[] {
	return Object.values(map).sort(byOrder);
}

export function clipsInOrder(doc: Doc): Clip[] {
	return inOrder(doc.clips);
}

/** Children of a part (or the roots, for null) in order. */
export function childrenOf(doc: Doc, parent: string | null): Part[] {
	return Object.values(doc.parts)
		.filter((part) => part.parent === parent)
		.sort(byOrder);
}

/** All parts, parents before their children, each with its depth. Parts whose parents form a ring are left out. */
export function partsInTree(doc: Doc): { part: Part; depth: number }[] {
	const children = new Map<string | null, Part[]>();
	for (const part of Object.values(doc.parts)) {
		const list = children.get(part.parent);
		if (list) list.push(part);
		else children.set(part.parent, [part]);
	}
	const result: { part: Part; depth: number }[] = [];
	const stack: { part: Part; depth: number }[] = [];
	const push = (parent: string | null, depth: number) => {
		const list = children.get(parent)?.sort(byOrder) ?? [];
		for (let i = list.length - 1; i >= 0; i--) stack.push({ part: list[i], depth });
	};
	push(null, 0);
	for (let next = stack.pop(); next; next = stack.pop()) {
		result.push(next);
		push(next.part.id, next.depth + 1);
	}
	return result;
}

/** The formulas of a clip, in no particular order. */
export function formulasOfClip(doc: Doc, clip: string): Formula[] {
	return Object.values(doc.formulas).filter((formula) => formula.clip === clip);
}

/** Cues of a clip by their times. */
export function cuesOfClip(doc: Doc, clip: string): Cue[] {
	const own = Object.values(doc.cues).filter((cue) => cue.clip === clip);
	return own.sort((a, b) => a.t - b.t || (a.id < b.id ? -1 : 1));
}

/** The channels of a clip, in no particular order. */
export function channelsOfClip(doc: Doc, clip: string): Channel[] {
	return Object.values(doc.channels).filter((channel) => channel.clip === clip);
}
