/** The built application in Chromium: a drag in a large clip, what Compose loads, and how soon the server answers. */
import { chromium } from '@playwright/test';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { ProjectBuilder, type KeyRow } from '../demo/builder';
import { writeProjectFile } from '../core/formats/project/file';
import { TestServer } from '../e2e/server';
import { figure, type Figure } from './figure';
import { CHROMIUM_ARGS } from '../scripts/chromium-args.mjs';

const CHANNELS = 200;
const KEYS = 100;
const FRAMES = 600;

/** A clip with many channels, all of them in motion. */
function largeProject(): string {
	const p = new ProjectBuilder('Flotilla', 'world', 30);
	const boats = Math.ceil(CHANNELS / 5);
	for (let i = 0; i < boats; i++)
		p.part(
			`boat ${i + 1}`,
			{ kind: 'box', size: [0.5, 0.3, 0.3] },
			{ at: [(i % 10) - 5, Math.floor(i / 10), 0] },
		);
	p.startClip('regatta', FRAMES);
	const paths = ['translation.x', 'translation.y', 'rotation.z', 'scale.x', 'scale.y'];
	for (let i = 0; i < boats; i++)
		for (const path of paths) {
			const rows = Array.from({ length: KEYS }, (_, k): KeyRow => [
				Math.round((k * FRAMES) / (KEYS - 1)),
				Math.sin(k * 0.7 + i) + 1.5,
				{ kind: 'eased', start: 0.4, finish: 0.3 },
			]);
			p.keys(`boat ${i + 1}`, path, rows);
		}
	return writeProjectFile(p.build());
}

export async function pageFigures(): Promise<Figure[]> {
	const data = mkdtempSync(join(tmpdir(), 'hillock-bench-'));
	const server = new TestServer(data, 'serve');
	const started = performance.now();
	await server.start();
	await fetch(`${server.address}/api/health`);
	const firstAnswer = performance.now() - started;
	const browser = await chromium.launch({
		executablePath: process.env.CHROMIUM || '/usr/bin/chromium',
		args: CHROMIUM_ARGS,
	});
	try {
		const imported = await fetch(`${server.address}/api/projects/import`, {
			method: 'POST',
			headers: { 'content-type': 'application/json' },
			body: largeProject(),
		});
		const { id } = (await imported.json()) as { id: string };
		const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
		await page.addInitScript(() => localStorage.setItem('hillock-guide', 'done'));
		let gzipped = 0;
		const sizes: Promise<void>[] = [];
		page.on('response', (response) => {
			if (!response.url().endsWith('.js')) return;
			sizes.push(response.body().then((body) => void (gzipped += gzipSync(body).length)));
		});
		const opening = performance.now();
		await page.goto(`${server.address}/p/${id}/compose/regatta`);
		await page.locator('[data-lanes-canvas]').waitFor();
		const opened = performance.now() - opening;
		await page.waitForTimeout(1500);
		await Promise.all(sizes);

		const cdp = await page.context().newCDPSession(page);
		await cdp.send('Performance.enable');
		const metric = async (name: string) =>
			(await cdp.send('Performance.getMetrics')).metrics.find((m) => m.name === name)!.value;
		await page.evaluate(() => {
			const counter = globalThis as unknown as { frames: number };
			counter.frames = 0;
			const count = () => {
				counter.frames++;
				requestAnimationFrame(count);
			};
			requestAnimationFrame(count);
		});
		const measured = async (work: () => Promise<void>): Promise<number> => {
			const frames = () => page.evaluate(() => (globalThis as unknown as { frames: number }).frames);
			const [f0, s0] = [await frames(), await metric('ScriptDuration')];
			await work();
			const [f1, s1] = [await frames(), await metric('ScriptDuration')];
			return (1000 * (s1 - s0)) / Math.max(1, f1 - f0);
		};
		const lanes = (await page.locator('[data-lanes-canvas]').boundingBox())!;
		// A stake of the first lane, just above its floor.
		await page.getByRole('button', { name: 'boat 1 translation x: key after' }).click();
		const mark = (await page.locator('[data-key-mark]').first().boundingBox())!;
		const [x, y] = [mark.x + 7, mark.y + 7];
		await page.mouse.move(x, y);
		await page.mouse.down();
		const drag = await measured(async () => {
			for (let i = 0; i < 120; i++) {
				await page.mouse.move(x + 30 * Math.sin(i / 9), y + 10 * Math.sin(i / 7));
				await page.waitForTimeout(8);
			}
		});
		await page.mouse.up();
		await page.mouse.move(lanes.x + 200, lanes.y + 200);
		const scroll = await measured(async () => {
			for (let i = 0; i < 60; i++) {
				await page.mouse.wheel(0, i < 30 ? 160 : -160);
				await page.waitForTimeout(8);
			}
		});
		await page.keyboard.press('Space');
		const play = await measured(() => page.waitForTimeout(2000));
		return [
			figure(
				`drag of a key, ${CHANNELS} channels × ${KEYS} keys: script a frame`,
				`${drag.toFixed(1)} ms`,
				'under 8 ms',
				drag < 8,
			),
			figure('scrolling the lanes of the same clip: script a frame', `${scroll.toFixed(1)} ms`),
			figure('playing the same clip: script a frame', `${play.toFixed(1)} ms`),
			figure('opening the same clip, to the first lanes', `${opened.toFixed(0)} ms`),
			figure('JavaScript that Compose loads at first, in gzip', `${(gzipped / 1024).toFixed(0)} KiB`),
			figure('from start to the first answer', `${firstAnswer.toFixed(0)} ms`),
		];
	} finally {
		await browser.close();
		await server.stop();
		rmSync(data, { recursive: true, force: true });
	}
}
