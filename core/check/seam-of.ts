/** The seam of the channel that is looked at. */
import { seamOf, type Seam } from '../clip/seam';
import type { Channel } from '../document/types';
import type { Subject } from './rule';

const TOLERANCE = 0.001;

/** A channel of holds alone jumps on purpose. */
export function onlyHolds({ keys }: Channel): boolean {
	return keys.every((key) => key.shape.kind === 'hold');
}

/** How a looping channel that moves meets its start, and whether it does not close; null for others. */
export function seamHere({ channel, clip, curve, range }: Subject): (Seam & { isOpen: boolean }) | null {
	if (clip.loop.mode === 'once' || range === 0 || onlyHolds(channel)) return null;
	const rotates = channel.property === 'rotation';
	const seam = seamOf(curve, clip, { rotates, accumulates: channel.accumulates });
	return { ...seam, isOpen: Math.abs(seam.gap) > TOLERANCE * range };
}
