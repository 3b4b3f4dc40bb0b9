/** The stage while a clip plays: pictures taken as it moves, compared with one another and with what stands still. */
import type { Page } from '@playwright/test';
import pixelmatch from 'pixelmatch';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { goToFrame, openClip } from './compose';
import { expect, test } from './server';

/** The middle of the stage, where nothing but the picture changes. */
async function stageShot(page: Page): Promise<PNG> {
	const box = (await page.locator('[data-stage-canvas]').boundingBox())!;
	const clip = { x: box.x + 20, y: box.y + 70, width: box.width - 40, height: box.height - 110 };
	return PNG.sync.read(await page.screenshot({ clip }));
}
/** Waits until what was done last is drawn, finely, and nothing comes after it. */
async function stageIsStill(page: Page): Promise<void> {
	for (const wait of [300, 200]) {
		await page.waitForTimeout(wait);
		await expect(page.locator('[data-stage-canvas]')).toHaveAttribute('data-still', '');
	}
}
const differing = (a: PNG, b: PNG): number =>
	pixelmatch(a.data, b.data, undefined, a.width, a.height, { threshold: 0.1 });

/** Counts frames of the clock, and frames in which something was drawn by WebGL. */
async function countPictures(page: Page): Promise<() => Promise<{ frames: number; pictures: number }>> {
	await page.evaluate(() => {
		const counter = { frames: 0, pictures: 0, drawn: false };
		Object.assign(globalThis, { counter });
		const { drawElements, drawArrays } = WebGL2RenderingContext.prototype;
		WebGL2RenderingContext.prototype.drawElements = function (...args) {
			counter.drawn = true;
			drawElements.apply(this, args);
		};
		WebGL2RenderingContext.prototype.drawArrays = function (...args) {
			counter.drawn = true;
			drawArrays.apply(this, args);
		};
		const count = () => {
			counter.frames++;
			if (counter.drawn) counter.pictures++;
			counter.drawn = false;
			requestAnimationFrame(count);
		};
		requestAnimationFrame(count);
	});
	return () =>
		page.evaluate(() => {
			const { frames, pictures } = (
				globalThis as unknown as { counter: { frames: number; pictures: number } }
			).counter;
			return { frames, pictures };
		});
}

for (const [project, clip, part, percent] of [
	// So slow that they play on while pictures are taken.
	['Quay', 'sack drop', 'mail sack', 10],
	['Parcel slip', 'slip arrives', 'slip', 10],
] as const) {
	test(`the stage moves while "${clip}" plays, a picture in nearly every frame, and pausing shows its frame`, async ({
		app,
		server,
	}) => {
		await openClip(app, server, project, clip);
		await expect(app.getByRole('button', { name: `part ${part}`, exact: true })).toBeVisible();
		await goToFrame(app, 0);
		await stageIsStill(app);
		const still = await stageShot(app);
		const counted = await countPictures(app);
		const speed = app.getByRole('textbox', { name: 'preview speed in percent' });
		await speed.click();
		await speed.fill(String(percent));
		await speed.press('Enter');
		await speed.press('Escape');
		const before = await counted();
		const frameNow = async () =>
			Number(await app.getByRole('textbox', { name: 'frame at the playhead' }).inputValue());
		await app.keyboard.press('Space');
		const shots: PNG[] = [];
		let last = 0;
		for (let i = 0; i < 3; i++) {
			// However slow the machine is: once the playhead has gone on, the picture has.
			await expect.poll(frameNow).toBeGreaterThan(last + 2.5);
			shots.push(await stageShot(app));
			last = await frameNow();
		}
		const after = await counted();
		await app.keyboard.press('Space');
		await stageIsStill(app);
		const paused = await stageShot(app);
		const seen = [still, ...shots];
		for (let i = 1; i < seen.length; i++) expect(differing(seen[i - 1], seen[i])).toBeGreaterThan(150);
		// Paused, it shows the frame that it says: the same as when that frame is gone to.
		const frame = await frameNow();
		await goToFrame(app, 0);
		await goToFrame(app, frame);
		await stageIsStill(app);
		expect(differing(paused, await stageShot(app))).toBeLessThan(30);
		expect(differing(paused, still)).toBeGreaterThan(150);
		const frames = after.frames - before.frames;
		const pictures = after.pictures - before.pictures;
		expect(frames).toBeGreaterThan(3);
		expect(pictures / frames).toBeGreaterThan(0.8);
	});
}

test('the playhead at rest asks for no pictures', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	await stageIsStill(app);
	const counted = await countPictures(app);
	await app.waitForTimeout(600);
	const { frames, pictures } = await counted();
	expect(frames).toBeGreaterThan(3);
	expect(pictures).toBe(0);
});

/** Shares of some 3,000 fields of the stage whose mean colour is another one: edges of lines do not count. */
function otherFields(a: PNG, b: PNG): number {
	const field = 16;
	const mean = ({ data, width }: PNG, left: number, top: number, channel: number) => {
		let sum = 0;
		for (let y = top; y < top + field; y++)
			for (let x = left; x < left + field; x++) sum += data[4 * (y * width + x) + channel];
		return sum / field ** 2;
	};
	let [all, other] = [0, 0];
	for (let top = 0; top + field <= a.height; top += field)
		for (let left = 0; left + field <= a.width; left += field) {
			all++;
			if (
				[0, 1, 2].some((channel) => Math.abs(mean(a, left, top, channel) - mean(b, left, top, channel)) > 40)
			)
				other++;
		}
	return other / all;
}

test('a model that was exported looks the same when it comes in again, with what hangs on what', async ({
	app,
	server,
}) => {
	const folder = mkdtempSync(join(tmpdir(), 'model-'));
	const file = join(folder, 'sack.glb');
	execFileSync('node', [
		'bin/hillock.js',
		'export',
		'demo/quay.hillock.json',
		'--clip',
		'sack drop',
		'--to',
		'gltf',
		'--out',
		file,
	]);
	await openClip(app, server, 'Quay', 'sack drop');
	await goToFrame(app, 20);
	const before = await stageShot(app);
	const imported = await fetch(`${server.address}/api/projects/import?name=crane.glb`, {
		method: 'POST',
		headers: { 'content-type': 'application/octet-stream' },
		body: readFileSync(file),
	});
	rmSync(folder, { recursive: true });
	const { id } = (await imported.json()) as { id: string };
	await app.goto(`${server.address}/p/${id}`);
	await goToFrame(app, 20);
	// Models are fetched once the parts are there.
	await expect.poll(async () => otherFields(before, await stageShot(app))).toBeLessThan(0.02);
});
