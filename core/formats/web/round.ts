/** A round of a browser's animation: a clip with its pause. */
import type { Clip } from '../../document/types';
import { STRAIGHT, type Frame } from './frames';

/** Where in a round of the animation a clip's own time lies: pauses are part of it. */
export function roundOf({ length, loop }: Clip): { before: number; all: number } {
	if (loop.mode === 'once' || loop.pause === 0) return { before: 0, all: length };
	// There and back a browser turns the pause as well: half of it lies at each end.
	return { before: loop.mode === 'alternate' ? loop.pause / 2 : 0, all: length + loop.pause };
}

/** Frames of a clip as frames of its round, which rests in the pauses. */
export function framesOfRound(frames: readonly Frame[], clip: Clip): Frame[] {
	const { before, all } = roundOf(clip);
	const own = frames.map((frame) => ({ ...frame, at: (before + frame.at * clip.length) / all }));
	if (before > 0) own.unshift({ ...own[0], at: 0, easing: STRAIGHT });
	if (before + clip.length < all) own.push({ ...own.at(-1)!, at: 1, easing: STRAIGHT });
	return own;
}
