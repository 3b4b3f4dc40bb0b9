/** What holds on every screen: access for all, names as text, errors that say what to do. */
import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { curveOf } from '../core/clip/compile';
import { evaluateCurve } from '../player/curve/evaluate';
import { makeQuay } from '../demo/quay';
import {
	axeByDayAndNight,
	axeFindings,
	goToFrame,
	laneValue,
	openClip,
	projectId,
	saved,
	storedDoc,
} from './compose';
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

test('axe finds nothing, by day and by night', async ({ app, server }) => {
	await app.goto(server.address);
	expect(await axeFindings(app)).toEqual([]);
	await app.getByRole('button', { name: 'New project' }).click();
	expect(await axeByDayAndNight(app, true)).toEqual([]);
	await app.keyboard.press('Escape');
	await openClip(app, server, 'Quay', 'sack drop');
	await app.getByRole('button', { name: 'mail sack translation y: key after' }).click();
	expect(await axeFindings(app)).toEqual([]);
	await app.getByRole('button', { name: 'light or night' }).click();
	await app.getByRole('button', { name: 'Part', exact: true }).click();
	expect(await axeFindings(app)).toEqual([]);
	await app.getByRole('link', { name: 'Ship' }).click();
	await app.getByRole('button', { name: 'Export glTF' }).click();
	await expect(app.getByRole('link', { name: 'Download quay.glb' })).toBeVisible();
	expect(await axeFindings(app)).toEqual([]);
});

const SHEETS: readonly [name: string, keys: string][] = [
	['shortcuts', 'Shift+?'],
	['finder', 'Control+k'],
	['tween', 't'],
	['time', 'g'],
	['an amount', 'n'],
	['versions', 'v'],
	['a new part', 'Shift+N'],
];

test('axe finds nothing in whatever opens over Compose, by day and by night', async ({ app, server }) => {
	// Each look at a dialog takes seconds on a slow machine.
	test.slow();
	await openClip(app, server, 'Quay', 'sack drop');
	await app.getByRole('button', { name: 'mail sack translation y: key after' }).click();
	// Something to be listed among the versions.
	await app.keyboard.press('.');
	const found: Record<string, string[]> = {};
	const lookAt = async (name: string) => {
		const findings = await axeByDayAndNight(app, true);
		if (findings.length > 0) found[name] = findings;
	};
	const over = app.locator('[role="dialog"], [role="menu"]');
	/** What is open goes, before anything else is asked for. */
	const shut = async () => {
		await app.keyboard.press('Escape');
		await expect(over).toHaveCount(0);
	};
	for (const [name, keys] of SHEETS) {
		await app.keyboard.press(keys);
		await expect(over.first()).toBeVisible();
		await lookAt(name);
		await shut();
	}
	await app.getByRole('button', { name: 'Part', exact: true }).click();
	await app.getByRole('button', { name: 'Drop and bounce …' }).click();
	await lookAt('bounce');
	await shut();
	const sack = app.getByRole('button', { name: 'part mail sack', exact: true });
	await sack.click();
	await sack.click({ button: 'right' });
	await lookAt('menu of a part');
	await shut();
	await app.getByRole('slider', { name: 'playhead' }).click({ button: 'right' });
	await lookAt('menu of the ruler');
	await shut();
	// The part is in hand, and no lane of it: the bench shows its card.
	await expect(app.getByRole('button', { name: 'colour', exact: true })).toBeVisible();
	await app.getByRole('button', { name: 'colour', exact: true }).click();
	await lookAt('colour');
	await shut();
	for (const name of [
		'add a channel to mail sack',
		'stage options',
		'snap to',
		'filter lanes by kind',
		/^clip: /,
		/^checks/,
	]) {
		await app.getByRole('button', { name }).click();
		await lookAt(String(name));
		await shut();
	}
	const find = async (search: string) => {
		await app.keyboard.press('Control+k');
		await app.getByRole('combobox', { name: 'find anything' }).fill(search);
		await app.keyboard.press('Enter');
	};
	for (const [search, what] of [
		['add cue', 'cue'],
		['icon', 'icon'],
		['zeppelin', 'nothing found'],
	]) {
		await find(search);
		await expect(app.getByRole('dialog')).toBeVisible();
		await lookAt(what);
		await shut();
	}
	// The guide lies over nothing: it is part of the page.
	await find('six steps');
	await expect(app.getByRole('complementary', { name: 'a first clip' })).toBeVisible();
	found.guide = await axeByDayAndNight(app);
	expect(found).toEqual({ guide: [] });
});

test('on a phone one looks, plays, scrubs, moves a key and exports; nothing scrolls sideways', async ({
	app,
	server,
}) => {
	const isWide = () => app.evaluate(() => document.documentElement.scrollWidth > innerWidth);
	for (const [width, height] of [
		[640, 400],
		[390, 844],
	]) {
		await app.setViewportSize({ width, height });
		await app.goto(server.address);
		await expect(app.getByRole('heading', { name: 'Projects' })).toBeVisible();
		expect(await isWide()).toBe(false);
		await openClip(app, server, 'Quay', 'sack drop');
		expect(await isWide()).toBe(false);
	}
	await expect(app.locator('[data-stage-canvas]')).toBeInViewport({ ratio: 0.9 });
	const head = app.getByRole('textbox', { name: 'frame at the playhead' });
	const play = app.getByRole('button', { name: 'play', exact: true });
	await play.click();
	await expect.poll(async () => Number(await head.inputValue())).toBeGreaterThan(3);
	await app.getByRole('button', { name: 'pause', exact: true }).click();
	const ruler = (await app.getByRole('slider', { name: 'playhead' }).boundingBox())!;
	await app.mouse.click(ruler.x + ruler.width * 0.6, ruler.y + ruler.height - 6);
	expect(Number(await head.inputValue())).toBeGreaterThan(20);
	// The second key of the first lane.
	const channel = 'sack-drop/crane-arm/rotation/z';
	const before = (await storedDoc(server, 'Quay')).channels[channel].keys;
	const row = (await app.locator(`[data-channel="${channel}"]`).boundingBox())!;
	const canvas = (await app.locator('[data-lanes-canvas]').boundingBox())!;
	const scale = (await app.locator('[data-lanes-canvas]').evaluate((own) => own.clientWidth)) - 28;
	const x = canvas.x + 14 + (scale * before[1].t) / (72 * 2400);
	const y = row.y + row.height - 4;
	await app.mouse.move(x, y);
	await app.mouse.down();
	await app.mouse.move(x + 20, y, { steps: 6 });
	await app.mouse.up();
	await saved(app);
	const after = (await storedDoc(server, 'Quay')).channels[channel].keys;
	expect(after[1].t).toBeGreaterThan(before[1].t);
	await app.getByRole('link', { name: 'Ship' }).click();
	await app.getByRole('button', { name: 'Export glTF' }).click();
	await expect(app.getByRole('link', { name: 'Download quay.glb' })).toBeVisible();
	expect(await isWide()).toBe(false);
});

test('easings are one stop of Tab; arrows go through them', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'sack drop');
	await app.getByRole('button', { name: 'mail sack translation x: key after' }).click();
	await app.getByLabel('find a shape').focus();
	await app.keyboard.press('Tab');
	await app.keyboard.press('Tab');
	const focused = () => app.evaluate(() => document.activeElement?.textContent?.trim());
	const chosen = await app
		.getByRole('group', { name: 'shapes' })
		.locator('[aria-pressed="true"]')
		.textContent();
	expect(await focused()).toBe(chosen?.trim());
	await app.keyboard.press('Home');
	expect(await focused()).toBe('Hold');
	await app.keyboard.press('ArrowRight');
	expect(await focused()).toBe('Linear');
	await app.keyboard.press('ArrowDown');
	await app.keyboard.press('ArrowUp');
	expect(await focused()).toBe('Linear');
	await app.keyboard.press('ArrowLeft');
	await app.keyboard.press('Enter');
	await expect(app.getByRole('button', { name: 'undo Choose shape' })).toBeVisible();
	// One stop: Tab leads out of them.
	await app.keyboard.press('Tab');
	expect(await app.evaluate(() => document.activeElement?.closest('[aria-label="shapes"]') === null)).toBe(
		true,
	);
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
	await expect(app.getByText('This binary glTF file is torn')).toBeVisible();
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
	await app.getByRole('button', { name: /^lane .*opacity$/ }).focus();
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
