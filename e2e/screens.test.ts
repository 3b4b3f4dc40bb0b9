/** What holds on every screen: access for all, names as text, errors that say what to do. */
import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { curveOf } from '../core/clip/compile';
import { evaluateCurve } from '../player/curve/evaluate';
import { makeQuay } from '../demo/quay';
import { goToFrame, laneValue, openClip, projectId, saved, storedDoc } from './compose';
import { expect, test, type TestServer } from './server';

async function setValue(page: Page, channel: string, text: string): Promise<void> {
	const field = laneValue(page, channel);
	await field.click();
	await field.fill(text);
	await field.press('Enter');
	await field.press('Escape');
}

async function storedValue(server: TestServer, t: number): Promise<number | undefined> {
	const { channels } = await storedDoc(server, 'Quay');
	return channels['buoy-bob/buoy/rotation/z'].keys.find((key) => key.t === t)?.v;
}

async function axeFindings(page: Page): Promise<string[]> {
	const { violations } = await new AxeBuilder({ page }).analyze();
	return violations.map(({ id, nodes }) => `${id}: ${nodes[0].html.slice(0, 160)}`);
}

test('axe finds nothing, by day and by night', async ({ app, server }) => {
	await app.goto(server.address);
	expect(await axeFindings(app)).toEqual([]);
	await openClip(app, server, 'Quay', 'sack drop');
	await app.getByRole('button', { name: 'mail sack translation y: key after' }).click();
	expect(await axeFindings(app)).toEqual([]);
	await app.getByRole('button', { name: 'light or night' }).click();
	await app.getByRole('button', { name: 'Part', exact: true }).click();
	expect(await axeFindings(app)).toEqual([]);
	await app.getByRole('link', { name: 'Ship' }).click();
	await app.getByRole('button', { name: 'Export glTF' }).click();
	await expect(app.getByRole('link', { name: 'Download Quay.glb' })).toBeVisible();
	expect(await axeFindings(app)).toEqual([]);
});

test('an import that is not valid is refused with its place; a name with markup stays text', async ({
	app,
	server,
}) => {
	await app.goto(server.address);
	const file = (name: string, text: string) => ({
		name,
		mimeType: 'application/json',
		buffer: Buffer.from(text),
	});
	const input = app.getByLabel('project file');
	const quay = readFileSync('demo/quay.hillock.json', 'utf8');
	const broken = file('broken.json', quay.replace('"v":3.1', '"v":"high"'));
	// Until the page listens, a file that is chosen goes unheard.
	await expect(async () => {
		await input.setInputFiles([]);
		await input.setInputFiles(broken);
		const place = app.getByText('/channels/sack-drop~1mail-sack~1translation~1y/keys/0/v');
		await expect(place).toBeVisible({ timeout: 3000 });
	}).toPass();
	await expect(app.getByRole('link', { name: /Quay|Parcel/ })).toHaveCount(2);
	const markup = '<b onmouseover=alert(1)>tide</b>';
	await input.setInputFiles(
		file(
			'markup.json',
			quay
				.replace('"name": "Quay"', `"name": ${JSON.stringify(markup)}`)
				.replace('"name": "mail sack"', `"name": ${JSON.stringify(markup)}`),
		),
	);
	await app.getByRole('link', { name: markup }).click();
	await expect(app.getByRole('button', { name: `part ${markup}` })).toHaveText(markup);
	expect(await app.locator('b').count()).toBe(0);
});

test('a glTF file dropped in becomes a project; one that is torn is told', async ({ app, server }) => {
	const id = await projectId(server, 'Quay');
	const request = { clips: ['ferry-crossing'], target: 'gltf' };
	const json = { 'content-type': 'application/json' };
	const made = await fetch(`${server.address}/api/projects/${id}/export`, {
		method: 'POST',
		headers: json,
		body: JSON.stringify(request),
	});
	const file = await fetch(`${server.address}/api/exports/${((await made.json()) as { id: string }).id}`);
	// The page's script comes late: what was chosen before is taken all the same.
	await app.route('**/_app/immutable/entry/**', async (route) => {
		await new Promise((resolve) => setTimeout(resolve, 1500));
		await route.continue();
	});
	await app.goto(server.address, { waitUntil: 'commit' });
	const buffer = Buffer.from(await file.arrayBuffer());
	await app
		.getByLabel('project file')
		.setInputFiles({ name: 'regatta.glb', mimeType: 'model/gltf-binary', buffer });
	await expect(app.getByText('regatta.glb is here as a project')).toBeVisible();
	await app.getByRole('link', { name: 'regatta' }).click();
	await goToFrame(app, 75);
	const quay = makeQuay();
	const original = quay.channels['ferry-crossing/ferry/translation/x'];
	const halfway = evaluateCurve(curveOf(original, quay.clips['ferry-crossing']), 75 * 2400);
	await expect(laneValue(app, 'ferry translation x')).toHaveValue(`${halfway.toFixed(2)} m`);
	await app.goto(server.address);
	await app
		.getByLabel('project file')
		.setInputFiles({ name: 'torn.glb', mimeType: 'model/gltf-binary', buffer: buffer.subarray(0, 500) });
	await expect(app.getByText('no glTF file that can be read')).toBeVisible();
});

test('a deleted project comes back with undo, or later out of the trash', async ({ app, server }) => {
	await app.goto(server.address);
	await app.getByRole('button', { name: 'more for Quay' }).click();
	await app.getByRole('menuitem', { name: 'Delete' }).click();
	await expect(app.getByRole('link', { name: 'Quay' })).toHaveCount(0);
	await app.getByRole('button', { name: 'Undo' }).click();
	await expect(app.getByRole('link', { name: 'Quay' })).toBeVisible();

	// After the word is gone it is still in the trash.
	await app.getByRole('button', { name: 'more for Quay' }).click();
	await app.getByRole('menuitem', { name: 'Delete' }).click();
	await expect(app.getByRole('link', { name: 'Quay' })).toHaveCount(0);
	await app.reload();
	await app.getByText('Trash (1)').click();
	await app.getByRole('button', { name: 'restore Quay' }).click();
	await expect(app.getByRole('link', { name: 'Quay' })).toBeVisible();
	await expect(app.getByText(/^Trash/)).toHaveCount(0);
});

test('while the server is away edits wait, and are saved when it is back', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	await goToFrame(app, 10);
	await server.stop();
	await setValue(app, 'buoy rotation z', '25');
	await expect(app.locator('[data-save-state="away"]')).toBeVisible();
	await server.start();
	await saved(app);
	expect(await storedValue(server, 24_000)).toBe(25);
});

test('edits that could not be sent outlive the page: the next visit sends them', async ({
	app,
	server,
	context,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const address = app.url();
	await goToFrame(app, 10);
	await server.stop();
	await setValue(app, 'buoy rotation z', '33');
	await expect(app.locator('[data-save-state="away"]')).toBeVisible();
	await app.close({ runBeforeUnload: false });
	await server.start();
	expect(await storedValue(server, 24_000)).toBeUndefined();
	const again = await context.newPage();
	await again.goto(address);
	await saved(again);
	await expect.poll(() => storedValue(server, 24_000)).toBe(33);
});

test('lanes are read as a grid: a row a lane, keys with their values, arrows from one to the next', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const grid = app.getByRole('grid', { name: 'keys of the lanes in sight' });
	await expect(grid.getByRole('row')).toHaveCount(2);
	const rotation = Object.values((await storedDoc(server, 'Quay')).channels['buoy-bob/buoy/rotation/z'].keys);
	const cell = (name: string | RegExp) => grid.getByRole('gridcell', { name });
	await expect(cell('buoy rotation z: 5 keys, frame 0 to 90')).toBeAttached();
	await cell(/^buoy rotation z/).focus();
	await app.keyboard.press('Enter');
	const label = (i: number) =>
		`key of buoy rotation z, frame ${rotation[i].t / 2400}, value ${rotation[i].v}°`;
	await expect(cell(label(0))).toBeFocused();
	await expect(cell(label(0))).toHaveAttribute('aria-selected', 'true');
	// The lane in hand tells all its keys.
	for (const i of [1, 2, 3, 4]) await expect(cell(label(i))).toHaveAttribute('aria-selected', 'false');
	await app.keyboard.press('ArrowRight');
	await expect(cell(label(1))).toBeFocused();
	// Up, to the key of the other lane that is nearest in time.
	await app.keyboard.press('ArrowUp');
	await expect(cell(/^key of buoy translation y, frame 22,/)).toBeFocused();
	await expect(app.locator('[data-picked]')).toHaveText('1 key on 1 lane');
});

test('keys are picked, moved and deleted by keyboard alone', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'signal blink');
	const id = 'signal-blink/signal-lamp/opacity/value';
	const times = async () => (await storedDoc(server, 'Quay')).channels[id].keys.map((key) => key.t / 2400);
	expect(await projectId(server, 'Quay')).toBeTruthy();
	await app.getByRole('button', { name: 'opacity', exact: true }).focus();
	await app.keyboard.press('Enter');
	await app.keyboard.press('Home');
	await app.keyboard.press(']');
	await expect(app.locator('[data-picked]')).toHaveText('1 key on 1 lane');
	await app.keyboard.press('.');
	await app.keyboard.press('.');
	await saved(app);
	expect(await times()).toEqual([0, 8, 12, 18, 24, 42]);
	await app.keyboard.press('Delete');
	await saved(app);
	expect(await times()).toEqual([0, 12, 18, 24, 42]);
	await app.keyboard.press('Control+z');
	await saved(app);
	await app.keyboard.press('Control+z');
	await saved(app);
	await app.keyboard.press('Control+z');
	await saved(app);
	expect(await times()).toEqual([0, 6, 12, 18, 24, 42]);
});

test('each layout gives the stage its due, and the last one is there at the next visit', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const screen = app.viewportSize()!;
	const shareOf = async (name: string) => {
		const box = (await app.getByRole('region', { name, exact: true }).boundingBox())!;
		return (box.width * box.height) / (screen.width * screen.height);
	};
	expect(await shareOf('stage')).toBeGreaterThan(0.35);
	await app.keyboard.press('8');
	await expect.poll(() => shareOf('stage')).toBeGreaterThan(0.55);
	await app.keyboard.press('9');
	await expect.poll(() => shareOf('lanes')).toBeGreaterThan(0.45);
	// The stage draws in its new place, and the work goes on.
	await app.getByRole('button', { name: 'mail sack translation y: key after' }).click();
	await expect(app.getByRole('button', { name: 'Slow start' })).toBeVisible();
	await app.reload();
	await expect.poll(() => shareOf('lanes')).toBeGreaterThan(0.45);
	await app.keyboard.press('7');
	await expect.poll(() => shareOf('stage')).toBeGreaterThan(0.35);
});
