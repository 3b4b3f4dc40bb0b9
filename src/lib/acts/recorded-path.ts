/** What is driven as it goes without a device: numbers over a clip's time, and the way of a part along its path. */
import { curveOf } from '$core/clip/compile';
import { restValue } from '$core/document/rest';
import type { TakeColumn } from '$core/document/takes';
import { AXES, channelId, type Clip, type Doc } from '$core/document/types';
import { evaluateCurve } from '$player/curve/evaluate';

/** What a number is over the clip's time. */
export function valueOver(doc: Doc, clip: Clip, column: TakeColumn): (ticks: number) => number {
	const { part, property, component } = column;
	const channel = doc.channels[channelId(clip.id, part, property, component)];
	if (!channel) {
		const rest = restValue(doc.parts[part], property, component);
		return () => rest;
	}
	const curve = curveOf(channel, clip);
	return (ticks) => evaluateCurve(curve, ticks);
}

/** The numbers in which a part goes along a path in a clip; none where it has no path. */
export function pathColumns(doc: Doc, clip: string, part: string): TakeColumn[] {
	const columns = AXES.map((component): TakeColumn => ({ part, property: 'translation', component }));
	const own = columns.filter(
		(column) => doc.channels[channelId(clip, part, 'translation', column.component)],
	);
	const moves = own.some(
		({ component }) => doc.channels[channelId(clip, part, 'translation', component)].keys.length > 1,
	);
	return moves ? own : [];
}

const PLACES = 300;
/** As far as this on the screen, in pixels, it is to the other end of the path for one who goes on along it. */
const LEAP = 160;

/** Times between two ticks at which a path is looked at. */
export function placesBetween({ from, to }: { from: number; to: number }): number[] {
	return Array.from({ length: PLACES + 1 }, (_, i) => from + ((to - from) * i) / PLACES);
}

/**
 * Which share of a path is nearest to a point on the screen. Where the path crosses itself, or comes near itself, it goes on from
 * where it was.
 */
export function nearestShare(
	path: readonly { x: number; y: number }[],
	point: { x: number; y: number },
	before: number | null,
): number {
	let [best, nearest] = [0, Infinity];
	for (let i = 0; i + 1 < path.length; i++) {
		const [a, b] = [path[i], path[i + 1]];
		const [dx, dy] = [b.x - a.x, b.y - a.y];
		const square = dx * dx + dy * dy;
		const along = square > 0 ? ((point.x - a.x) * dx + (point.y - a.y) * dy) / square : 0;
		const u = Math.min(1, Math.max(0, along));
		const share = (i + u) / (path.length - 1);
		const off = Math.hypot(point.x - a.x - u * dx, point.y - a.y - u * dy);
		const cost = Math.hypot(off, before === null ? 0 : LEAP * (share - before));
		if (cost < nearest) [best, nearest] = [share, cost];
	}
	return best;
}
