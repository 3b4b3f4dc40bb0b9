/** How far what is written may be off. */
import type { Track } from './track';

/** A path's own bound, in the project's units, goes before the relative one. */
export interface Bounds {
	/** Fraction of each path's range over the clip; for rotations of 180°. */
	relative: number;
	/** Units of the project (metres, pixels). */
	translation?: number;
	/** Degrees. */
	rotation?: number;
	scale?: number;
	/** Of all other numbers, each in its own unit. */
	number?: number;
}

export const DEFAULT_BOUNDS: Bounds = { relative: 0.001 };

/** The bound that is set for a path itself. */
export function ownBound(bounds: Bounds, path: string): number | undefined {
	return path === 'translation' || path === 'rotation' || path === 'scale' ? bounds[path] : bounds.number;
}

/** Degrees, and steps of the largest value, below which no float32 file can be. */
const LEAST_TURN = 4e-5;
const LEAST_SHARE = 4 * 2 ** -23;

/** The bound of a track in the format's units, and the factor that takes errors back to the project's. */
export function boundOf(track: Track, bounds: Bounds): { bound: number; toProject: number } {
	const { path, unit, range, largest } = track;
	const own = ownBound(bounds, path);
	const wanted = own === undefined ? bounds.relative * range : own * unit;
	const floor = path === 'rotation' ? LEAST_TURN : LEAST_SHARE * largest;
	return { bound: Math.max(wanted, floor, 1e-12), toProject: 1 / unit };
}
