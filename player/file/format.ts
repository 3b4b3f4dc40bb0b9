/**
 * The clip file, as docs/formats/clip.md tells it: plain JSON in which all that is many is whole numbers. Times are
 * ticks, values multiples of their curve's quantum, both written as differences from one key to the next.
 */
import type { Span, SpanHandles } from '../curve/build';
import type { EndKind } from '../curve/flat';
import type { VectorCurve } from '../curve/vector';
import type { LoopMode } from '../loop';
import type { EulerOrder } from '../maths/quaternion';
import type { LayerOptions, Names } from '../clips';
import type { PlayerTrigger } from '../triggers';

export const CLIP_FILE = 'hillock-clips';
export const CLIP_FILE_VERSION = 1;

/** What a span begins with; larger numbers, less SPAN_SHAPE, are places in the list of shapes. */
export const FILE_HOLD = 0;
export const FILE_LINEAR = 1;
/** A cubic polynomial in time: two rises follow, from its first key and from its last, in quanta. */
export const FILE_CUBIC = 2;
/** A Bezier in time and value: two reaches follow, in shares of REACH, then two rises. */
export const FILE_BEZIER = 3;
export const FILE_SHAPE = 4;
/** The reach of a handle as long as its span. */
export const REACH = 2 ** 20;

/** What spans refer to: all that is told by names. */
export type FileShape = Exclude<Span, SpanHandles>;

const XYZ = ['x', 'y', 'z'];
/** Paths whose numbers have names, and these; all others are one number, or four of a colour. */
export const NAMED: Readonly<Record<string, readonly string[]>> = {
	translation: XYZ,
	rotation: XYZ,
	scale: XYZ,
	size: XYZ,
	trim: ['start', 'end'],
	reveal: ['top', 'right', 'bottom', 'left'],
	weight: ['w0', 'w1', 'w2', 'w3', 'w4', 'w5', 'w6', 'w7'],
	custom: ['n0', 'n1', 'n2', 'n3', 'n4', 'n5', 'n6', 'n7'],
};

/** A part turns and grows about its own origin. */
export interface FilePart {
	name: string;
	/** Place in the list of parts, where it stands before this one; none when absent. */
	parent?: number;
	/** In which its three angles turn it: XYZ when absent. */
	order?: EulerOrder;
	/**
	 * By path; rotation in degrees. Absent are a translation and a rotation of 0, a scale of 1, and other paths that
	 * nothing moves.
	 */
	rest?: Record<string, number[]>;
	/** What its numbers of one's own are called, n0 … n7. */
	numbers?: Record<string, string>;
}

interface FileKeys {
	/** Place in the list of parts. */
	part: number;
	/** What of it, and which number: `scale.x`, `opacity`, of vectors `colour` and `orientation`. */
	path: string;
	/** Ticks: the first key's, then differences. */
	times: number[];
	quantum: number;
	/** Of each span what it does: a number, and what follows it. One number alone: all spans are that. */
	spans: number[] | number;
	before?: EndKind;
	after?: EndKind;
}

export interface FileCurve extends FileKeys {
	/** In quanta: the first key's, then differences. */
	values: number[];
	/** Value units a tick before the first key and after the last, where an end goes straight on. */
	slopes?: number[];
	/** What every later round adds, in value units: as exact as it can be, since it adds up. */
	gain?: number;
}

/** Colours and orientations: four numbers a key. Spans say how far it is from one key to the next, from 0 to 1. */
export interface FileVector extends FileKeys {
	mix: VectorCurve['mix'];
	/** In quanta: four of the first key, then differences. */
	rows: number[];
	/**
	 * Of each span eight numbers in quanta, null where it is no cubic spline: what the four numbers change by over the
	 * span's time, at its start and at its end.
	 */
	tangents?: (number[] | null)[];
}

export interface FileCue {
	name: string;
	/** Ticks. */
	t: number;
	payload: unknown;
}

export interface FileClip {
	name: string;
	/** Ticks. */
	length: number;
	/** Plays once when absent; without a count for ever, without a pause (ticks) there is none. */
	loop?: { mode: LoopMode; count?: number; pause?: number };
	curves: FileCurve[];
	vectors?: FileVector[];
	/** In the order of their times. */
	cues?: FileCue[];
}

export interface FileBlend {
	/** Places in the list of clips. */
	from: number;
	to: number;
	kind: 'crossfade' | 'inertial' | 'cut';
	seconds: number;
	/** At its start when absent. */
	start?: 'phase' | { seconds: number };
	/** Weight over progress, as one span from 0 to 1; straight where there is none. */
	ease?: { quantum: number; span: number[] };
}

/** Clips that play as one, at one phase; a parameter says how much each counts. Played as clips are, by its name. */
export interface FileMix {
	name: string;
	parameter: string;
	/** How long it takes to come in and to go. */
	seconds: number;
	/** Two or more, by their places in the list of clips: where along the parameter each plays alone. */
	stops: { clip: number; at: number }[];
}

export interface ClipFile<N extends Names = Names> {
	format: typeof CLIP_FILE;
	version: number;
	/** In a second. */
	ticks: number;
	/** A world has y up and metres, an interface y down and pixels. */
	space: 'world' | 'interface';
	/** Parents before children. */
	parts: FilePart[];
	/** What spans refer to. */
	shapes: FileShape[];
	clips: FileClip[];
	blends: FileBlend[];
	/** None when absent. */
	mixes?: FileMix[];
	/** By names, as a player takes them; none when absent. */
	triggers?: PlayerTrigger<N>[];
	/** From below; none when absent. */
	layers?: ({ name: string } & LayerOptions<N>)[];
}
