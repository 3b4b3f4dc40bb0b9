/** Draws the visible lanes: the ground under each profile shaded by steepness, and a stake for each key. */
import { ticks as niceTicks } from 'd3-array';
import { spanAt } from '$core/curve/edit';
import { evaluateCurve } from '$core/curve/evaluate';
import type { CompiledCurve } from '$core/curve/compile';
import { spanHandles, type CurveContext } from '$core/curve/handles';
import type { KeySelection } from '$core/document/edits/keys';
import { isVector, kindOf, type Property } from '$core/document/types';
import { writeHex } from '$core/pose/colour';
import { angleBetween } from '$core/pose/quaternion';
import { TICKS_PER_SECOND } from '$core/time';
import { TALL } from './lane-view.svelte';
import { columnTimes, type FormulaRow, type LaneRow, type PartRow, type Row } from './rows';
import { valueY, type ValueRange } from './scale';
import { HUES } from './units';

export interface Palette {
	paper: string;
	sheet: string;
	band: string;
	rule: string;
	ink: string;
	muted: string;
	lake: string;
	rust: string;
	hues: Record<string, string>;
}

export function readPalette(element: Element): Palette {
	const style = getComputedStyle(element);
	const read = (name: string) => style.getPropertyValue(name).trim();
	return {
		paper: read('--paper'),
		sheet: read('--sheet'),
		band: read('--band'),
		rule: read('--rule'),
		ink: read('--ink'),
		muted: read('--muted'),
		lake: read('--lake'),
		rust: read('--rust'),
		hues: Object.fromEntries(Object.entries(HUES).map(([property, name]) => [property, read(name)])),
	};
}

/** A curve of another lane that is drawn in this one too. */
export interface LaidOver {
	name: string;
	property: Property;
	curve: CompiledCurve;
}

export interface LanePicture {
	rows: readonly Row[];
	scrollTop: number;
	width: number;
	height: number;
	x: (ticks: number) => number;
	ticksAt: (x: number) => number;
	/** Ticks. */
	length: number;
	/** Where vertical lines go, in ticks. */
	gridLines: readonly number[];
	curve: (channel: string) => CompiledCurve | undefined;
	/** The curve that a channel had in the pinned version. */
	pinned: (channel: string) => CompiledCurve | undefined;
	/** What else is drawn in a channel's lane, on the same axis. */
	others: (channel: string) => readonly LaidOver[];
	/** The four numbers of a colour or an orientation at a time. */
	vector: (channel: string, ticks: number, out: Float64Array) => void;
	/** What a formula gives over time; undefined where it cannot be computed. */
	formula: (id: string) => ((ticks: number) => number) | undefined;
	formulaRange: (row: FormulaRow) => ValueRange;
	range: (row: LaneRow) => ValueRange;
	context: (row: LaneRow) => CurveContext;
	keys: KeySelection;
	pickedChannel: string | null;
	pickedPart: string | null;
	palette: Palette;
}

const COLUMN = 2;
const SHADES = 32;
/** Nearer than this many pixels keys are drawn as plain lines. */
const CROWDED = 5;

export const HEAD_RADIUS = 4;

function stake(
	c: CanvasRenderingContext2D,
	x: number,
	floor: number,
	y: number,
	picked: boolean,
	p: Palette,
	radius: number,
) {
	c.strokeStyle = picked ? p.lake : p.ink;
	c.lineWidth = picked ? 1.5 : 1;
	c.beginPath();
	c.moveTo(x, floor);
	c.lineTo(x, y);
	c.stroke();
	if (picked) {
		c.fillStyle = p.lake;
		c.globalAlpha = 0.25;
		c.beginPath();
		c.arc(x, y, radius + 4, 0, 2 * Math.PI);
		c.fill();
		c.globalAlpha = 1;
	}
	c.beginPath();
	c.arc(x, y, radius, 0, 2 * Math.PI);
	c.fillStyle = picked ? p.lake : p.sheet;
	c.fill();
	c.stroke();
}

/** Pixels of a lane that its clip covers. */
function extentOf(picture: LanePicture): { first: number; last: number } {
	return { first: Math.max(0, picture.x(0)), last: Math.min(picture.width, picture.x(picture.length)) };
}

interface Profile {
	top: number;
	height: number;
	range: ValueRange;
	hue: string;
	bold: boolean;
	read: (ticks: number) => number;
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
	c.lineWidth = row.id === picture.pickedChannel ? 2 : 1;
	c.strokeRect(first + 0.5, top + pad - 0.5, last - first - 1, row.height - 2 * pad + 1);
}

function drawGround(
	c: CanvasRenderingContext2D,
	row: LaneRow | FormulaRow,
	top: number,
	picture: LanePicture,
): void {
	const { palette, pickedChannel } = picture;
	const place = { top, height: row.height, bold: row.id === pickedChannel };
	if (row.kind === 'formula') {
		const read = picture.formula(row.id);
		const hue = palette.hues[row.formula.property];
		if (read)
			drawProfile(c, { ...place, hue, read, range: picture.formulaRange(row), hatched: true }, picture);
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
	const before = picture.pinned(row.id);
	if (before && before !== curve) drawRidge(c, { ...place, range }, before, picture);
	drawLaidOver(c, { ...place, range }, picture.others(row.id), picture);
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
	curve: CompiledCurve,
	picture: LanePicture,
): void {
	const { first, last } = extentOf(picture);
	const pad = row.height < 30 ? 3 : 10;
	const edges = [0, ...row.channel.keys.map((key) => key.t), picture.length];
	c.fillStyle = c.strokeStyle = picture.palette.hues[row.channel.property];
	c.lineWidth = row.id === picture.pickedChannel ? 2 : 1;
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
	curve: CompiledCurve,
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

function drawKeys(c: CanvasRenderingContext2D, row: LaneRow, top: number, picture: LanePicture): void {
	const picked = picture.keys.get(row.id);
	const range = picture.range(row);
	const floor = top + row.height - 1;
	const radius = row.height < 30 ? 2.6 : HEAD_RADIUS;
	const keys = row.channel.keys;
	const from = Math.max(0, spanAt(keys, picture.ticksAt(-8)));
	const to = picture.ticksAt(picture.width + 8);
	const stakes: { x: number; y: number; isPicked: boolean }[] = [];
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
		stakes.push({ x, y, isPicked });
	}
	endCrowd();
	c.globalAlpha = 1;
	for (const { x, y, isPicked } of stakes) stake(c, x, floor, y, isPicked, picture.palette, radius);
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

function drawHandles(c: CanvasRenderingContext2D, row: LaneRow, top: number, picture: LanePicture): void {
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

/** A value axis on tall lanes. */
function drawAxis(c: CanvasRenderingContext2D, row: LaneRow, top: number, picture: LanePicture): void {
	const { low, high } = picture.range(row);
	if (high - low < 1e-12) return;
	const { palette } = picture;
	c.font = "11px 'Overpass Mono', monospace";
	c.textBaseline = 'middle';
	for (const value of niceTicks(low, high, Math.max(2, Math.floor(row.height / 40)))) {
		const y = top + valueY(value, picture.range(row), row.height);
		c.strokeStyle = palette.rule;
		c.lineWidth = value === 0 ? 1.5 : 1;
		c.beginPath();
		c.moveTo(0, y);
		c.lineTo(picture.width, y);
		c.stroke();
		c.fillStyle = palette.muted;
		c.fillText(String(Math.round(value * 1000) / 1000), 3, y - 7 < top + 4 ? y + 8 : y - 7);
	}
}

function drawPart(c: CanvasRenderingContext2D, row: PartRow, top: number, picture: LanePicture): void {
	const { palette } = picture;
	c.fillStyle = palette.band;
	c.fillRect(0, top, picture.width, row.height);
	const floor = top + row.height - 4;
	let lastX = -Infinity;
	for (const t of columnTimes(row.channels)) {
		const x = picture.x(t);
		if (x < -8 || x > picture.width + 8 || x - lastX < 2) continue;
		lastX = x;
		const picked = row.channels.some((channel) => picture.keys.get(channel.id)?.has(t));
		c.strokeStyle = picked ? palette.lake : palette.ink;
		c.fillStyle = picked ? palette.lake : palette.ink;
		c.lineWidth = 1.5;
		c.beginPath();
		c.moveTo(x, floor);
		c.lineTo(x, top + 9);
		c.stroke();
		c.beginPath();
		c.arc(x, top + 8, 2.6, 0, 2 * Math.PI);
		c.fill();
	}
}

/** Draws everything on a context scaled to CSS pixels. */
export function drawLanes(c: CanvasRenderingContext2D, picture: LanePicture): void {
	const { palette, width, height, scrollTop } = picture;
	c.fillStyle = palette.paper;
	c.fillRect(0, 0, width, height);
	const [start, end] = [Math.max(0, picture.x(0)), Math.min(width, picture.x(picture.length))];
	c.fillStyle = palette.sheet;
	c.fillRect(start, 0, end - start, height);
	for (const row of picture.rows) {
		const top = row.top - scrollTop;
		c.save();
		c.beginPath();
		c.rect(0, top, width, row.height);
		c.clip();
		if (row.kind === 'part') drawPart(c, row, top, picture);
		else {
			c.strokeStyle = palette.rule;
			c.lineWidth = 1;
			c.globalAlpha = 0.6;
			c.beginPath();
			for (const t of picture.gridLines) {
				const x = Math.round(picture.x(t)) + 0.5;
				c.moveTo(x, top);
				c.lineTo(x, top + row.height);
			}
			c.stroke();
			c.globalAlpha = 1;
			if (row.kind === 'lane' && showsHandles(row)) drawAxis(c, row, top, picture);
			drawGround(c, row, top, picture);
			if (row.kind === 'lane') drawKeys(c, row, top, picture);
			if (row.kind === 'lane' && showsHandles(row)) drawHandles(c, row, top, picture);
		}
		c.restore();
		c.fillStyle = palette.rule;
		c.fillRect(0, top + row.height - 1, width, 1);
	}
}
