/** What a pointer has clicked keeps no keys from the work; dialogs are done with Enter, and left one thing at a time. */
import { goToFrame, openClip, saved, storedDoc } from './compose';
import { expect, test } from './server';

test('after a click on a button, a tile, a box or a drop-down, Space plays and Ctrl+Z takes back', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const playing = app.getByRole('button', { name: 'pause', exact: true });
	const plays = async () => {
		await app.keyboard.press('Space');
		await expect(playing).toBeVisible();
		await app.keyboard.press('Space');
		await expect(playing).toBeHidden();
	};
	await app.getByRole('button', { name: 'part mail sack', exact: true }).click();
	await plays();
	await app.getByRole('button', { name: 'mail sack translation y: key after' }).click();
	await plays();
	await app.getByRole('button', { name: 'Slow start' }).click();
	await expect(app.getByRole('button', { name: 'Slow start' })).toHaveAttribute('aria-pressed', 'true');
	await plays();
	await app.keyboard.press('Control+z');
	await expect(app.getByText('Undone: ')).toBeVisible();

	await app.getByRole('button', { name: /^lane .*translation y$/ }).click();
	const after = app.getByRole('combobox', { name: 'after last key' });
	await after.click();
	await after.selectOption('Continue straight');
	await app.keyboard.press('Control+z');
	await expect(after).toHaveValue('hold');
	await app.getByRole('checkbox', { name: 'Accumulate' }).click();
	await plays();
	await app.keyboard.press('Control+z');
	await expect(app.getByRole('checkbox', { name: 'Accumulate' })).not.toBeChecked();
	// Gone to by keyboard, a button is pressed by its keys.
	await app.getByRole('button', { name: 'Formula …' }).focus();
	await app.keyboard.press('Shift+Tab');
	await app.keyboard.press('Tab');
	await app.keyboard.press('Space');
	await expect(app.getByRole('textbox', { name: 'formula' })).toBeVisible();
	await expect(playing).toBeHidden();
});

test('Enter does what a dialog is for, Escape leaves one thing at a time, and a cue that is not wanted is none', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	await app.getByRole('button', { name: 'mail sack translation x: key after' }).click();
	const picked = app.locator('[data-picked]');
	const held = (await picked.textContent())!;
	await app.keyboard.press('n');
	const dialog = app.getByRole('dialog', { name: 'Move keys by an amount' });
	const value = dialog.getByRole('textbox', { name: 'move by value' });
	await value.fill('9');
	await app.keyboard.press('Escape');
	await expect(dialog).toBeVisible();
	await app.keyboard.press('Escape');
	await expect(dialog).toBeHidden();
	await app.keyboard.press('n');
	await value.fill('0.25');
	await value.press('Enter');
	await expect(dialog).toBeHidden();
	await expect(app.getByRole('button', { name: 'undo Move keys' })).toBeVisible();

	// Escape on the bench leads back to the work.
	await app.getByRole('button', { name: 'Slow start' }).focus();
	await app.keyboard.press('Escape');
	await expect(picked).toHaveText(held);
	await app.keyboard.press('Escape');
	await expect(picked).toHaveText('Nothing selected');

	await saved(app);
	const cues = async () => Object.values((await storedDoc(server, 'Quay')).cues).map(({ name }) => name);
	const before = await cues();
	await goToFrame(app, 20);
	await app.keyboard.press('q');
	const cue = app.getByRole('dialog', { name: 'Cue' });
	await expect(cue).toBeVisible();
	await cue.getByRole('button', { name: 'Cancel' }).click();
	await app.keyboard.press('q');
	await app.keyboard.type('splash');
	await app.keyboard.press('Enter');
	await expect(cue).toBeHidden();
	await saved(app);
	expect((await cues()).sort()).toEqual([...before, 'splash'].sort());
});
