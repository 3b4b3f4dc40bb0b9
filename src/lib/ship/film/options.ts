/** What is chosen of a film, and how long that makes it: without anything that draws. */
import type { Clip } from '$core/document/types';
import { TICKS_PER_SECOND } from '$player/time';

/** How a film is made. */
export interface FilmOptions {
	/** Pixels. */
	width: number;
	height: number;
	/** Frames per second. */
	rate: number;
	/** How fast the clip plays in it: 1 is its own speed. */
	speed: number;
	/** How often a clip that goes round is shown. */
	rounds: number;
	/** The stretch of the clip that is shown, in ticks; null for all of it. */
	range: { from: number; to: number } | null;
	/** A colour of CSS behind all, or null for none. */
	ground: string | null;
	/** Pictures that each frame is the mean of: 1 is a sharp one. */
	blur: number;
}

/** Frames and pixels of a film beyond which no page should go. */
export const MOST_FRAMES = 1800;
export const MOST_SIDE = 2048;
/** Ticks that a film shows of a clip. */
export function shownTicks({ length, loop }: Clip, { rounds, range }: FilmOptions): number {
	if (range) return range.to - range.from;
	return loop.mode === 'once' ? length : Math.max(1, rounds) * (length + loop.pause);
}

/** Whether it ends elsewhere than where it begins: the end is a frame of its own then. */
export function showsOnce({ loop }: Clip, { range }: FilmOptions): boolean {
	return loop.mode === 'once' || range !== null;
}

export function frameCount(clip: Clip, options: FilmOptions): number {
	const seconds = shownTicks(clip, options) / TICKS_PER_SECOND / options.speed;
	// What goes round ends where it begins: that picture would be there twice.
	return Math.max(1, Math.ceil(seconds * options.rate - 1e-6) + (showsOnce(clip, options) ? 1 : 0));
}
