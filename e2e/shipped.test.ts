/** What was written, as its own readers show it in Ship: beside the project, in step, with its error drawn larger. */
import { NodeIO } from '@gltf-transform/core';
import type { Locator, Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { unzipSync } from 'fflate';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pixelmatch from 'pixelmatch';
import { PNG } from 'pngjs';
import { projectId } from './compose';
import { expect, test } from './server';

async function picture(page: Page, of: Locator): Promise<PNG> {
	await expect(of.locator('canvas')).toHaveAttribute('data-still', '');
	await page.waitForTimeout(250);
	await expect(of.locator('canvas')).toHaveAttribute('data-still', '');
	const box = (await of.boundingBox())!;
	// Without the button and the line that lie over it.
	const clip = { x: box.x, y: box.y + 44, width: Math.floor(box.width), height: box.height - 80 };
	return PNG.sync.read(await page.screenshot({ clip }));
}
const differing = (a: PNG, b: PNG): number => {
	const width = Math.min(a.width, b.width);
	const cut = (png: PNG) => {
		const out = new PNG({ width, height: png.height });
		PNG.bitblt(png, out, 0, 0, width, png.height, 0, 0);
		return out.data;
	};
	return pixelmatch(cut(a), cut(b), undefined, width, a.height, { threshold: 0.15 });
};
async function seek(page: Page, share: number): Promise<void> {
	await page.getByRole('slider', { name: 'time in the clip' }).evaluate((slider: HTMLInputElement, at) => {
		slider.value = String(Number(slider.max) * at);
		slider.dispatchEvent(new Event('input', { bubbles: true }));
	}, share);
}

/** The file that plays moves on the stage, and its error can be seen there. */
async function moves(page: Page, at: number): Promise<void> {
	const file = page.getByRole('region', { name: 'the file', exact: true });
	await seek(page, 0);
	const atStart = await picture(page, file);
	await seek(page, at);
	const there = await picture(page, file);
	expect(differing(atStart, there)).toBeGreaterThan(150);
	await page.getByRole('radio', { name: '×100' }).check();
	expect(differing(await picture(page, file), there)).toBeGreaterThan(60);
}

/** Exports a clip, and follows how its reader plays it. */
async function plays(page: Page, format: string, reader: string, clip: string): Promise<void> {
	await page.getByRole('radio', { name: new RegExp(`^${format} \\.`) }).check();
	await page.getByRole('button', { name: `Export ${format}`, exact: true }).click();
	// What was written before plays until then.
	await expect(page.getByRole('button', { name: `Export ${format}`, exact: true })).toBeEnabled();
	await expect(page.getByText(`the file, read by ${reader}`)).toBeVisible();
	await page.getByRole('combobox', { name: 'clip that is played' }).selectOption(clip);
	// In step with the project, at this and at other moments: those of readers that are not ours, too.
	const share = async () => Number(await page.locator('[data-farthest]').getAttribute('data-farthest'));
	let largest = 0;
	for (let i = 1; i < 12; i++) {
		await seek(page, (i + 0.37) / 12);
		largest = Math.max(largest, await share());
	}
	expect(largest).toBeLessThanOrEqual(1.02);
	expect(largest).toBeGreaterThan(0.05);
	await seek(page, 0.1);
	const time = page.getByRole('slider', { name: 'time in the clip' });
	const before = Number(await time.inputValue());
	await page.getByRole('button', { name: 'play the file' }).click();
	await expect.poll(async () => Number(await time.inputValue()) - before).toBeGreaterThan(3000);
}

for (const [project, clip, at, formats] of [
	['Quay', 'sack drop', 0.28, { glTF: 'three.js' }],
	[
		'Parcel slip',
		'slip arrives',
		0.3,
		{
			glTF: 'three.js',
			CSS: 'this browser',
			'Web Animations': 'this browser',
			'Clip file': 'the player',
			'Clip file with player': 'the player',
		},
	],
] as const)
	test(`what is written of ${project} plays in step with it: ${Object.keys(formats).join(', ')}`, async ({
		app,
		server,
	}) => {
		await app.goto(`${server.address}/p/${await projectId(server, project)}/ship`);
		// So far off that it is seen.
		const bound = app.getByRole('textbox', { name: 'bound in percent of the range' });
		await bound.fill('2');
		await bound.press('Enter');
		for (const [format, reader] of Object.entries(formats))
			await test.step(format, () => plays(app, format, reader, clip));
		await moves(app, at);
		await app.getByRole('checkbox', { name: 'side by side' }).check();
		await expect(app.getByRole('region', { name: 'the project', exact: true })).toBeVisible();
	});

test('a row shows its path over time, and its worst moment in Compose', async ({ app, server }) => {
	await app.goto(`${server.address}/p/${await projectId(server, 'Quay')}/ship`);
	await app.getByRole('button', { name: 'Export glTF' }).click();
	const row = app.getByRole('row', { name: /sack drop, crane arm, rotation/ });
	await row.getByRole('button', { name: /^chart and bound of/ }).click();
	const chart = app.getByRole('img', { name: 'values and error over time' });
	await expect(chart.locator('canvas')).toBeVisible();
	// A bound of its own for this path, in the table; it stands with the others then, and counts at the next export.
	const bound = app.getByRole('textbox', { name: 'bound of crane arm / rotation', exact: true });
	await bound.fill('2');
	await bound.press('Enter');
	await expect(bound).toHaveCount(2);
	await expect(app.getByText('--bound-part "crane arm/rotation=2"')).toBeVisible();
	await row.getByRole('button', { name: /^chart and bound of/ }).click();
	await expect(chart).toHaveCount(0);
	await app.getByRole('button', { name: 'Export glTF' }).click();
	await expect(row.getByRole('cell', { name: /^1\.\d+°$/ })).toBeVisible();
	await app.getByRole('button', { name: 'take back the bound of crane arm / rotation' }).click();
	await expect(bound).toHaveCount(0);
	const worst = row.getByTitle('Show this moment in Compose');
	const seconds = parseFloat((await worst.textContent())!);
	await worst.click();
	await expect(app).toHaveURL(/\/compose\//);
	const frame = app.getByRole('textbox', { name: 'frame at the playhead' });
	await expect
		.poll(async () => Math.abs(parseFloat(await frame.inputValue()) / 30 - seconds))
		.toBeLessThan(0.02);
});

test('a file for each clip, its numbers beside it, plays as it is fetched, and a build writes the same', async ({
	app,
	server,
}) => {
	const id = await projectId(server, 'Quay');
	await app.goto(`${server.address}/p/${id}/ship`);
	for (const option of ['a file for each clip', '.gltf with a .bin', '.motion.json', 'z up'])
		await app.getByRole('checkbox', { name: option }).check();
	const rounds = app.getByRole('textbox', { name: 'iterations written out' });
	await rounds.fill('2');
	await rounds.press('Enter');
	await plays(app, 'glTF', 'three.js', 'sack drop');
	const download = app.waitForEvent('download');
	await app.getByRole('link', { name: 'Download quay.zip' }).click();
	const fetched = unzipSync(readFileSync(await (await download).path()));

	const folder = mkdtempSync(join(tmpdir(), 'hillock-apart-'));
	try {
		const file = await fetch(`${server.address}/api/projects/${id}/file`);
		writeFileSync(join(folder, 'quay.hillock.json'), Buffer.from(await file.arrayBuffer()));
		const asked =
			'--clip all --file-per-clip --separate --motion-file --z-up --rounds 2 --bound 0.001 --out out';
		const command = ['export', 'quay.hillock.json', ...asked.split(' ')];
		execFileSync(process.execPath, [join(process.cwd(), 'bin/hillock.js'), ...command], { cwd: folder });
		const written = readdirSync(join(folder, 'out'));
		expect(written.sort()).toEqual(Object.keys(fetched).sort());
		expect(written.filter((name) => name.endsWith('.bin')).length).toBeGreaterThan(5);
		const same = written.filter((name) => readFileSync(join(folder, 'out', name)).equals(fetched[name]));
		expect(same).toEqual(written);
		// Another reader finds the numbers by the name that the text gives.
		const bob = await new NodeIO().read(join(folder, 'out', 'quay-buoy-bob.gltf'));
		expect(bob.getRoot().listAnimations()[0].listChannels().length).toBeGreaterThan(0);
		const motion = JSON.parse(readFileSync(join(folder, 'out', 'quay-buoy-bob.motion.json'), 'utf8'));
		expect(motion.clips[0]).toMatchObject({ name: 'buoy bob', loop: { mode: 'once', rounds: 2 } });
	} finally {
		rmSync(folder, { recursive: true });
	}
});

test('a file that is gone meanwhile is told of, and the table stays', async ({ app, server }) => {
	await app.goto(`${server.address}/p/${await projectId(server, 'Parcel slip')}/ship`);
	await app.route('**/api/exports/*', (route) => route.fulfill({ status: 404, body: '{}' }));
	await app.getByRole('button', { name: 'Export glTF' }).click();
	await expect(app.getByText('The file cannot be played: the server answered 404')).toBeVisible();
	await expect(app.getByRole('table', { name: 'curves of the file' })).toBeVisible();
});

test('a profile is kept with the project, and a build writes by its name what Ship does, byte for byte', async ({
	app,
	server,
}) => {
	const id = await projectId(server, 'Parcel slip');
	await app.goto(`${server.address}/p/${id}/ship`);
	await app.getByRole('radio', { name: /^glTF \./ }).check();
	await app.getByRole('checkbox', { name: 'gauge settles' }).uncheck();
	await app.getByRole('checkbox', { name: 'curves only, no drawings' }).check();
	await app.getByRole('button', { name: 'Keep these choices' }).click();
	const name = app.getByRole('textbox', { name: 'name of profile glTF' });
	await name.fill('For the “kiosk”');
	await name.press('Enter');
	await expect(app.getByText('--profile "For the “kiosk”"')).toBeVisible();
	// Another window takes it up by a click.
	const other = await app.context().newPage();
	await other.goto(`${server.address}/p/${id}/ship`);
	await other.getByRole('radio', { name: 'use profile For the “kiosk”' }).check();
	await expect(other.getByRole('checkbox', { name: 'gauge settles' })).not.toBeChecked();
	await expect(other.getByRole('checkbox', { name: 'curves only, no drawings' })).toBeChecked();
	await other.getByRole('button', { name: 'Export glTF' }).click();
	const download = other.waitForEvent('download');
	await other.getByRole('link', { name: /^Download / }).click();
	const shipped = readFileSync(await (await download).path());

	const folder = mkdtempSync(join(tmpdir(), 'hillock-profile-'));
	try {
		const file = await fetch(`${server.address}/api/projects/${id}/file`);
		writeFileSync(join(folder, 'slip.hillock.json'), Buffer.from(await file.arrayBuffer()));
		const command = ['export', 'slip.hillock.json', '--profile', 'For the “kiosk”', '--out', 'slip.glb'];
		execFileSync(process.execPath, [join(process.cwd(), 'bin/hillock.js'), ...command], { cwd: folder });
		expect(readFileSync(join(folder, 'slip.glb')).equals(shipped)).toBe(true);
	} finally {
		rmSync(folder, { recursive: true });
	}
});

test('sizes are weighed by bounds once somebody looks, and a click takes a bound', async ({
	app,
	server,
}) => {
	await app.goto(`${server.address}/p/${await projectId(server, 'Parcel slip')}/ship`);
	await app.getByRole('radio', { name: /^Web Animations/ }).check();
	const weighed: number[] = [];
	app.on('request', (request) => {
		if (request.url().endsWith('/weigh'))
			weighed.push((request.postDataJSON() as { bounds: { relative: number } }).bounds.relative);
	});
	await app.getByRole('button', { name: 'Export Web Animations' }).click();
	await expect(app.getByText('this browser')).toBeVisible();
	expect(weighed).toEqual([]);
	await app.getByText('Size by error bound').click();
	const bounds = app.getByTitle(/^Take this bound/);
	await expect(bounds).toHaveCount(6);
	const sizes = (await bounds.allTextContents()).map((text) => parseFloat(text.split('·')[1]));
	expect(sizes.every((size, i) => i === 0 || size <= sizes[i - 1])).toBe(true);
	expect(sizes[0]).toBeGreaterThan(1.2 * sizes[5]);
	// What was written is known already.
	expect(weighed).toEqual([0.0001, 0.0003, 0.003, 0.01, 0.03]);
	await bounds.last().click();
	await expect(app.getByRole('textbox', { name: 'bound in percent of the range' })).toHaveValue('3 %');
});
