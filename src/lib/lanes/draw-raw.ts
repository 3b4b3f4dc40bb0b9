/** What was recorded of a lane, before it was cleaned: pale, as it is, gaps too. */
import { sampleFrom } from '$core/takes/sample-from';
import type { RawColumn } from '$lib/acts/take-work.svelte';
import { extentOf, type LanePicture } from './picture';
import type { LaneRow } from './rows';
import { valueY } from './scale';

const PALE = 0.5;
/** Samples nearer to each other than this are drawn as one stroke from the lowest to the highest. */
const COLUMN = 1;

export function drawRaw(c: CanvasRenderingContext2D, row: LaneRow, top: number, picture: LanePicture): void {
	const raw = picture.raw(row.id);
	if (!raw) return;
	strokeRaw(c, raw, top, row.height, picture.range(row), picture);
}

function strokeRaw(
	c: CanvasRenderingContext2D,
	{ times, values }: RawColumn,
	top: number,
	height: number,
	range: { low: number; high: number },
	picture: LanePicture,
): void {
	const { first, last } = extentOf(picture);
	const from = Math.max(0, sampleFrom(times, picture.ticksAt(first)) - 1);
	const to = Math.min(times.length - 1, sampleFrom(times, picture.ticksAt(last)));
	c.strokeStyle = picture.palette.ink;
	c.globalAlpha = PALE;
	c.lineWidth = 1;
	c.beginPath();
	let isOpen = false;
	let column = { x: -Infinity, low: 0, high: 0 };
	const put = (x: number, y: number) => {
		if (isOpen) c.lineTo(x, y);
		else c.moveTo(x, y);
		isOpen = true;
	};
	const flush = () => {
		if (column.x === -Infinity) return;
		put(column.x, column.low);
		if (column.high !== column.low) c.lineTo(column.x, column.high);
	};
	for (let i = from; i <= to; i++) {
		if (Number.isNaN(values[i])) {
			flush();
			column = { x: -Infinity, low: 0, high: 0 };
			isOpen = false;
			continue;
		}
		const x = picture.x(times[i]);
		const y = top + valueY(values[i], range, height);
		if (x - column.x < COLUMN) {
			column.low = Math.min(column.low, y);
			column.high = Math.max(column.high, y);
		} else {
			flush();
			column = { x, low: y, high: y };
		}
	}
	flush();
	c.stroke();
	c.globalAlpha = 1;
}
