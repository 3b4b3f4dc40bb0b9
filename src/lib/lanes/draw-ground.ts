/** The ground of a lane: its profile shaded by steepness, colours as strips, switches as bars, other versions over it. */
import { localTime } from '$player/loop';
import { evaluateCurve } from '$player/curve/evaluate';
import type { FlatCurve } from '$player/curve/flat';
import { isVector, kindOf } from '$core/document/types';
import { writeHex } from '$core/pose/hex';
import { angleBetween } from '$player/maths/quaternion';
import { TICKS_PER_SECOND } from '$player/time';
import { extentOf, roundsOf, type LaidOver, type LanePicture } from './picture';
import type { FormulaRow, LaneRow } from './rows';
import { valueY, type ValueRange } from './scale';

const COLUMN = 2;
const SHADES = 32;

interface Profile {
	top: number;
	height: number;
	range: ValueRange;
	hue: string;
	bold: boolean;
	read: (ticks: number, round?: number) => number;
	/** Ground of what is computed is hatched, not shaded. */
	hatched: boolean;
}

function drawProfile(c: CanvasRenderingContext2D, profile: Profile, picture: LanePicture): void {
	const { length } = picture;
	const { top, height, range, hue, read } = profile;
	const floor = top + height - 1;
	const { first, last } = extentOf(picture);
	if (last <= first) return;
	const columns = Math.max(1, Math.ceil((last - first) / COLUMN));
	const ys = new Float64Array(columns + 1);
	const slopes = new Uint8Array(columns);
	const secondsPerColumn = (picture.ticksAt(COLUMN) - picture.ticksAt(0)) / TICKS_PER_SECOND;
	const span = Math.max(range.high - range.low, 1e-12);
	let before = 0;
	for (let i = 0; i <= columns; i++) {
		const value = read(Math.min(length, picture.ticksAt(Math.min(last, first + i * COLUMN))));
		ys[i] = top + valueY(value, range, height);
		if (i > 0) {
			// Speed in lane heights a second: a lane crossed in a third of a second is half shaded.
			const speed = Math.abs(value - before) / span / secondsPerColumn;
			slopes[i - 1] = Math.round((SHADES * speed) / (speed + 3));
		}
		before = value;
	}
	if (profile.hatched) hatchGround(c, { first, last, floor, top, hue, ys });
	else {
		// One path a shade: a lane of many keys changes its shade at every column.
		const paths = new Map<number, Path2D>();
		for (let i = 0; i < columns;) {
			let end = i + 1;
			while (end < columns && slopes[end] === slopes[i]) end++;
			let path = paths.get(slopes[i]);
			if (!path) paths.set(slopes[i], (path = new Path2D()));
			path.moveTo(first + i * COLUMN, floor);
			for (let k = i; k <= end; k++) path.lineTo(Math.min(last, first + k * COLUMN), ys[k]);
			path.lineTo(Math.min(last, first + end * COLUMN), floor);
			i = end;
		}
		c.fillStyle = hue;
		for (const [shade, path] of paths) {
			c.globalAlpha = 0.1 + (0.62 * shade) / SHADES;
			c.fill(path);
		}
		c.globalAlpha = 1;
	}
	c.strokeStyle = hue;
	c.lineWidth = profile.bold ? 2 : 1.5;
	c.lineJoin = 'round';
	c.beginPath();
	for (let i = 0; i <= columns; i++) c.lineTo(Math.min(last, first + i * COLUMN), ys[i]);
	c.stroke();
}

/** How much of a later round shows. */
const PALE = 0.4;

/** What a loop goes on to after its first round, in pale. */
function drawRounds(
	c: CanvasRenderingContext2D,
	{ top, height, range, hue }: Pick<Profile, 'top' | 'height' | 'range' | 'hue'>,
	read: (ticks: number, round: number) => number,
	picture: LanePicture,
): void {
	const { from, to } = roundsOf(picture);
	if (to <= from) return;
	const at = { local: 0, round: 0 };
	const gains = picture.clip.loop.mode === 'repeat';
	c.strokeStyle = hue;
	c.lineWidth = 1.5;
	c.globalAlpha = PALE;
	c.beginPath();
	for (let x = from; x <= to; x += COLUMN) {
		localTime(picture.clip, picture.ticksAt(x), at);
		c.lineTo(x, top + valueY(read(at.local, gains ? at.round : 0), range, height));
	}
	c.stroke();
	c.globalAlpha = 1;
}

const HATCH = 7;

/** Slanted lines in the ground under a profile. */
function hatchGround(
	c: CanvasRenderingContext2D,
	ground: { first: number; last: number; floor: number; top: number; hue: string; ys: Float64Array },
): void {
	const { first, last, floor, top, hue, ys } = ground;
	c.save();
	c.beginPath();
	c.moveTo(first, floor);
	ys.forEach((y, i) => c.lineTo(Math.min(last, first + i * COLUMN), y));
	c.lineTo(last, floor);
	c.clip();
	c.strokeStyle = hue;
	c.globalAlpha = 0.4;
	c.lineWidth = 1;
	c.beginPath();
	const tall = floor - top;
	for (let x = first - (first % HATCH) - tall; x < last; x += HATCH) {
		c.moveTo(x, floor);
		c.lineTo(x + tall, top);
	}
	c.stroke();
	c.restore();
}

/** Degrees a second at which half the strip's shade is reached. */
const HALF_TURN_SPEED = 120;

/** A colour over time as itself; an orientation as a band that is darker where it turns faster. */
function drawStrip(c: CanvasRenderingContext2D, row: LaneRow, top: number, picture: LanePicture): void {
	const { first, last } = extentOf(picture);
	const colours = row.channel.property === 'colour';
	const here = new Float64Array(4);
	const before = new Float64Array(4);
	const pad = row.height < 30 ? 3 : 8;
	const seconds = (picture.ticksAt(COLUMN) - picture.ticksAt(0)) / TICKS_PER_SECOND;
	const { from, to } = roundsOf(picture);
	const at = { local: 0, round: 0 };
	for (let x = from; colours && x < to; x += COLUMN) {
		localTime(picture.clip, picture.ticksAt(x), at);
		picture.vector(row.id, at.local, here);
		c.fillStyle = writeHex(here);
		c.globalAlpha = PALE * here[3];
		c.fillRect(x, top + pad, Math.min(COLUMN, to - x), row.height - 2 * pad);
	}
	for (let x = first; x < last; x += COLUMN) {
		picture.vector(row.id, Math.min(picture.length, picture.ticksAt(x)), here);
		if (colours) {
			c.fillStyle = writeHex(here);
			c.globalAlpha = here[3];
		} else {
			const speed = x === first ? 0 : angleBetween(before, here) / seconds;
			c.fillStyle = picture.palette.hues[row.channel.property];
			c.globalAlpha = 0.1 + (0.7 * speed) / (speed + HALF_TURN_SPEED);
		}
		c.fillRect(x, top + pad, Math.min(COLUMN, last - x), row.height - 2 * pad);
		before.set(here);
	}
	c.globalAlpha = 1;
	c.strokeStyle = picture.palette.hues[row.channel.property];
	c.lineWidth = picture.isPicked(row.id) ? 2 : 1;
	c.strokeRect(first + 0.5, top + pad - 0.5, last - first - 1, row.height - 2 * pad + 1);
}

/** Strokes of laid-over curves, so that two of one hue are told apart without their names. */
const DASHES: readonly (readonly number[])[] = [
	[9, 4],
	[3, 3],
	[12, 3, 3, 3],
	[2, 5],
];

function drawLaidOver(
	c: CanvasRenderingContext2D,
	{ top, height, range }: Pick<Profile, 'top' | 'height' | 'range'>,
	others: readonly LaidOver[],
	picture: LanePicture,
): void {
	const { first, last } = extentOf(picture);
	others.forEach(({ name, property, curve }, i) => {
		c.strokeStyle = picture.palette.hues[property];
		c.lineWidth = 1.5;
		c.setLineDash([...DASHES[i % DASHES.length]]);
		c.beginPath();
		for (let x = first; x <= last; x += COLUMN)
			c.lineTo(x, top + valueY(evaluateCurve(curve, picture.ticksAt(x)), range, height));
		c.stroke();
		c.setLineDash([]);
		if (height < 30) return;
		c.font = '11px Overpass, sans-serif';
		c.textBaseline = 'middle';
		c.textAlign = 'right';
		c.fillStyle = picture.palette.hues[property];
		const y = top + valueY(evaluateCurve(curve, picture.ticksAt(last)), range, height);
		c.fillText(name, last - 4, y - 8 < top + 6 ? y + 9 : y - 8);
		c.textAlign = 'left';
	});
}

/** A switch over time: a bar wherever it is on, whose ends are its keys. */
function drawBars(
	c: CanvasRenderingContext2D,
	row: LaneRow,
	top: number,
	curve: FlatCurve,
	picture: LanePicture,
): void {
	const { first, last } = extentOf(picture);
	const pad = row.height < 30 ? 3 : 10;
	const edges = [0, ...row.channel.keys.map((key) => key.t), picture.length];
	c.fillStyle = c.strokeStyle = picture.palette.hues[row.channel.property];
	c.lineWidth = picture.isPicked(row.id) ? 2 : 1;
	for (let i = 0; i + 1 < edges.length; i++) {
		const from = Math.max(first, picture.x(edges[i]));
		const to = Math.min(last, picture.x(edges[i + 1]));
		if (to <= from || evaluateCurve(curve, (edges[i] + edges[i + 1]) / 2) < 0.5) continue;
		c.globalAlpha = 0.35;
		c.fillRect(from, top + pad, to - from, row.height - 2 * pad);
		c.globalAlpha = 1;
		c.strokeRect(from + 0.5, top + pad + 0.5, to - from - 1, row.height - 2 * pad - 1);
	}
}

/** What a lane was when the clip was pinned, as a dotted ridge. */
function drawRidge(
	c: CanvasRenderingContext2D,
	{ top, height, range }: Pick<Profile, 'top' | 'height' | 'range'>,
	curve: FlatCurve,
	picture: LanePicture,
): void {
	const { first, last } = extentOf(picture);
	c.strokeStyle = picture.palette.ink;
	c.lineWidth = 1.5;
	c.setLineDash([1.5, 4]);
	c.lineCap = 'round';
	c.beginPath();
	for (let x = first; x <= last; x += COLUMN)
		c.lineTo(x, top + valueY(evaluateCurve(curve, picture.ticksAt(x)), range, height));
	c.stroke();
	c.setLineDash([]);
	c.lineCap = 'butt';
}

export function drawGround(
	c: CanvasRenderingContext2D,
	row: LaneRow | FormulaRow,
	top: number,
	picture: LanePicture,
): void {
	const { palette, isPicked } = picture;
	const place = { top, height: row.height, bold: isPicked(row.id) };
	if (row.kind === 'formula') {
		const read = picture.formula(row.id);
		if (!read) return;
		const hue = palette.hues[row.formula.property];
		const profile = { ...place, hue, read, range: picture.formulaRange(row), hatched: true };
		drawProfile(c, profile, picture);
		drawRounds(c, profile, read, picture);
		return;
	}
	if (isVector(row.channel.property)) {
		drawStrip(c, row, top, picture);
		return;
	}
	const curve = picture.curve(row.id);
	if (!curve) return;
	if (kindOf(row.channel.property) === 'switch') {
		drawBars(c, row, top, curve, picture);
		return;
	}
	const read = (ticks: number) => evaluateCurve(curve, ticks);
	const hue = palette.hues[row.channel.property];
	const range = picture.range(row);
	drawProfile(c, { ...place, hue, read, range, hatched: false }, picture);
	const gain = row.channel.accumulates ? read(picture.length) - read(0) : 0;
	drawRounds(c, { ...place, hue, range }, (ticks, round) => read(ticks) + round * gain, picture);
	const before = picture.pinned(row.id);
	if (before && before !== curve) drawRidge(c, { ...place, range }, before, picture);
	drawLaidOver(c, { ...place, range }, picture.others(row.id), picture);
}
