/** The built application in Chromium: large clips opened, dragged, scrolled and played, and what Compose loads. */
import { chromium, type Browser, type Page, type Response } from '@playwright/test';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { ProjectBuilder, type KeyRow } from '../demo/builder';
import { writeProjectFile } from '../core/formats/project/file';
import { TestServer } from '../e2e/server';
import { figure, type Figure } from './figure';
import { CHROMIUM_ARGS } from '../scripts/chromium-args.mjs';

const FRAMES = 600;
const PATHS = ['translation.x', 'translation.y', 'rotation.z', 'scale.x', 'scale.y'];

/** A clip with many channels, all of them in motion, so many keys each. */
function largeProject(channels: number, keys: number): string {
	const p = new ProjectBuilder('Flotilla', 'world', 30);
	const boats = Math.ceil(channels / PATHS.length);
	for (let i = 0; i < boats; i++)
		p.part(
			`boat ${i + 1}`,
			{ kind: 'box', size: [0.5, 0.3, 0.3] },
			{ at: [(i % 10) - 5, Math.floor(i / 10), 0] },
		);
	const frames = Math.max(FRAMES, keys - 1);
	p.startClip('regatta', frames);
	for (let i = 0; i < boats; i++)
		for (const path of PATHS) {
			const rows = Array.from({ length: keys }, (_, k): KeyRow => [
				Math.round((k * frames) / (keys - 1)),
				Math.sin(k * 0.7 + i) + 1.5,
				{ kind: 'eased', start: 0.4, finish: 0.3 },
			]);
			p.keys(`boat ${i + 1}`, path, rows);
		}
	return writeProjectFile(p.build());
}

/** Milliseconds of script a frame while some work goes on. */
export type Meter = (work: () => Promise<void>) => Promise<number>;

export async function meterOf(page: Page): Promise<Meter> {
	const cdp = await page.context().newCDPSession(page);
	await cdp.send('Performance.enable');
	const script = async () =>
		(await cdp.send('Performance.getMetrics')).metrics.find((m) => m.name === 'ScriptDuration')!.value;
	await page.evaluate(() => {
		const counter = globalThis as unknown as { frames: number };
		counter.frames = 0;
		const count = () => {
			counter.frames++;
			requestAnimationFrame(count);
		};
		requestAnimationFrame(count);
	});
	const frames = () => page.evaluate(() => (globalThis as unknown as { frames: number }).frames);
	return async (work) => {
		const [f0, s0] = [await frames(), await script()];
		await work();
		const [f1, s1] = [await frames(), await script()];
		return (1000 * (s1 - s0)) / Math.max(1, f1 - f0);
	};
}

interface Opened {
	page: Page;
	/** Milliseconds to the first lanes. */
	opening: number;
	scriptBytes: number;
	meter: Meter;
	lanes: { x: number; y: number; width: number; height: number };
}

async function openLarge(
	server: TestServer,
	browser: Browser,
	channels: number,
	keys: number,
): Promise<Opened> {
	const imported = await fetch(`${server.address}/api/projects/import`, {
		method: 'POST',
		headers: { 'content-type': 'application/json' },
		body: largeProject(channels, keys),
	});
	const { id } = (await imported.json()) as { id: string };
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
	await page.addInitScript(() => localStorage.setItem('hillock-guide', 'done'));
	await page.addInitScript(countPictures);
	await page.addInitScript(noteLanes);
	const scripts: Response[] = [];
	page.on('response', (response) => {
		if (response.url().endsWith('.js')) scripts.push(response);
	});
	const started = performance.now();
	await page.goto(`${server.address}/p/${id}/compose/regatta`);
	await page.locator('[data-lanes-canvas]').waitFor();
	const opening = performance.now() - started;
	await page.waitForTimeout(1500);
	const first = await page.evaluate(scriptsBeforeLanes);
	// After the clock has stopped: to read and squeeze them takes a while.
	let scriptBytes = 0;
	for (const script of scripts)
		if (first.includes(script.url())) scriptBytes += gzipSync(await script.body()).length;
	const lanes = (await page.locator('[data-lanes-canvas]').boundingBox())!;
	return { page, opening, scriptBytes, meter: await meterOf(page), lanes };
}

async function moveAbout(page: Page, x: number, y: number): Promise<void> {
	await page.mouse.move(x, y);
	await page.mouse.down();
	for (let i = 0; i < 120; i++) {
		await page.mouse.move(x + 30 * Math.sin(i / 9), y + 10 * Math.sin(i / 7));
		await page.waitForTimeout(8);
	}
	await page.mouse.up();
}

/** Drags the first picked key that shows, with all that are picked. */
async function dragPicked({ page, meter }: Opened): Promise<number> {
	const mark = (await page.locator('[data-key-mark]').first().boundingBox())!;
	return meter(() => moveAbout(page, mark.x + 7, mark.y + 7));
}

async function wheel({ page, meter, lanes }: Opened, zooming: boolean): Promise<number> {
	await page.mouse.move(lanes.x + 200, lanes.y + 200);
	if (zooming) await page.keyboard.down('Control');
	const result = await meter(async () => {
		for (let i = 0; i < 60; i++) {
			await page.mouse.wheel(0, (i < 30 ? 1 : -1) * (zooming ? -60 : 160));
			await page.waitForTimeout(8);
		}
	});
	if (zooming) await page.keyboard.up('Control');
	return result;
}

/** Notes when the canvas of the lanes comes. */
function noteLanes(): void {
	const seen = new MutationObserver(() => {
		if (!document.querySelector('[data-lanes-canvas]')) return;
		Object.assign(globalThis, { lanesAt: performance.now() });
		seen.disconnect();
	});
	seen.observe(document, { childList: true, subtree: true });
}

/** Addresses of the scripts that had come by then. */
function scriptsBeforeLanes(): string[] {
	const { lanesAt } = globalThis as unknown as { lanesAt: number };
	const all = performance.getEntriesByType('resource') as PerformanceResourceTiming[];
	return all
		.filter(({ name, responseEnd }) => name.endsWith('.js') && responseEnd <= lanesAt)
		.map(({ name }) => name);
}

/** Counts the frames in which the stage draws. */
function countPictures(): void {
	const counter = { pictures: 0, drawn: false };
	Object.assign(globalThis, { counter });
	for (const name of ['drawElements', 'drawArrays'] as const) {
		const draw = WebGL2RenderingContext.prototype[name] as (...args: unknown[]) => void;
		Object.assign(WebGL2RenderingContext.prototype, {
			[name](this: WebGL2RenderingContext, ...args: unknown[]) {
				counter.drawn = true;
				draw.apply(this, args);
			},
		});
	}
	const count = () => {
		if (counter.drawn) counter.pictures++;
		counter.drawn = false;
		requestAnimationFrame(count);
	};
	requestAnimationFrame(count);
}

/** Script a frame, and the share of the frames in which the stage drew a picture. */
async function play({ page, meter }: Opened): Promise<{ script: number; pictures: number }> {
	const seen = () =>
		page.evaluate(() => {
			const { counter, frames } = globalThis as unknown as { counter: { pictures: number }; frames: number };
			return { pictures: counter.pictures, frames };
		});
	await page.keyboard.press('Space');
	const before = await seen();
	const script = await meter(() => page.waitForTimeout(2000));
	const after = await seen();
	await page.keyboard.press('Space');
	return { script, pictures: (after.pictures - before.pictures) / (after.frames - before.frames) };
}

async function playFigures(what: string, opened: Opened, most?: number): Promise<Figure[]> {
	const { script, pictures } = await play(opened);
	return [
		milliseconds(`playing ${what}, stage included: script a frame`, script, most),
		figure(
			`playing ${what}: pictures of the stage a frame`,
			pictures.toFixed(2),
			'over 0.90',
			pictures > 0.9,
		),
	];
}

export function milliseconds(what: string, measured: number, most?: number): Figure {
	const text = `${measured.toFixed(1)} ms`;
	return most === undefined ? figure(what, text) : figure(what, text, `under ${most} ms`, measured < most);
}

/** 200 lanes of 100 keys: one key is dragged. */
async function usual(server: TestServer, browser: Browser): Promise<Figure[]> {
	const opened = await openLarge(server, browser, 200, 100);
	const { page } = opened;
	await page.getByRole('button', { name: 'boat 1 translation x: key after' }).click();
	const figures = [
		milliseconds('drag of a key, 200 lanes × 100 keys: script a frame', await dragPicked(opened), 8),
		milliseconds('scrolling the same lanes: script a frame', await wheel(opened, false)),
		...(await playFigures('the same clip', opened)),
		milliseconds('opening the same clip, to the first lanes', opened.opening),
		figure(
			'JavaScript that Compose loads until its first lanes, in gzip',
			`${(opened.scriptBytes / 1024).toFixed(0)} KiB`,
		),
	];
	await page.close();
	return figures;
}

/** 500 lanes of 200 keys: a thousand keys are dragged. */
async function large(server: TestServer, browser: Browser): Promise<Figure[]> {
	const opened = await openLarge(server, browser, 500, 200);
	const { page, lanes } = opened;
	// Five lanes under the first part's row, all their keys.
	await page.mouse.move(lanes.x + lanes.width - 3, lanes.y + 40);
	await page.mouse.down();
	await page.mouse.move(lanes.x + 2, lanes.y + 26 + 5 * 56 - 4, { steps: 4 });
	await page.mouse.up();
	const picked = (await page.locator('[data-picked]').textContent()) ?? '';
	if (!picked.startsWith('1000 keys')) throw new Error(`a thousand keys were to be dragged, not ${picked}`);
	const figures = [
		milliseconds('opening 500 lanes × 200 keys, to the first lanes', opened.opening, 2000),
		milliseconds(`drag of ${picked} there: script a frame`, await dragPicked(opened), 12),
		milliseconds('scrolling there: script a frame', await wheel(opened, false), 8),
		milliseconds('zooming there: script a frame', await wheel(opened, true), 8),
		...(await playFigures('there', opened, 6)),
	];
	await page.close();
	return figures;
}

/** Lanes of 2,400 keys, as recordings have. */
async function recorded(server: TestServer, browser: Browser): Promise<Figure[]> {
	const opened = await openLarge(server, browser, 20, 2400);
	const figures = [
		milliseconds('scrolling lanes of 2,400 keys: script a frame', await wheel(opened, false), 8),
		milliseconds('zooming there: script a frame', await wheel(opened, true), 8),
	];
	await opened.page.close();
	return figures;
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
		return [
			...(await usual(server, browser)),
			...(await large(server, browser)),
			...(await recorded(server, browser)),
			milliseconds('from start to the first answer', firstAnswer),
		];
	} finally {
		await browser.close();
		await server.stop();
		rmSync(data, { recursive: true, force: true });
	}
}
