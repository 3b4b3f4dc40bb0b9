/** The guide beside the work: found by a word, its links do what they speak of, findings lead to it. */
import { openClip } from './compose';
import { expect, test } from './server';

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
