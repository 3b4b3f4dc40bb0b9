/** Keys of a lane as stakes, those of a part as a column, handles of the picked ones, and where a span goes astray. */
import { spanAt } from '$core/curve/edit';
import { spanHandles, type CurveContext } from '$core/curve/handles';
import { spanExcess } from '$core/curve/excess';
import { isOnFrame } from '$core/time';
import { kindOf } from '$core/document/types';
import { writeNumber } from '$lib/ui/number-text';
import { TALL } from './lane-view.svelte';
import type { LanePicture, Palette } from './picture';
import { drawText } from '$lib/ui/canvas-text';
import { columnTimes, type LaneRow, type PartRow } from './rows';
import { valueY } from './scale';

/** Nearer than this many pixels keys are drawn as plain lines. */
const CROWDED = 5;

export const HEAD_RADIUS = 4;
/** The stake of a key between frames: it does not stand firm. */
const BETWEEN_FRAMES = [2, 3];

interface Stake {
	x: number;
	y: number;
	isPicked: boolean;
	isOff: boolean;
}

/** Stakes of one look, from the floor to their heads. */
function drawStems(c: CanvasRenderingContext2D, stakes: readonly Stake[], floor: number): void {
	for (const isOff of [false, true]) {
		const alike = stakes.filter((stake) => stake.isOff === isOff);
		if (alike.length === 0) continue;
		c.beginPath();
		for (const { x, y } of alike) {
			c.moveTo(x, floor);
			c.lineTo(x, y);
		}
		if (isOff) c.setLineDash(BETWEEN_FRAMES);
		c.stroke();
		c.setLineDash([]);
	}
}

function circles(c: CanvasRenderingContext2D, stakes: readonly Stake[], radius: number): void {
	c.beginPath();
	for (const { x, y } of stakes) {
		c.moveTo(x + radius, y);
		c.arc(x, y, radius, 0, 2 * Math.PI);
	}
}

/** Stakes with a head each; picked ones over the others, in colour and with a halo. */
function drawStakes(
	c: CanvasRenderingContext2D,
	stakes: readonly Stake[],
	floor: number,
	radius: number,
	p: Palette,
) {
	for (const isPicked of [false, true]) {
		const alike = stakes.filter((stake) => stake.isPicked === isPicked);
		if (alike.length === 0) continue;
		c.strokeStyle = isPicked ? p.lake : p.ink;
		c.lineWidth = isPicked ? 1.5 : 1;
		drawStems(c, alike, floor);
		if (isPicked) {
			c.fillStyle = p.lake;
			c.globalAlpha = 0.25;
			circles(c, alike, radius + 4);
			c.fill();
			c.globalAlpha = 1;
		}
		circles(c, alike, radius);
		c.fillStyle = isPicked ? p.lake : p.sheet;
		c.fill();
		c.stroke();
	}
}

export function drawKeys(c: CanvasRenderingContext2D, row: LaneRow, top: number, picture: LanePicture): void {
	const picked = picture.keys.get(row.id);
	const range = picture.range(row);
	const floor = top + row.height - 1;
	const radius = row.height < 30 ? 2.6 : HEAD_RADIUS;
	const keys = row.channel.keys;
	const from = Math.max(0, spanAt(keys, picture.ticksAt(-8)));
	const to = picture.ticksAt(picture.width + 8);
	const stakes: Stake[] = [];
	let lastX = -Infinity;
	c.globalAlpha = 0.35;
	c.fillStyle = picture.palette.ink;
	// Of a crowd one line a pixel is drawn, to the highest key there.
	let [crowdX, crowdY] = [-Infinity, floor];
	const endCrowd = () => {
		if (crowdY < floor) c.fillRect(crowdX, Math.round(crowdY), 1, floor - Math.round(crowdY));
		crowdY = floor;
	};
	for (let i = from; i < keys.length && keys[i].t <= to; i++) {
		const { t, v } = keys[i];
		const x = picture.x(t);
		const isPicked = picked?.has(t) ?? false;
		const y = top + valueY(v, range, row.height);
		if (x - lastX < CROWDED && !isPicked) {
			if (Math.round(x) !== crowdX) {
				endCrowd();
				crowdX = Math.round(x);
			}
			crowdY = Math.min(crowdY, y);
			continue;
		}
		lastX = x;
		stakes.push({ x, y, isPicked, isOff: !isOnFrame(t, picture.frameRate) });
	}
	endCrowd();
	c.globalAlpha = 1;
	drawStakes(c, stakes, floor, radius, picture.palette);
}

/** Whether a lane is tall enough for a value axis and handles. */
export function showsHandles(row: LaneRow): boolean {
	return row.height >= TALL * 0.6 && kindOf(row.channel.property) === 'number';
}

export interface HandlePoint {
	side: 'left' | 'right';
	t: number;
	v: number;
}

/** Where the handles of a key end, for spans that have any. */
export function handlePoints(row: LaneRow, index: number, context: CurveContext): HandlePoint[] {
	const { keys } = row.channel;
	const points: HandlePoint[] = [];
	const key = keys[index];
	if (index > 0 && keys[index - 1].shape.kind === 'handles') {
		const { inReach, inRise } = spanHandles(keys, index - 1, context);
		points.push({ side: 'left', t: key.t - inReach * (key.t - keys[index - 1].t), v: key.v + inRise });
	}
	if (index < keys.length - 1 && key.shape.kind === 'handles') {
		const { outReach, outRise } = spanHandles(keys, index, context);
		points.push({ side: 'right', t: key.t + outReach * (keys[index + 1].t - key.t), v: key.v + outRise });
	}
	return points;
}

export function drawHandles(
	c: CanvasRenderingContext2D,
	row: LaneRow,
	top: number,
	picture: LanePicture,
): void {
	const picked = picture.keys.get(row.id);
	if (!picked) return;
	const range = picture.range(row);
	const context = picture.context(row);
	row.channel.keys.forEach((key, index) => {
		if (!picked.has(key.t)) return;
		const x0 = picture.x(key.t);
		const y0 = top + valueY(key.v, range, row.height);
		for (const point of handlePoints(row, index, context)) {
			const x = picture.x(point.t);
			const y = top + valueY(point.v, range, row.height);
			c.strokeStyle = picture.palette.lake;
			c.lineWidth = 1;
			c.beginPath();
			c.moveTo(x0, y0);
			c.lineTo(x, y);
			c.stroke();
			c.fillStyle = picture.palette.ink;
			c.fillRect(x - 3, y - 3, 6, 6);
		}
	});
}

/** What is less than this share of the lane's range is not worth a mark. */
const NOTICEABLE = 0.005;

/** Where a span beside a picked key leaves the values of its keys: in rust, with how far it goes. */
export function drawExcess(
	c: CanvasRenderingContext2D,
	row: LaneRow,
	top: number,
	picture: LanePicture,
): void {
	const picked = picture.keys.get(row.id);
	const curve = picture.curve(row.id);
	if (!picked || !curve) return;
	const { keys } = row.channel;
	const range = picture.range(row);
	const least = NOTICEABLE * (range.high - range.low);
	const { rust } = picture.palette;
	c.strokeStyle = c.fillStyle = rust;
	keys.forEach((key, index) => {
		const next = keys[index + 1];
		if (!next || !(picked.has(key.t) || picked.has(next.t))) return;
		const excess = spanExcess(curve, key, next);
		if (!excess) return;
		c.lineWidth = 3;
		c.beginPath();
		let inside = true;
		for (const { t, v, out } of excess.way) {
			if (out > least) {
				const [x, y] = [picture.x(t), top + valueY(v, range, row.height)];
				if (inside) c.moveTo(x, y);
				else c.lineTo(x, y);
			}
			inside = !(out > least);
		}
		c.stroke();
		const say = (by: number, t: number, v: number, word: string) => {
			if (by <= least) return;
			const y = top + valueY(v, range, row.height);
			const beside = y - 9 < top + 6 ? y + 11 : y - 9;
			drawText(c, `${writeNumber(by, 3)} ${word}`, picture.x(t) + 6, beside, { colour: rust });
		};
		say(excess.past, excess.pastAt, excess.pastValue, 'past');
		say(excess.back, excess.backAt, excess.backValue, 'back first');
	});
}

/** Pixels of the bar that tells when a part is shown, at the foot of its row. */
export const LIFE_BAR = 4;

/** Whether the ends of a part's life can be taken hold of: of the part in hand, and of what has one of its own. */
export function canChangeLife(row: PartRow, picture: LanePicture): boolean {
	return row.hasLife || row.id === picture.pickedPart;
}

/** When a part is shown: strong where it has a life of its own, and with grips where it can be changed. */
function drawLives(c: CanvasRenderingContext2D, row: PartRow, top: number, picture: LanePicture): void {
	const { palette } = picture;
	const y = top + row.height - LIFE_BAR - 1;
	c.fillStyle = row.hasLife ? palette.hues.visible : palette.muted;
	for (const { from, to } of row.lives ?? []) {
		const [x, end] = [picture.x(from), picture.x(to)];
		c.globalAlpha = row.hasLife ? 0.75 : 0.22;
		c.fillRect(x, y, end - x, LIFE_BAR);
		c.globalAlpha = 1;
		if (!canChangeLife(row, picture)) continue;
		c.fillRect(x, y - 4, 3, LIFE_BAR + 4);
		c.fillRect(end - 3, y - 4, 3, LIFE_BAR + 4);
	}
}

export function drawPart(c: CanvasRenderingContext2D, row: PartRow, top: number, picture: LanePicture): void {
	const { palette } = picture;
	c.fillStyle = palette.band;
	c.fillRect(0, top, picture.width, row.height);
	drawLives(c, row, top, picture);
	const picked = row.channels.flatMap(({ id }) => picture.keys.get(id) ?? []);
	const stakes: Stake[] = [];
	let lastX = -Infinity;
	for (const t of columnTimes(row.channels)) {
		const x = picture.x(t);
		if (x < -8 || x > picture.width + 8 || x - lastX < 2) continue;
		lastX = x;
		const isPicked = picked.some((times) => times.has(t));
		stakes.push({ x, y: top + 8, isPicked, isOff: !isOnFrame(t, picture.frameRate) });
	}
	c.lineWidth = 1.5;
	for (const isPicked of [false, true]) {
		const alike = stakes.filter((stake) => stake.isPicked === isPicked);
		if (alike.length === 0) continue;
		c.strokeStyle = c.fillStyle = isPicked ? palette.lake : palette.ink;
		drawStems(c, alike, top + row.height - 4);
		circles(c, alike, 2.6);
		c.fill();
	}
}
