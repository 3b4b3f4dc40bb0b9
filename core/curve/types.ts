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

export interface Key {
	t: number;
	v: number;
	/** Belongs to the span that starts at this key. */
	shape: Shape;
	/** Colours: sRGB red, green, blue, alpha in 0…1; orientations: unit quaternion x, y, z, w. `v` is 0 then. */
	vector?: Four;
	/** Orientations with the shape `tangents`: change of the quaternion a second, on each side. */
	tangents?: { left: Four; right: Four };
	/** The side towards the key before. */
	left?: HandleSide;
	/** The side towards the key after. */
	right?: HandleSide;
}
