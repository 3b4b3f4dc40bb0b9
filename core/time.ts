/** Frames exist on screen and in files only, and are converted to ticks here. */
import { TICKS_PER_SECOND } from '../player/time';

/** The longest clip: 600 s. */
export const MAX_CLIP_TICKS = 600 * TICKS_PER_SECOND;

/** Nearest tick to a frame (which may be fractional) at a rate in frames a second. */
export function frameToTicks(frame: number, frameRate: number): number {
	return Math.round((frame * TICKS_PER_SECOND) / frameRate);
}

/** The frame that a tick stands at, fractional between frames. */
export function ticksToFrame(ticks: number, frameRate: number): number {
	return (ticks * frameRate) / TICKS_PER_SECOND;
}

/** The tick of the whole frame nearest to `ticks`. */
export function snapToFrame(ticks: number, frameRate: number): number {
	return frameToTicks(Math.round(ticksToFrame(ticks, frameRate)), frameRate);
}

/** Whether a tick is where some whole frame is, after the frame's own rounding to ticks. */
export function isOnFrame(ticks: number, frameRate: number): boolean {
	return snapToFrame(ticks, frameRate) === ticks;
}

/**
 * How many different pictures a clip shows in a round: N + 1 when it plays once or alternates, N when it repeats,
 * since the end of a round is the start of the next.
 */
export function pictureCount(lengthTicks: number, frameRate: number, repeats: boolean): number {
	const frames = Math.round(ticksToFrame(lengthTicks, frameRate));
	return repeats ? frames : frames + 1;
}

export function clamp(value: number, low: number, high: number): number {
	return value < low ? low : value > high ? high : value;
}
