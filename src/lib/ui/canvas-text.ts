/** Text on a canvas of the page. */

const FONT = '11px "Overpass Mono", monospace';
/** Pixels of what is kept for each CSS pixel, along each side. */
const FINE = 2;
const HEIGHT = 16;
const MOST = 300;

interface Kept {
	image: OffscreenCanvas;
	width: number;
}
/**
 * Text that is drawn on a canvas of the page makes the browser bring all of the page's styles up to date first, in the
 * midst of a picture. Drawn aside it does not.
 */
const kept = new Map<string, Kept>();
if (typeof document !== 'undefined') document.fonts?.addEventListener('loadingdone', () => kept.clear());

function drawnAside(text: string, colour: string): Kept {
	const key = `${colour} ${text}`;
	const known = kept.get(key);
	if (known) return known;
	const image = new OffscreenCanvas(1, 1);
	let c = image.getContext('2d')!;
	c.font = FONT;
	const { width } = c.measureText(text);
	[image.width, image.height] = [Math.ceil(width + 1) * FINE, HEIGHT * FINE];
	// Another size makes it anew.
	c = image.getContext('2d')!;
	c.scale(FINE, FINE);
	c.font = FONT;
	c.textBaseline = 'middle';
	c.fillStyle = colour;
	c.fillText(text, 0, HEIGHT / 2);
	if (kept.size >= MOST) kept.clear();
	const made = { image, width };
	kept.set(key, made);
	return made;
}

interface Told {
	colour: string;
	/** What shines through a little below it. */
	ground?: { colour: string; alpha: number };
}

/** Draws text with its left end and its middle at a place; where it would go beyond an end, it ends at another place. Gives its width. */
export function drawText(
	c: CanvasRenderingContext2D,
	text: string,
	x: number,
	y: number,
	{ colour, ground }: Told,
	ends?: { beyond: number; at: number },
): number {
	const aside = typeof OffscreenCanvas === 'undefined' ? null : drawnAside(text, colour);
	if (!aside) {
		c.font = FONT;
		c.textBaseline = 'middle';
	}
	const width = aside ? aside.width : c.measureText(text).width;
	const left = ends && x + width > ends.beyond ? ends.at - width : x;
	if (ground) {
		c.globalAlpha = ground.alpha;
		c.fillStyle = ground.colour;
		c.fillRect(left - 2, y - 7, width + 4, 14);
		c.globalAlpha = 1;
	}
	c.fillStyle = colour;
	// On whole pixels, so that it stays crisp.
	if (aside)
		c.drawImage(
			aside.image,
			Math.round(left),
			Math.round(y + 0.5) - HEIGHT / 2,
			aside.image.width / FINE,
			HEIGHT,
		);
	else c.fillText(text, left, y + 0.5);
	return width;
}
