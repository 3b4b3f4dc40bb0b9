/** Undo as fast as keys repeat, and two windows of one project: nothing is lost without a word. */
import type { Page } from '@playwright/test';
import { axeFindings, laneValue, openClip, saved, storedDoc } from './compose';
import { expect, test, type TestServer } from './server';

async function setLane(page: Page, name: string, value: string): Promise<void> {
	const field = laneValue(page, name);
	await field.click();
	await field.fill(value);
	await field.press('Enter');
	await field.press('Escape');
}
/** A second window in which nobody is shown around. */
async function secondWindow(page: Page, server: TestServer, hears = true): Promise<Page> {
	const other = await page.context().newPage();
	if (!hears) await other.route('**/live?*', (route) => route.abort());
	await openClip(other, server, 'Quay', 'sack drop');
	return other;
}

test('thirty edits are taken back by thirty presses in a row, on a slow line, without a refusal', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const before = await storedDoc(server, 'Quay');
	const refusals: number[] = [];
	app.on('response', (response) => {
		if (response.status() >= 400) refusals.push(response.status());
	});
	await app.getByRole('button', { name: 'mail sack translation x: key after' }).click();
	for (let i = 0; i < 30; i++) await app.keyboard.press('.');
	await saved(app);
	await app.reload();
	await expect(app.locator('[data-lanes-canvas]')).toBeVisible();
	await app.route('**/api/projects/*/undo', async (route) => {
		await new Promise((resolve) => setTimeout(resolve, 40));
		await route.continue();
	});
	// The page was loaded again, so what is taken back is known to the server alone.
	for (let i = 0; i < 30; i++) await app.keyboard.press('Control+z');
	await expect(app.getByRole('button', { name: 'undo', exact: true })).toBeDisabled();
	await saved(app);
	expect(await storedDoc(server, 'Quay')).toEqual(before);
	expect(refusals).toEqual([]);
	for (let i = 0; i < 30; i++) await app.keyboard.press('Control+Shift+z');
	await expect(app.getByRole('button', { name: 'redo', exact: true })).toBeDisabled();
	await saved(app);
	await expect(app.getByText(/changed|refused/)).toHaveCount(0);
});

test('what two windows did to one channel is shown with both sides, and one is chosen', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	// The second window hears nothing of the first one until it is answered.
	const other = await secondWindow(app, server, false);
	await setLane(app, 'mail sack translation x', '3');
	await saved(app);
	await other.route('**/api/projects/*', async (route) => {
		await new Promise((resolve) => setTimeout(resolve, 300));
		await route.continue();
	});
	await setLane(other, 'mail sack translation x', '5');
	await setLane(other, 'mail sack rotation z', '7');
	await saved(other);
	const dialog = other.getByRole('dialog', { name: 'One edit was not saved' });
	await expect(other.getByText('Not saved: Set translation x')).toBeVisible();
	await other.getByRole('button', { name: 'Choose', exact: true }).click();
	await expect(dialog.locator('[data-conflict]')).toContainText('mail sack translation x');
	for (const colorScheme of ['dark', 'light'] as const) {
		await other.emulateMedia({ colorScheme });
		expect(await axeFindings(other, true)).toEqual([]);
	}
	const value = async (component: string) =>
		(await storedDoc(server, 'Quay')).channels[`sack-drop/mail-sack/${component}`].keys[0].v;
	expect([await value('translation/x'), await value('rotation/z')]).toEqual([3, 7]);
	// Later is later, and it outlives the page.
	await dialog.getByRole('button', { name: 'Decide later' }).click();
	await expect(dialog).toBeHidden();
	await other.unrouteAll({ behavior: 'ignoreErrors' });
	await other.reload();
	await other.getByRole('button', { name: '1 not saved' }).click();
	await dialog.getByRole('button', { name: 'Use mine' }).click();
	await expect(dialog).toBeHidden();
	await saved(other);
	expect(await value('translation/x')).toBe(5);
});

test('an edit made while the server is away, and the page closed, is sent by the next window', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const other = await secondWindow(app, server);
	await server.stop();
	await setLane(app, 'mail sack translation x', '3');
	await setLane(other, 'mail sack rotation z', '7');
	await expect(app.locator('[data-save-state="away"]')).toBeVisible();
	await expect(other.locator('[data-save-state="away"]')).toBeVisible();
	await app.close({ runBeforeUnload: false });
	await other.close({ runBeforeUnload: false });
	await server.start();
	const next = await secondWindow(app, server);
	await saved(next);
	const { channels } = await storedDoc(server, 'Quay');
	expect(channels['sack-drop/mail-sack/translation/x'].keys[0].v).toBe(3);
	expect(channels['sack-drop/mail-sack/rotation/z'].keys[0].v).toBe(7);
});

test('a second window follows: an edit and its undo show there at once, and undo says what it takes back', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const other = await secondWindow(app, server);
	const there = laneValue(other, 'mail sack translation x');
	const before = await there.inputValue();
	await setLane(app, 'mail sack translation x', '3');
	await expect(there).toHaveValue(/^3/);
	await expect(other.getByRole('button', { name: 'undo Set translation x' })).toBeEnabled();
	await other.keyboard.press('Control+z');
	await expect(other.getByText('Undone: Set translation x')).toBeVisible();
	await expect(laneValue(app, 'mail sack translation x')).toHaveValue(before);

	// The clip under the playhead goes, while it plays there: calm, with a word.
	await other.keyboard.press('Space');
	await app.keyboard.press('Control+k');
	await app.getByRole('combobox', { name: 'find anything' }).fill('delete this clip');
	await expect(app.getByRole('option', { name: 'Delete this clip' })).toBeVisible();
	await app.keyboard.press('Enter');
	await expect(other.getByText('This clip is not here')).toBeVisible();
	await app.keyboard.press('Control+z');
	await expect(other.locator('[data-lanes-canvas]')).toBeVisible();
});
