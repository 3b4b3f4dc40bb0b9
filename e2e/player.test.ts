/** The player as it is taken along: on a page of its own, with a clip file, as its documentation tells. */
import type { Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from './server';

/** Opens the example of the documentation, with elements that have a place. */
async function openExample(page: Page, address: string): Promise<void> {
	const file = join(mkdtempSync(join(tmpdir(), 'clips-')), 'slip.clips.json');
	const project = 'demo/parcel-slip.hillock.json';
	execFileSync('node', [
		'bin/hillock.js',
		'export',
		project,
		'--to',
		'clips',
		'--clip',
		'all',
		'--out',
		file,
	]);
	const [, example] = /```html\n([\s\S]*?)```/.exec(readFileSync('player/README.md', 'utf8'))!;
	const style =
		'<style>[data-part] { position: absolute; left: 20px; top: 300px; width: 90px; height: 40px }</style>';
	const files: Record<string, { contentType: string; body: string }> = {
		'/app/': { contentType: 'text/html', body: `<!doctype html>${style}${example}` },
		'/app/parcel-slip.clips.json': { contentType: 'application/json', body: readFileSync(file, 'utf8') },
	};
	await page.route('**/app/**', async (route) => {
		const { pathname } = new URL(route.request().url());
		const own = files[pathname];
		if (own) await route.fulfill(own);
		else {
			const response = await route.fetch({ url: `${address}${pathname.replace('/app/', '/player/')}` });
			await route.fulfill({ response });
		}
	});
	await page.goto(`${address}/app/`);
}

/** What the page shows of the slip now. */
function shown(page: Page): Promise<{ y: number; opacity: number; top: number }> {
	return page.locator('[data-part="slip"]').evaluate((slip) => {
		const { translate, opacity } = getComputedStyle(slip);
		const y = Number.parseFloat(translate.split(' ')[1] ?? '0');
		return { y, opacity: Number(opacity), top: slip.getBoundingClientRect().top };
	});
}

test('a clip plays on the elements of a page, comes to its end, and tells its cue once', async ({
	app,
	server,
}) => {
	const said: string[] = [];
	app.on('console', (message) => said.push(message.text()));
	await openExample(app, server.address);
	const tops = new Set<number>();
	for (let i = 0; i < 8; i++) {
		tops.add(Math.round((await shown(app)).top));
		await app.waitForTimeout(60);
	}
	expect(tops.size).toBeGreaterThan(2);
	await expect.poll(async () => (await shown(app)).y).toBeCloseTo(0, 3);
	expect(await shown(app)).toMatchObject({ opacity: 1, top: 300 });
	await expect.poll(() => said).toEqual(['slip in place {parcel: 4071}']);
});

test('whoever has asked for less motion sees the end at once', async ({ app, server }) => {
	await app.emulateMedia({ reducedMotion: 'reduce' });
	await openExample(app, server.address);
	await app.waitForTimeout(100);
	const first = await shown(app);
	await app.waitForTimeout(300);
	expect(await shown(app)).toEqual(first);
	expect(first).toMatchObject({ opacity: 1, top: 300 });
});
