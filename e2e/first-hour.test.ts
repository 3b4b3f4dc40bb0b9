/** The first hour: what an empty Hillock offers; the guide beside the work, found by a word, whose links do what they speak of. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openClip } from './compose';
import { expect, test, TestServer } from './server';

test('the guide stands beside the work, and its links bring what they speak of into hand', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'kelp sway');
	await app.keyboard.press('F1');
	const guide = app.getByRole('complementary', { name: 'guide' });
	await expect(guide.getByRole('heading', { name: 'Plan', exact: true })).toBeVisible();
	await expect(guide.getByRole('img')).toHaveJSProperty('complete', true);
	expect(await guide.getByRole('img').evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(1280);
	// The work makes place for it.
	const stage = (await app.locator('[data-stage-canvas]').boundingBox())!;
	expect(stage.x + stage.width).toBeLessThanOrEqual((await guide.boundingBox())!.x + 1);

	await guide.getByRole('searchbox', { name: 'find in the guide' }).fill('stutters');
	await guide.getByRole('button', { name: /^Loop .*stutters/ }).click();
	await guide.getByRole('button', { name: 'Seam of the loop', exact: true }).click();
	await expect(app.getByText('Blend over')).toBeVisible();
	await guide.getByRole('button', { name: 'Loop', exact: true }).first().click();
	await guide
		.getByRole('navigation', { name: 'pages of the guide' })
		.getByRole('button', { name: 'Keys' })
		.click();
	await guide.getByRole('button', { name: 'Reduce keys within a tolerance' }).click();
	await expect(app.getByText('Select keys or a lane first')).toBeVisible();
	await guide.getByRole('button', { name: 'page after' }).click();
	await expect(guide.getByRole('heading', { name: 'Look', exact: true })).toBeVisible();
	await guide.getByRole('button', { name: 'close the guide' }).click();
	await expect(guide).toHaveCount(0);

	// A finding tells more; other rooms have their own page, and Projects all of them.
	const value = app.getByRole('textbox', { name: 'kelp 1 rotation z value' });
	await app.keyboard.press('End');
	await value.fill('9');
	await value.press('Enter');
	await app.getByRole('button', { name: /^checks: [1-9]/ }).click();
	await app.getByRole('button', { name: 'Learn more' }).first().click();
	await expect(guide.getByRole('heading', { name: 'Loop', exact: true })).toBeVisible();
	await app.getByRole('link', { name: 'Ship', exact: true }).click();
	await app.getByRole('button', { name: 'guide', exact: true }).click();
	await expect(guide).toHaveCount(0);
	await app.keyboard.press('F1');
	await expect(guide.getByRole('heading', { name: 'Ship', exact: true })).toBeVisible();
	await app.goto(server.address);
	await app.getByRole('link', { name: 'Guide' }).click();
	await app.getByRole('button', { name: 'Blend', exact: true }).click();
	await expect(app).toHaveURL(/\/guide\/blend$/);
	await expect(app.getByRole('heading', { name: 'Blend', exact: true })).toBeVisible();
	expect((await app.goto(`${server.address}/guide/nowhere`))!.status()).toBe(404);
});

test('an empty Hillock offers what moves already, and what is new has a name', async ({ app }) => {
	const data = mkdtempSync(join(tmpdir(), 'hillock-'));
	const server = new TestServer(data, 'serve');
	await server.start();
	try {
		await app.goto(server.address);
		await app.getByRole('button', { name: /^Ball that hops/ }).click();
		await expect(app.getByRole('button', { name: /^clip: / })).toContainText('ball hops');
		await expect(app.locator('[data-lanes-canvas]')).toBeVisible();
		await app.getByRole('button', { name: 'part ball', exact: true }).click();
		const readout = app.getByText(/^ball · x/);
		const before = await readout.textContent();
		await app.keyboard.press('Space');
		await expect(readout).not.toHaveText(before!);
		await app.goto(server.address);
		await expect(app.getByRole('region', { name: 'first steps' })).toHaveCount(0);
		await app.getByRole('button', { name: 'New project' }).click();
		await expect(app.getByRole('textbox', { name: 'Name' })).toHaveValue('Project');
		await app.getByRole('radio', { name: /^Interface/ }).check();
		await app.getByRole('combobox', { name: 'Start with' }).selectOption('A card that arrives');
		await app.getByRole('button', { name: 'Create' }).click();
		await expect(app.getByRole('button', { name: /^clip: / })).toContainText('card arrives');
	} finally {
		await server.stop();
		rmSync(data, { recursive: true, force: true });
	}
});
