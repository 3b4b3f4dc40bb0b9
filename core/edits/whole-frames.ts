/** Keys between frames, and back on frames. */
import { channelsOfClip, type Doc } from '../document/types';
import type { Key } from '../curve/types';
import { isOnFrame, snapToFrame } from '../time';
import type { KeySelection } from './keys';

/** Keys of a clip that stand between frames. */
export function keysOffFrames(doc: Doc, clip: string): Map<string, Set<number>> {
	const { frameRate } = doc.project;
	const found = new Map<string, Set<number>>();
	for (const { id, keys } of channelsOfClip(doc, clip)) {
		const times = keys.filter(({ t }) => !isOnFrame(t, frameRate)).map(({ t }) => t);
		if (times.length > 0) found.set(id, new Set(times));
	}
	return found;
}

/**
 * Where the keys of a channel stand when those at some ticks go to the whole frames nearest to them: the nearest first.
 * One stays where it is where another key has its frame, or would be passed by.
 */
function settledTimes(keys: readonly Key[], times: ReadonlySet<number>, frameRate: number): number[] {
	const settled = keys.map(({ t }) => t);
	const away = (i: number) => Math.abs(snapToFrame(keys[i].t, frameRate) - keys[i].t);
	const moving = [...keys.keys()].filter((i) => times.has(keys[i].t)).sort((a, b) => away(a) - away(b));
	for (const i of moving) {
		const wanted = snapToFrame(keys[i].t, frameRate);
		if (wanted > (settled[i - 1] ?? -1) && wanted < (settled[i + 1] ?? Infinity)) settled[i] = wanted;
	}
	return settled;
}

/** Moves picked keys to the whole frames nearest to them, within their clips; gives where they are picked then. */
export function toWholeFrames(
	doc: Doc,
	selection: KeySelection,
): { doc: Doc; keys: Map<string, Set<number>> } {
	const channels = { ...doc.channels };
	const picked = new Map<string, Set<number>>();
	for (const [id, times] of selection) {
		const channel = channels[id];
		if (!channel) continue;
		const settled = settledTimes(channel.keys, times, doc.project.frameRate);
		const isMoved = settled.some((t, i) => t !== channel.keys[i].t);
		if (isMoved)
			channels[id] = { ...channel, keys: channel.keys.map((key, i) => ({ ...key, t: settled[i] })) };
		const own = settled.filter((_, i) => times.has(channel.keys[i].t));
		if (own.length > 0) picked.set(id, new Set(own));
	}
	return { doc: { ...doc, channels }, keys: picked };
}
