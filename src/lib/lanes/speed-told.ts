import { unitAt } from '$core/document/units';
import { clamp, ticksToFrame } from '$core/time';
import { evaluateCurve } from '$player/curve/evaluate';
import { hasSpeed, speedAt, tellSpeed } from '$lib/session/lane-speed';
import { writeNumber } from '$lib/ui/number-text';
import type { Session } from '$lib/session/session.svelte';
import type { Hit } from './hit';
import type { LanePicture } from './picture';

/** Of a lane that shows its speed: what it and its value are at a pixel across; else nothing. */
export function speedTold({ doc, frameRate }: Session, picture: LanePicture, hit: Hit, x: number): string {
	if (!('row' in hit) || hit.row.kind !== 'lane' || !picture.showsSpeed(hit.row.id)) return '';
	const { channel } = hit.row;
	const curve = picture.curve(hit.row.id);
	if (!curve || !hasSpeed(channel)) return '';
	const t = clamp(picture.ticksAt(x), 0, picture.length);
	const unit = unitAt(doc, channel);
	const value = `${writeNumber(evaluateCurve(curve, t), 2)}${unit}`;
	const frame = writeNumber(ticksToFrame(t, frameRate), 1);
	return ` · frame ${frame}: ${value}, ${tellSpeed(speedAt(curve, t), unit)}`;
}
