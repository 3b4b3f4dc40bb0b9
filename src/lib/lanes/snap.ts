/** Where what is dragged along time comes to rest: on frames, keys, cues and the playhead, whichever is nearest. */
import { bisectLeft } from 'd3-array';
import type { KeySelection } from '$core/edits/keys';
import { channelsOfClip } from '$core/document/types';
import { frameToTicks, snapToFrame, ticksToFrame } from '$core/time';
import { cuesAlong } from '$lib/acts/move-keys';
import type { Session } from '$lib/session/session.svelte';
import { fastestOf, hasSpeed } from '$lib/session/lane-speed';
import type { LaneView } from './lane-view.svelte';

/** Pixels from which a key, a cue or the playhead draws. */
const REACH = 7;

/** What is being dragged, and so draws nothing. */
interface Moving {
	keys?: KeySelection;
	cue?: string;
	playhead?: boolean;
}

function nearest(sorted: readonly number[], wanted: number): number | null {
	const at = bisectLeft(sorted, wanted);
	const [before, after] = [sorted[at - 1], sorted[at]];
	if (before === undefined || after === undefined) return before ?? after ?? null;
	return wanted - before <= after - wanted ? before : after;
}

/** Says of each wanted time in ticks where it comes to rest; `free` is how Ctrl wants it. */
export type Snap = (wanted: number, free: boolean) => number;

/** Made when a drag begins, of what stands still. */
export function makeSnapper(
	session: Session,
	view: Pick<LaneView, 'snap' | 'ticksPerPixel'>,
	moving: Moving = {},
): Snap {
	const { clip, doc, frameRate, transport } = session;
	const { snap } = view;
	const step = doc.project.snapStep ?? 1;
	const places = new Set<number>();
	if (clip && snap.keys)
		for (const { id, keys } of channelsOfClip(doc, clip.id)) {
			const own = moving.keys?.get(id);
			for (const { t } of keys) if (!own?.has(t)) places.add(t);
		}
	if (clip && snap.cues) {
		const own = new Set([moving.cue, ...(moving.keys ? cuesAlong(session, moving.keys) : [])]);
		for (const cue of Object.values(doc.cues))
			if (cue.clip === clip.id && !own.has(cue.id)) places.add(cue.t);
	}
	// Where something is fastest another can be put in its place unseen.
	if (clip)
		for (const id of session.view.speeds) {
			const channel = doc.channels[id];
			if (channel?.clip === clip.id && hasSpeed(channel)) {
				const { at } = fastestOf(channel, clip);
				places.add(step > 0 ? snapToFrame(at, frameRate) : Math.round(at));
			}
		}
	if (snap.playhead && !moving.playhead) places.add(Math.round(transport.local));
	const sorted = [...places].sort((a, b) => a - b);
	return (wanted, free) => {
		if (free) return Math.round(wanted);
		const frames = step > 0 ? Math.round(ticksToFrame(wanted, frameRate) / step) * step : null;
		const onGrid = frames === null ? Math.round(wanted) : frameToTicks(frames, frameRate);
		const place = nearest(sorted, wanted);
		if (place === null || Math.abs(place - wanted) > REACH * view.ticksPerPixel) return onGrid;
		// The grid holds too where it is nearer, so that a neighbour does not draw a key off its frame.
		return frames === null || Math.abs(place - wanted) < Math.abs(onGrid - wanted) ? place : onGrid;
	};
}
