/** What is told of a file that was written, all of it as read back. */

export interface TrackReport {
	/** `clip/part/path`, of their ids. */
	id: string;
	/** The part's name in the file. */
	part: string;
	path: string;
	/** In the format's words. */
	encoding: string;
	/** Whether the keys are the motion itself, not a fit. */
	exact: boolean;
	/** Whether the error holds everywhere; of a formula it is the largest of very many places. */
	guaranteed: boolean;
	/** That its keys are at a fixed rate, whatever error comes of that. */
	baked?: true;
	keys: number;
	bytes: number;
	/** What the same track costs as 60 Hz LINEAR keys. */
	bakedBytes: number;
	/** In the project's units; degrees for rotations. */
	bound: number;
	error: number;
	/** Seconds. */
	errorAt: number;
}

/** What a clip moves and the format cannot say. */
export interface LeftOut {
	part: string;
	what: string;
	why: string;
}

export interface ClipReport {
	clip: string;
	name: string;
	seconds: number;
	tracks: TrackReport[];
	leftOut: LeftOut[];
}

/** How far a part's origin is off in the world. */
export interface OriginError {
	part: string;
	clip: string;
	/** In the project's units. */
	error: number;
	seconds: number;
}

export interface ShipReport {
	clips: ClipReport[];
	/** Parts that the file draws plainer than they are, in words. */
	plainer: string[];
	/** The farthest that an origin is off; null where nothing is. */
	origin: OriginError | null;
	/** The farthest that one slides while it stands still in the project, with all that it hangs on. */
	contact: OriginError | null;
}

/** Largest error over its bound, of all tracks whose errors are guaranteed: at most 1, unless keys are at a fixed rate. */
export function worstShare({ clips }: Pick<ShipReport, 'clips'>): number {
	const tracks = clips.flatMap((clip) => clip.tracks).filter(({ guaranteed }) => guaranteed);
	return tracks.reduce((worst, { error, bound }) => Math.max(worst, error / bound), 0);
}

/** Tracks of formulas: their errors may be larger between the places that were looked at. */
export function measuredOnly({ clips }: Pick<ShipReport, 'clips'>): number {
	return clips.flatMap((clip) => clip.tracks).filter(({ guaranteed }) => !guaranteed).length;
}

/** What is left out, in words. */
export function tellLeftOut({ part, what, why }: LeftOut): string {
	return `${part} / ${what}: ${why}`;
}
