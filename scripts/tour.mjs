/** The moving picture of the README: a key is moved, a span shaped, the clip played, the file written. */
import gifenc from 'gifenc';
import { PNG } from 'pngjs';

const { GIFEncoder, quantize, applyPalette } = gifenc;
const SIZE = { width: 1120, height: 700 };
const COLOURS = 127;

/** A GIF of pictures with their times in ms; what stays the same from one to the next is left out. */
function gifOf(frames) {
	const gif = GIFEncoder();
	const all = frames.map(({ png }) => PNG.sync.read(png));
	const sample = Buffer.concat([all[0].data, all[all.length >> 1].data, all.at(-1).data]);
	const palette = quantize(new Uint8Array(sample), COLOURS);
	const transparentIndex = palette.length;
	let before = null;
	all.forEach(({ data, width, height }, i) => {
		const indices = applyPalette(new Uint8Array(data), palette);
		const shown = before ? indices.map((own, k) => (own === before[k] ? transparentIndex : own)) : indices;
		before = indices;
		gif.writeFrame(shown, width, height, {
			// The last one stands for what is transparent.
			palette: i === 0 ? [...palette, [0, 0, 0]] : undefined,
			transparent: i > 0,
			transparentIndex,
			dispose: 1,
			delay: frames[i].delay,
		});
	});
	gif.finish();
	return Buffer.from(gif.bytes());
}

/** Walks through the work in a page of the demo; gives the GIF. `open` opens a clip of a project. */
export async function tour(browser, address, open) {
	const page = await browser.newPage({ viewport: SIZE, timezoneId: 'UTC' });
	await page.addInitScript(() => localStorage.setItem('hillock-guide', 'done'));
	await page.goto(address);
	await open(page, 'Quay', 'pelican hop');
	const frames = [];
	const shoot = async (delay = 110) => frames.push({ png: await page.screenshot(), delay });
	const field = page.getByRole('textbox', { name: 'preview speed' });
	await page.getByRole('button', { name: 'pelican translation y: key after' }).click();
	await page.getByRole('button', { name: 'pelican translation y: key after' }).click();
	await page.mouse.move(700, 690);
	await page.waitForTimeout(500);
	await shoot(900);
	// A key is dragged up.
	const mark = await page.locator('[data-key-mark]').first().boundingBox();
	const [x, y] = [mark.x + mark.width / 2, mark.y + mark.height / 2];
	await page.mouse.move(x, y);
	await page.mouse.down();
	for (let i = 1; i <= 8; i++) {
		await page.mouse.move(x + 3 * i, y);
		await shoot();
	}
	await page.mouse.up();
	await shoot(500);
	// Its span is shaped.
	for (const shape of ['Bounce', 'Spring', 'Fall']) {
		await page.getByRole('button', { name: shape, exact: true }).first().click();
		await page.waitForTimeout(150);
		await shoot(600);
	}
	// The clip is played.
	await field.fill('12');
	await field.press('Enter');
	await field.press('Escape');
	await page.keyboard.press('Enter');
	await page.getByRole('button', { name: 'pause' }).waitFor();
	for (let i = 0; i < 16; i++) await shoot(90);
	await page.getByRole('button', { name: 'pause' }).click();
	// The file is written, and plays beside the project.
	await page.getByRole('link', { name: 'Ship', exact: true }).click();
	await page.getByRole('button', { name: 'Export glTF' }).click();
	await page.getByText('the file, read by').waitFor();
	await page.locator('[data-stage-canvas]').scrollIntoViewIfNeeded();
	await page.waitForTimeout(1200);
	for (let i = 0; i < 5; i++) await shoot(350);
	await shoot(1800);
	await page.close();
	return gifOf(frames);
}
