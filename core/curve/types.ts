/** Keys of a channel and what it does beyond them, as they are stored. Times in ticks, values in the channel's own units. */
import type { Shape } from '../../player/easing/shape';
import type { Four } from '../../player/maths/vector';

export const HANDLE_MODES = ['smooth', 'flat', 'joined', 'split'] as const;
export type HandleMode = (typeof HANDLE_MODES)[number];

/**
 * One side of a key. `reach` is a fraction of the span in 0…1, `rise` a value offset from the key to the handle's
 * end. Absent numbers: a third, and the slope that the mode says (or the span's own).
 */
export interface HandleSide {
	mode: HandleMode;
	reach?: number;
	rise?: number;
}

interface KeyBase {
	t: number;
	/** Belongs to the span that starts at this key. */
	shape: Shape;
	/** The side towards the key before. */
	left?: HandleSide;
	/** The side towards the key after. */
	right?: HandleSide;
}

export interface NumberKey extends KeyBase {
	v: number;
	vector?: undefined;
	tangents?: undefined;
}

/** A key of a colour or an orientation; its `v` says nothing and is 0. */
export interface VectorKey extends KeyBase {
	v: number;
	/** Colours: sRGB red, green, blue, alpha in 0…1; orientations: unit quaternion x, y, z, w. */
	vector: Four;
	/** Orientations with the shape `tangents`: change of the quaternion a second, on each side. */
	tangents?: { left: Four; right: Four };
}

export type Key = NumberKey | VectorKey;
