/** Rehearse in Chromium, with what it draws each frame, and how soon what is done is seen. */
import { chromium, type Browser, type Page } from '@playwright/test';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeProjectFile } from '../core/formats/project/file';
import { putBlend } from '../core/edits/clips';
import { makeQuay } from '../demo/quay';
import { TestServer } from '../e2e/server';
import { CHROMIUM_ARGS } from '../scripts/chromium-args.mjs';
import type { Figure } from './figure';
import { meterOf, milliseconds } from './page';

/** Seconds that two clips blend while it is measured. */
const BLENDING = 6;

async function open(server: TestServer, browser: Browser): Promise<Page> {
	const slow = putBlend(makeQuay(), {
		from: 'ferry-crossing',
		to: 'sack-drop',
		kind: 'crossfade',
		seconds: BLENDING,
		start: 'start',
		shape: { kind: 'linear' },
	});
	const imported = await fetch(`${server.address}/api/projects/import`, {
		method: 'POST',
		headers: { 'content-type': 'application/json' },
		body: writeProjectFile(slow),
	});
	const { id } = (await imported.json()) as { id: string };
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
	await page.goto(`${server.address}/p/${id}/rehearse`);
	await page.locator('[data-playing]').filter({ hasText: 'kelp sway' }).waitFor();
	await page.waitForTimeout(1000);
	return page;
}

/** Milliseconds from a key to the first picture after it, the middle of several. */
async function untilSeen(page: Page): Promise<number> {
	const waits = await page.evaluate(async () => {
		const frame = () => new Promise<number>((resolve) => requestAnimationFrame(resolve));
		const waits: number[] = [];
		for (let i = 0; i < 21; i++) {
			await frame();
			const sent = performance.now();
			window.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight' }));
			const shown = document.querySelector('[data-time]')!.textContent;
			while (document.querySelector('[data-time]')!.textContent === shown) await frame();
			waits.push(performance.now() - sent);
			await new Promise((resolve) => setTimeout(resolve, 50));
		}
		return waits;
	});
	return waits.sort((a, b) => a - b)[10];
}

export async function rehearseFigures(): Promise<Figure[]> {
	const data = mkdtempSync(join(tmpdir(), 'hillock-bench-'));
	const server = new TestServer(data, 'serve');
	await server.start();
	const browser = await chromium.launch({
		executablePath: process.env.CHROMIUM || '/usr/bin/chromium',
		args: CHROMIUM_ARGS,
	});
	try {
		const page = await open(server, browser);
		const clip = page.getByRole('combobox', { name: 'play a clip' });
		await clip.selectOption('ferry crossing');
		await page.waitForTimeout(300);
		await clip.selectOption('sack drop');
		const meter = await meterOf(page);
		const blending = await meter(() => page.waitForTimeout(3000));
		if (!(await page.locator('[data-playing]').textContent())!.includes('ferry crossing'))
			throw new Error('two clips were to blend while it was measured');
		return [
			milliseconds('Rehearse, two clips blending, four layers, all charts: script a frame', blending, 4),
			milliseconds('from a key to the first changed picture, median', await untilSeen(page), 50),
		];
	} finally {
		await browser.close();
		await server.stop();
		rmSync(data, { recursive: true, force: true });
	}
}
