/** How far what is written may be off. */
import type { Terms, Track } from './track';

/** A path's own bound, in the project's units, goes before the relative one. */
export interface Bounds {
	/** Fraction of each path's range over the clip; for rotations of 180°. */
	relative: number;
	/** Units of the project (metres, pixels). */
	translation?: number;
	/** Degrees. */
	rotation?: number;
	scale?: number;
}

export const DEFAULT_BOUNDS: Bounds = { relative: 0.001 };

/** Degrees, and steps of the largest value, below which no float32 file can be. */
const LEAST_TURN = 4e-5;
const LEAST_SHARE = 4 * 2 ** -23;

/** The bound of a track in the format's units, and the factor that takes errors back to the project's. */
export function boundOf(track: Track, terms: Terms, bounds: Bounds): { bound: number; toProject: number } {
	const unit = track.path === 'rotation' ? 1 : Math.abs(terms.factors[track.path][0]);
	const own = bounds[track.path];
	const wanted = own === undefined ? bounds.relative * track.range : own * unit;
	const floor = track.path === 'rotation' ? LEAST_TURN : LEAST_SHARE * track.largest;
	return { bound: Math.max(wanted, floor, 1e-12), toProject: 1 / unit };
}
