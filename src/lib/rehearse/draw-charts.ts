/** Charts of what runs, on one time axis that scrolls: cues, weights of clips, a number and its speed. */
import { drawText } from '$lib/ui/canvas-text';
import { KEPT, type History } from './history';

export interface ChartColours {
	ink: string;
	muted: string;
	rule: string;
	band: string;
	moss: string;
	lake: string;
	rust: string;
	heather: string;
}

/** Pixels of the names at the left, of the row of cues, and of a row of weights at most. */
const NAMES = 182;
const CUES = 18;
const TOP = 2 * CUES - 4;
const ROW = 22;
/** Of the number, at least. */
const NUMBER = 44;

export interface ChartSize {
	width: number;
	height: number;
}

export function drawCharts(
	c: CanvasRenderingContext2D,
	{ width, height }: ChartSize,
	history: History,
	now: number,
	number: { name: string; unit: string } | null,
	colours: ChartColours,
): void {
	c.clearRect(0, 0, width, height);
	const right = width - 8;
	const x = (t: number) => right - ((now - t) / KEPT) * (right - NAMES);
	drawAxis(c, x, height, now, colours);
	const rows = Math.min(ROW, (height - TOP - NUMBER) / Math.max(1, history.names.length));
	history.names.forEach((name, i) => drawWeight(c, history, name, TOP + i * rows, rows, x, colours));
	const top = TOP + history.names.length * rows;
	if (number) drawNumber(c, history, number, top, height - top, x, colours);
	drawMarks(c, history, x, height, colours);
}

type Place = (t: number) => number;

function drawAxis(c: CanvasRenderingContext2D, x: Place, height: number, now: number, colours: ChartColours) {
	c.fillStyle = colours.rule;
	for (let t = Math.ceil(Math.max(0, now - KEPT)); t <= now; t++) {
		c.fillRect(Math.round(x(t)), 0, 1, height);
		drawText(c, `${t} s`, x(t) + 3, 9, { colour: colours.muted });
		c.fillStyle = colours.rule;
	}
}

/** Characters of a name that have room before a weight. */
const LONGEST = 20;
function drawName(c: CanvasRenderingContext2D, name: string, y: number, colour: string): void {
	drawText(c, name.length > LONGEST ? `${name.slice(0, LONGEST - 1)}…` : name, 8, y, { colour });
}

function drawWeight(
	c: CanvasRenderingContext2D,
	{ moments }: History,
	name: string,
	top: number,
	height: number,
	x: Place,
	colours: ChartColours,
): void {
	const floor = top + height - 2;
	c.fillStyle = colours.band;
	c.fillRect(NAMES, floor, x(moments.at(-1)?.t ?? 0) - NAMES, 1);
	c.beginPath();
	let isOpen = false;
	let last = 0;
	for (const { t, weights } of moments) {
		const at = Math.max(NAMES, x(t));
		const weight = weights.get(name) ?? 0;
		if (weight > 0 && !isOpen) c.moveTo(at, floor);
		if (weight > 0) c.lineTo(at, floor - weight * (height - 5));
		else if (isOpen) c.lineTo(last, floor);
		isOpen = weight > 0;
		last = at;
	}
	if (isOpen) c.lineTo(last, floor);
	c.fillStyle = colours.moss;
	c.globalAlpha = 0.45;
	c.fill();
	c.globalAlpha = 1;
	drawName(c, name, top + height / 2, colours.ink);
	const now = moments.at(-1)?.weights.get(name) ?? 0;
	drawText(c, now.toFixed(2), NAMES - 34, top + height / 2, { colour: colours.muted });
}

function drawNumber(
	c: CanvasRenderingContext2D,
	history: History,
	{ name, unit }: { name: string; unit: string },
	top: number,
	height: number,
	x: Place,
	colours: ChartColours,
): void {
	const range = history.range();
	drawName(c, name, top + 8, colours.ink);
	if (!range) return;
	const { moments } = history;
	const span = Math.max(range.high - range.low, 1e-9);
	const y = (v: number) => top + height - 6 - ((v - range.low) / span) * (height - 14);
	const speeds = moments.map((_, i) => history.speedAt(i) ?? 0);
	const fastest = speeds.reduce((most, v) => Math.max(most, Math.abs(v)), 1e-9);
	const line = (colour: string, at: (i: number) => number) => {
		c.strokeStyle = colour;
		c.lineWidth = 1.5;
		c.beginPath();
		moments.forEach(({ t, value }, i) => {
			if (value === null || x(t) < NAMES) return;
			c.lineTo(x(t), at(i));
		});
		c.stroke();
	};
	const middle = top + height / 2;
	line(colours.heather, (i) => middle - (speeds[i] / fastest) * (height / 2 - 7));
	line(colours.lake, (i) => y(moments[i].value!));
	const told = history.told((v) => `${Number(v.toPrecision(3))}${unit}`);
	drawText(c, told.value, 8, top + 22, { colour: colours.lake });
	drawText(c, told.speed, 8, top + 36, { colour: colours.heather });
}

function drawMarks(
	c: CanvasRenderingContext2D,
	history: History,
	x: Place,
	height: number,
	colours: ChartColours,
): void {
	// Names that would lie over the one before are left out; their ticks stay, and the log has them.
	let free = -Infinity;
	for (const { t, kind, text } of history.marks) {
		const at = x(t);
		if (at < NAMES) continue;
		const isPop = kind === 'pop';
		c.fillStyle = isPop ? colours.rust : colours.lake;
		c.fillRect(at, isPop ? CUES : CUES + 2, isPop ? 1.5 : 1, isPop ? height : CUES - 6);
		if (isPop) drawText(c, text, at + 3, height - 8, { colour: colours.rust });
		else if (at >= free) {
			free = at + 9 + drawText(c, text, at + 3, CUES + 8, { colour: colours.lake });
		}
	}
}
