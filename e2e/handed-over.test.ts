/** A clip file with its player: fetched from Ship, unpacked, opened from the disk by a browser that has no network. */
import type { Browser, Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { projectId } from './compose';
import { expect, test, type TestServer } from './server';

/** Exports all clips of a project in Ship; gives the folder in which the zip is unpacked. */
async function takeAlong(app: Page, server: TestServer, project: string): Promise<string> {
	await app.goto(`${server.address}/p/${await projectId(server, project)}/ship`);
	await app.getByRole('radio', { name: /^Clip file with player/ }).check();
	await app.getByRole('button', { name: 'Export Clip file with player' }).click();
	const download = app.waitForEvent('download');
	await app.getByRole('link', { name: /Download .*\.player\.zip/ }).click();
	const folder = mkdtempSync(join(tmpdir(), 'handed-over-'));
	for (const [name, content] of Object.entries(unzipSync(readFileSync(await (await download).path())))) {
		mkdirSync(dirname(join(folder, name)), { recursive: true });
		writeFileSync(join(folder, name), content);
	}
	return folder;
}

/** Opens a page without any network; what it asks for beyond its own file is told at the end. */
async function offline(browser: Browser, act: (page: Page) => Promise<void>, address: string) {
	const context = await browser.newContext({ offline: true, viewport: { width: 900, height: 700 } });
	const page = await context.newPage();
	const wrong: string[] = [];
	page.on('pageerror', (error) => wrong.push(error.message));
	page.on('console', (message) => message.type() === 'error' && wrong.push(message.text()));
	page.on('request', (request) => request.url() !== address && wrong.push(request.url()));
	await page.goto(address);
	await act(page);
	await context.close();
	expect(wrong.filter((url) => !url.startsWith('data:'))).toEqual([]);
}

test('an interface opens from the disk: clips move its elements, a tap does what it is bound to', async ({
	app,
	server,
	browser,
}) => {
	const folder = await takeAlong(app, server, 'Parcel slip');
	const index = pathToFileURL(join(folder, 'index.html')).href;
	await offline(
		browser,
		async (page) => {
			const told = page.locator('#told');
			await expect(told).toContainText('slip arrives: slip in place {"parcel":4071}');
			const slip = page.locator('[data-part="slip"]');
			const top = () => slip.evaluate((own) => own.getBoundingClientRect().top);
			const rest = await top();
			const tops = await slip.evaluate(async (own) => {
				const seen = new Set<number>();
				[...document.querySelectorAll('button')]
					.find((button) => button.textContent === 'slip arrives')!
					.click();
				for (let i = 0; i < 30; i++) {
					await new Promise(requestAnimationFrame);
					seen.add(Math.round(own.getBoundingClientRect().top));
				}
				return [...seen];
			});
			// It comes up from below, in steps: a frame lets at most a fifth of a second pass.
			expect(tops.length).toBeGreaterThan(3);
			expect(Math.max(...tops)).toBeGreaterThan(rest + 50);
			await expect.poll(top).toBeCloseTo(rest, 0);
			await page.locator('[data-part="stamp label"]').click();
			await expect(told).toContainText('sound {"file":"stamp","volume":0.7}');
			const shown = await page.locator('[data-part="stamp mark"]').evaluate((own) => own.style.opacity);
			expect(Number(shown)).toBeGreaterThan(0);
			// The slip lies within the screen as it does in the project: 32 of 360 pixels from the left, 296 wide.
			const box = (name: string) =>
				page
					.locator(`[data-part="${name}"]`)
					.evaluate((own) => own.getBoundingClientRect().toJSON() as DOMRect);
			const [screen, own] = [await box('screen'), await box('slip')];
			expect((own.left - screen.left) / screen.width).toBeCloseTo(32 / 360, 3);
			expect(own.width / screen.width).toBeCloseTo(296 / 360, 3);
		},
		index,
	);
	rmSync(folder, { recursive: true });
});

test('a world opens from the disk and moves', async ({ app, server, browser }) => {
	const folder = await takeAlong(app, server, 'Quay');
	await offline(
		browser,
		async (page) => {
			await expect(page.locator('#told')).toContainText('sack drop: sack at rest');
			const canvas = page.locator('#stage canvas');
			const pictures = new Set<string>();
			await page.getByRole('button', { name: 'crane swing' }).click();
			for (let i = 0; i < 4; i++) {
				pictures.add((await canvas.screenshot()).toString('base64'));
				await page.waitForTimeout(100);
			}
			expect(pictures.size).toBeGreaterThan(2);
		},
		pathToFileURL(join(folder, 'index.html')).href,
	);
	rmSync(folder, { recursive: true });
});

test('the module that its readme shows runs as it stands there', async ({ app, server, page }) => {
	const folder = await takeAlong(app, server, 'Parcel slip');
	const [, code] = /```js\n([\s\S]*?)```/.exec(readFileSync(join(folder, 'README.md'), 'utf8'))!;
	const body = `<!doctype html><div data-part="slip" style="width: 90px; height: 40px"></div><script type="module">${code}</script>`;
	await page.route('**/taken/**', (route) => {
		const name = new URL(route.request().url()).pathname.replace('/taken/', '');
		return name === ''
			? route.fulfill({ contentType: 'text/html', body })
			: route.fulfill({ path: join(folder, decodeURIComponent(name)) });
	});
	const cue = page.waitForEvent('console');
	await page.goto(`${server.address}/taken/`);
	expect((await cue).text()).toBe('slip in place {parcel: 4071}');
	rmSync(folder, { recursive: true });
});
