/** Speed over the value of a lane: a broken line from the floor up, as high as the fastest moment, which is marked. */
import { fastestOf, hasSpeed, speedAt, tellSpeed } from '$lib/session/lane-speed';
import { extentOf, type LanePicture } from './picture';
import { drawText } from '$lib/ui/canvas-text';
import type { LaneRow } from './rows';
import { padding } from './scale';

const COLUMN = 2;
const BROKEN = [5, 3];
/** Lower lanes have no room for it. */
const LEAST_HEIGHT = 30;
/** Of speeds without a largest one, this share is drawn within the lane. */
const SHOWN_SHARE = 0.98;

export function drawSpeed(
	c: CanvasRenderingContext2D,
	row: LaneRow,
	top: number,
	picture: LanePicture,
): void {
	const curve = picture.curve(row.id);
	if (!curve || !picture.showsSpeed(row.id) || !hasSpeed(row.channel) || row.height < LEAST_HEIGHT) return;
	const { first, last } = extentOf(picture);
	const speeds: number[] = [];
	for (let x = first; x <= last; x += COLUMN) speeds.push(speedAt(curve, picture.ticksAt(x)));
	const peak = fastestOf(row.channel, picture.clip);
	const sorted = speeds.toSorted((a, b) => a - b);
	const most = peak.speed < Infinity ? peak.speed : sorted[Math.floor(SHOWN_SHARE * (sorted.length - 1))];
	const pad = padding(row.height);
	const floor = top + row.height - pad.bottom;
	const room = row.height - pad.top - pad.bottom;
	const y = (speed: number) => floor - (most > 0 ? room * Math.min(1, speed / most) : 0);
	c.strokeStyle = c.fillStyle = picture.palette.ink;
	c.lineWidth = 1.25;
	c.setLineDash(BROKEN);
	c.beginPath();
	speeds.forEach((speed, i) => c.lineTo(first + i * COLUMN, y(speed)));
	c.stroke();
	c.setLineDash([]);
	if (!(peak.speed > 0)) return;
	const at = picture.x(peak.at);
	c.beginPath();
	c.arc(at, y(peak.speed), 3, 0, 2 * Math.PI);
	c.fill();
	const text = tellSpeed(peak.speed, picture.unitAt(row.channel));
	const { ink, sheet } = picture.palette;
	// It stays within the lane's width and off its own mark.
	const ends = { beyond: picture.width, at: at - 7 };
	drawText(c, text, at + 7, y(peak.speed), { colour: ink, ground: { colour: sheet, alpha: 0.85 } }, ends);
}
