/** Where the last key of a channel stands against the end of its clip. */
import { frameToTicks } from '../time';
import { onlyHolds } from './seam-of';
import type { Subject } from './rule';

/** How near to the end of the clip a last key counts as meant for it, in frames. */
const STRAY = 3;

/** Of a looping channel that moves and does not end with its clip: how far away it ends; null for others. */
export function endHere({ channel, clip, doc, range }: Subject): {
	t: number;
	/** Ticks that are left after it; below 0 where it ends after the clip. */
	away: number;
	/** Ticks within which a last key is meant for the end. */
	reach: number;
	frames: number;
} | null {
	const { keys } = channel;
	if (clip.loop.mode === 'once' || keys.length < 2 || range < 1e-9 || onlyHolds(channel)) return null;
	const { t } = keys.at(-1)!;
	const away = clip.length - t;
	if (away === 0) return null;
	const frame = frameToTicks(1, doc.project.frameRate);
	return { t, away, reach: STRAY * frame, frames: Math.abs(away) / frame };
}
