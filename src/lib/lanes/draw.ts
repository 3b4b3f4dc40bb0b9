/** Draws the visible lanes, row by row. */
import { ticks as niceTicks } from 'd3-array';
import { drawGround } from './draw-ground';
import { drawExcess, drawHandles, drawKeys, drawPart, showsHandles } from './draw-keys';
import { drawText } from '$lib/ui/canvas-text';
import { drawRaw } from './draw-raw';
import { drawSpeed } from './draw-speed';
import type { LanePicture } from './picture';
import type { FormulaRow, LaneRow } from './rows';
import { kindOf } from '$core/document/types';
import { writeNumber } from '$lib/ui/number-text';
import { valueY } from './scale';

/** A value axis on tall lanes. */
function drawAxis(c: CanvasRenderingContext2D, row: LaneRow, top: number, picture: LanePicture): void {
	const { low, high } = picture.range(row);
	if (high - low < 1e-12) return;
	const { palette } = picture;
	for (const value of niceTicks(low, high, Math.max(2, Math.floor(row.height / 40)))) {
		const y = top + valueY(value, picture.range(row), row.height);
		c.strokeStyle = palette.rule;
		c.lineWidth = value === 0 ? 1.5 : 1;
		c.beginPath();
		c.moveTo(0, y);
		c.lineTo(picture.width, y);
		c.stroke();
		drawText(c, String(Math.round(value * 1000) / 1000), 3, y - 7 < top + 4 ? y + 8 : y - 7, {
			colour: palette.muted,
		});
	}
}

/** Lower lanes have no room for two numbers. */
const LEAST_TOLD = 40;

/** The values between which a lane goes, where it is too low for an axis. */
function drawRange(
	c: CanvasRenderingContext2D,
	row: LaneRow | FormulaRow,
	top: number,
	picture: LanePicture,
): void {
	if (row.height < LEAST_TOLD || !picture.tellsRange(row.id)) return;
	const { low, high } = row.kind === 'lane' ? picture.range(row) : picture.formulaRange(row);
	const place = row.kind === 'lane' ? row.channel : row.formula;
	if (kindOf(place.property) !== 'number') return;
	const unit = picture.unitAt(place);
	const { muted, sheet } = picture.palette;
	// They stand in what the curve leaves free, and are read over it.
	const tell = (value: number) =>
		drawText(c, `${writeNumber(value, 2)}${unit}`, 4, top + valueY(value, { low, high }, row.height), {
			colour: muted,
			ground: { colour: sheet, alpha: 0.8 },
		});
	tell(high);
	if (high - low > 1e-12) tell(low);
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
			if (row.kind === 'lane') drawRaw(c, row, top, picture);
			if (row.kind === 'lane') drawSpeed(c, row, top, picture);
			if (row.kind === 'lane') drawKeys(c, row, top, picture);
			if (row.kind !== 'lane' || !showsHandles(row)) drawRange(c, row, top, picture);
			if (row.kind === 'lane' && showsHandles(row)) {
				drawExcess(c, row, top, picture);
				drawHandles(c, row, top, picture);
			}
		}
		c.restore();
		c.fillStyle = palette.rule;
		c.fillRect(0, top + row.height - 1, width, 1);
	}
}
