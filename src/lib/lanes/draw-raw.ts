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

/** Samples that are looked at together where very many lie on a pixel. */
const BLOCK = 64;
interface Blocks {
	lows: Float32Array;
	highs: Float32Array;
}
const blocks = new WeakMap<Float32Array, Blocks>();

/** The lowest and the highest of every so many samples, found once; NaN where all of them are gaps. */
function blocksOf(values: Float32Array): Blocks {
	const known = blocks.get(values);
	if (known) return known;
	const count = Math.ceil(values.length / BLOCK);
	const made = { lows: new Float32Array(count).fill(NaN), highs: new Float32Array(count).fill(NaN) };
	for (let i = 0; i < values.length; i++) {
		const [k, v] = [Math.floor(i / BLOCK), values[i]];
		// Nothing is more or less than NaN.
		if (!(made.lows[k] <= v) && !Number.isNaN(v)) made.lows[k] = v;
		if (!(made.highs[k] >= v) && !Number.isNaN(v)) made.highs[k] = v;
	}
	blocks.set(values, made);
	return made;
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
	let from = Math.max(0, sampleFrom(times, picture.ticksAt(first)) - 1);
	let to = Math.min(times.length - 1, sampleFrom(times, picture.ticksAt(last)));
	const isCrowd = to - from > BLOCK * Math.max(1, last - first);
	const step = isCrowd ? BLOCK : 1;
	const { lows, highs } = isCrowd ? blocksOf(values) : { lows: values, highs: values };
	if (isCrowd) [from, to] = [Math.floor(from / BLOCK), Math.floor(to / BLOCK)];
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
		if (Number.isNaN(lows[i])) {
			flush();
			column = { x: -Infinity, low: 0, high: 0 };
			isOpen = false;
			continue;
		}
		const x = picture.x(times[i * step]);
		// Up is less.
		const [high, low] = [top + valueY(lows[i], range, height), top + valueY(highs[i], range, height)];
		if (x - column.x < COLUMN) {
			column.low = Math.min(column.low, low);
			column.high = Math.max(column.high, high);
		} else {
			flush();
			column = { x, low, high };
		}
	}
	flush();
	c.stroke();
	c.globalAlpha = 1;
}
