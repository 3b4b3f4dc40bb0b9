/**
 * The clip file, as docs/formats/clip.md tells it: plain JSON in which all that is many is whole numbers. Times are
 * ticks, values multiples of their curve's quantum, both written as differences from one key to the next.
 */
import type { EndKind } from '../curve/flat';
import type { VectorCurve } from '../curve/vector';
import type { Shape } from '../easing/shape';
import type { TargetKind } from '../layout';
import type { Loop } from '../loop';
import type { EulerOrder } from '../maths/quaternion';

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

/** A part turns and grows about its own origin. */
export interface FilePart {
	name: string;
	/** Place in the list of parts, where it stands before this one; −1 for none. */
	parent: number;
	/** In which its three angles turn it. */
	order: EulerOrder;
	/** At rest. */
	translation: number[];
	/** A unit quaternion, xyzw. */
	rotation: number[];
	scale: number[];
}

/** What some clip moves: the numbers of a pose in their order. */
export interface FileTarget {
	/** Place in the list of parts. */
	part: number;
	path: string;
	kind: TargetKind;
	rest: number[];
}

interface FileKeys {
	/** Place in the list of targets. */
	target: number;
	/** Ticks: the first key's, then differences. */
	times: number[];
	quantum: number;
	/** Of each span what it does: a number, and what follows it. One number alone: all spans are that. */
	spans: number[] | number;
	before?: EndKind;
	after?: EndKind;
}

export interface FileCurve extends FileKeys {
	/** Which number of the target. */
	component: number;
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
	loop: Loop;
	curves: FileCurve[];
	vectors: FileVector[];
	/** In the order of their times. */
	cues: FileCue[];
}

export interface FileBlend {
	/** Places in the list of clips. */
	from: number;
	to: number;
	kind: 'crossfade' | 'inertial' | 'cut';
	seconds: number;
	start: 'start' | 'phase' | { seconds: number };
	/** Weight over progress, as one span from 0 to 1; straight where there is none. */
	ease?: { quantum: number; span: number[] };
}

export interface ClipFile {
	format: typeof CLIP_FILE;
	version: number;
	/** In a second. */
	ticks: number;
	/** A world has y up and metres, an interface y down and pixels. */
	space: 'world' | 'interface';
	/** Parents before children. */
	parts: FilePart[];
	targets: FileTarget[];
	/** What spans refer to. */
	shapes: Shape[];
	clips: FileClip[];
	blends: FileBlend[];
}
