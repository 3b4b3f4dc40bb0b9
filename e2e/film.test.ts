/** Films and pictures of clips, read by others: the browser's own decoders, and a reader of PNG. */
import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import pixelmatch from 'pixelmatch';
import { PNG } from 'pngjs';
import { projectId, storedDoc } from './compose';
import { expect, test, type TestServer } from './server';

async function openFilm(page: Page, server: TestServer, project: string, clip: string): Promise<void> {
	await page.goto(`${server.address}/p/${await projectId(server, project)}/ship`);
	await page.getByRole('radio', { name: /^Film or pictures/ }).check();
	await page.getByRole('combobox', { name: 'clip of the film' }).selectOption({ label: clip });
	for (const [name, value] of [
		['width of the film', '120'],
		['height of the film', '90'],
		['frame rate of the film', '10'],
	])
		await write(page, name, value);
}
async function write(page: Page, name: string, value: string): Promise<void> {
	const field = page.getByRole('textbox', { name });
	await field.fill(value);
	await field.press('Enter');
}
const choose = (page: Page, name: string, value: string) =>
	page.getByRole('combobox', { name }).selectOption(value);
async function made(page: Page, kind: string): Promise<Buffer> {
	await page.getByRole('button', { name: `Make ${kind}` }).click();
	await expect(page.getByRole('button', { name: `Make ${kind}` })).toBeEnabled();
	await expect(page.getByRole('alert')).toHaveCount(0);
	const download = page.waitForEvent('download');
	await page.getByRole('link', { name: /^Download / }).click();
	return readFileSync(await (await download).path());
}
/** Frames of a zip of pictures, in order. */
function framesOf(zip: Buffer): PNG[] {
	const files = unzipSync(zip);
	return Object.keys(files)
		.sort()
		.map((name) => PNG.sync.read(Buffer.from(files[name])));
}
const differing = (a: PNG, b: PNG) =>
	pixelmatch(a.data, b.data, undefined, a.width, a.height, { threshold: 0.1 });

test('a GIF has a frame for each, and lasts as long as its clip; WebM plays as long', async ({
	app,
	server,
}) => {
	await openFilm(app, server, 'Parcel slip', 'slip arrives');
	const clip = Object.values((await storedDoc(server, 'Parcel slip')).clips).find(
		({ name }) => name === 'slip arrives',
	)!;
	const seconds = clip.length / 72_000;
	const gif = await made(app, 'GIF');
	const read = await app.evaluate(
		async (bytes) => {
			const decoder = new ImageDecoder({ type: 'image/gif', data: Uint8Array.from(bytes) });
			await decoder.tracks.ready;
			const count = decoder.tracks.selectedTrack!.frameCount;
			const frames = [];
			for (let frameIndex = 0; frameIndex < count; frameIndex++) {
				const { image } = await decoder.decode({ frameIndex });
				frames.push({ width: image.displayWidth, height: image.displayHeight, duration: image.duration! });
			}
			return frames;
		},
		[...gif],
	);
	expect(read.length).toBe(Math.ceil(seconds * 10) + 1);
	expect(read.every(({ width, height }) => width === 120 && height === 90)).toBe(true);
	expect(read.reduce((sum, { duration }) => sum + duration, 0) / 1e6).toBeCloseTo(read.length / 10, 2);

	await choose(app, 'kind of the film', 'webm');
	await made(app, 'WebM');
	await expect
		.poll(() => app.locator('video').evaluate((video: HTMLVideoElement) => video.duration))
		.toBeCloseTo(read.length / 10, 1);
	expect(await app.locator('video').evaluate((video: HTMLVideoElement) => video.videoWidth)).toBe(120);
});

test('PNG frames move, are clear where nothing is, blur what is fast, and a sheet has them all', async ({
	app,
	server,
}) => {
	await openFilm(app, server, 'Parcel slip', 'slip arrives');
	await choose(app, 'kind of the film', 'png');
	await choose(app, 'ground of the film', 'clear');
	const sharp = framesOf(await made(app, 'PNG frames'));
	const [first, second] = sharp;
	expect(first.data.subarray(0, 4)).toEqual(Buffer.from([0, 0, 0, 0]));
	const middle = 4 * (45 * 120 + 60);
	expect(first.data[middle + 3]).toBe(255);
	expect(differing(second, sharp.at(-1)!)).toBeGreaterThan(100);
	// Six frames of the clip are one of the film.
	await write(app, 'last frame of the film', '18');
	await write(app, 'first frame of the film', '6');
	const stretch = framesOf(await made(app, 'PNG frames'));
	expect(stretch.map((own, i) => differing(own, sharp[i + 1]) < 5)).toEqual([true, true, true]);
	await write(app, 'first frame of the film', '0');
	await write(app, 'last frame of the film', '999');
	await write(app, 'pictures a frame, for motion blur', '6');
	const blurred = framesOf(await made(app, 'PNG frames'));
	expect(blurred.length).toBe(sharp.length);
	// What shoots in is blurred, what has come to rest is as sharp as before.
	const blur = blurred.map((own, i) => differing(own, sharp[i]));
	expect(Math.max(...blur), String(blur)).toBeGreaterThan(15);
	expect(differing(blurred.at(-1)!, sharp.at(-1)!)).toBeLessThan(5);

	await write(app, 'pictures a frame, for motion blur', '1');
	await choose(app, 'kind of the film', 'sheet');
	await choose(app, 'ground of the film', 'white');
	const sheet = PNG.sync.read(await made(app, 'Contact sheet'));
	expect((sheet.width / 120) * (sheet.height / 90)).toBeGreaterThanOrEqual(sharp.length);
	expect(sheet.data.subarray(0, 4)).toEqual(Buffer.from([255, 255, 255, 255]));
});

test('a film can be stopped, and one that is too long says so before', async ({ app, server }) => {
	await openFilm(app, server, 'Quay', 'lamp sweep');
	await write(app, 'frame rate of the film', '60');
	await write(app, 'iterations of the film', '4');
	await write(app, 'pictures a frame, for motion blur', '32');
	await app.getByRole('button', { name: 'Make GIF' }).click();
	await expect(app.getByRole('progressbar', { name: 'frames that are made' })).toBeVisible();
	await app.getByRole('button', { name: 'Cancel' }).click();
	await expect(app.getByText('No film yet')).toBeVisible();
	await write(app, 'speed of the film', '0.05');
	await expect(app.getByText(/frames; 1800 is the most/)).toBeVisible();
	await expect(app.getByRole('button', { name: 'Make GIF' })).toBeDisabled();
});
