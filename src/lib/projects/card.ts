import type { Space } from '$core/pose/space';

/** A project as the page of all projects lists it. */
export interface ProjectCard {
	id: string;
	name: string;
	space: Space;
	frameRate: number;
	clips: number;
	firstClip: string | null;
	parts: number;
	revision: number;
	/** ISO 8601. */
	updatedAt: string;
	bytes: number;
	/** A few profiles of the first clip, values in 0…1. */
	ridges: number[][];
}
