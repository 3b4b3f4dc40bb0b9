/** How far what is written may be off. */
import type { Track } from './track';

/** A path's own bound, in the project's units, goes before the relative one; what a part says goes before all. */
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
	/** Of single parts, by their ids. */
	parts?: PartsBounds;
}

/** Bounds of parts, by their ids: `relative` for all of one, and of its paths by what reports call them. */
export type PartsBounds = Readonly<Record<string, Readonly<Record<string, number>>>>;

export const DEFAULT_BOUNDS: Bounds = { relative: 0.001 };

/** The bound of a path of a part, in the project's units (degrees, of rotations), where it has this range. */
export function wantedBound(bounds: Bounds, part: string, path: string, range: number): number {
	const own = bounds.parts?.[part];
	if (own?.[path] !== undefined) return own[path];
	if (own?.relative !== undefined) return own.relative * range;
	const ofAll =
		path === 'translation' || path === 'rotation' || path === 'scale' ? bounds[path] : bounds.number;
	return ofAll ?? bounds.relative * range;
}

/** Degrees, and steps of the largest value, below which no float32 file can be. */
const LEAST_TURN = 4e-5;
const LEAST_SHARE = 4 * 2 ** -23;

/** The bound of a track in the format's units, and the factor that takes errors back to the project's. */
export function boundOf(track: Track, bounds: Bounds): { bound: number; toProject: number } {
	const { part, path, unit, range, largest } = track;
	const wanted = wantedBound(bounds, part.id, path, range / unit) * unit;
	const floor = path === 'rotation' ? LEAST_TURN : LEAST_SHARE * largest;
	return { bound: Math.max(wanted, floor, 1e-12), toProject: 1 / unit };
}
