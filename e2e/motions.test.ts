/** Motions: tried on a part while they play, put as keys, kept, carried to another project. */
import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import type { Channel } from '../core/document/types';
import { goToFrame, lane, openClip, saved, storedDoc } from './compose';
import { expect, test } from './server';

async function openMotions(page: Page, part: string): Promise<void> {
	await page.locator(`[data-part-row="${part}"]`).getByText(part, { exact: true }).click();
	await page.getByRole('group', { name: 'bench cards' }).getByRole('button', { name: 'Motions' }).click();
}
const tile = (page: Page, name: string) =>
	page.getByRole('group', { name: 'motions' }).getByRole('button', { name, exact: true });
const keysOf = (channel: Channel | undefined) => channel?.keys.map(({ t, v }) => [t, Number(v.toFixed(3))]);

test('a motion is found, tried while it plays, and put; undo takes it back', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'pelican hop');
	const before = await storedDoc(server, 'Quay');
	await openMotions(app, 'pelican');
	await app.getByRole('searchbox', { name: 'find a motion' }).fill('opacity hide');
	await expect(tile(app, 'fade out')).toBeVisible();
	await expect(tile(app, 'hop')).toHaveCount(0);
	await app.getByRole('searchbox', { name: 'find a motion' }).fill('');

	// Tried: it plays between its ends, the lanes show it, and nothing is saved.
	await tile(app, 'swing').click();
	await expect(app.getByRole('button', { name: 'pause' })).toBeVisible();
	const readout = app.getByText(/^pelican · .*turned z/);
	const seen = new Set<string>();
	await expect
		.poll(async () => seen.add((await readout.textContent().catch(() => '')) ?? '').size)
		.toBeGreaterThan(3);
	expect(await storedDoc(server, 'Quay')).toEqual(before);
	await app.keyboard.press('Escape');
	await expect(app.getByRole('button', { name: 'play', exact: true })).toBeVisible();
	expect(await storedDoc(server, 'Quay')).toEqual(before);

	// Put with amounts of one's own.
	await tile(app, 'hop').click();
	const distance = app.getByRole('textbox', { name: 'distance of the motion' });
	await distance.fill('2');
	await distance.press('Enter');
	const rounds = app.getByRole('textbox', { name: 'rounds of the motion' });
	await rounds.fill('2');
	await rounds.press('Enter');
	await app.getByRole('button', { name: 'Put on pelican' }).click();
	await saved(app);
	const after = await storedDoc(server, 'Quay');
	const y = Object.values(after.channels).find(({ id }) => id === 'pelican-hop/pelican/translation/y');
	const tops = y!.keys.filter(({ v }) => v > 1.5);
	expect(tops.map(({ v }) => Number(v.toFixed(3)))).toEqual([2.02, 2.02]);
	expect(after.clips['pelican-hop'].length).toBeGreaterThan(before.clips['pelican-hop'].length);
	await app.keyboard.press('Control+z');
	await expect.poll(async () => (await storedDoc(server, 'Quay')).channels).toEqual(before.channels);
});

test('keys are saved as a motion, put on a part of another size, and taken into another project', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'pelican hop');
	await openMotions(app, 'pelican');
	const save = app.getByRole('button', { name: 'Save keys as motion' });
	await expect(save).toBeDisabled();
	await app.locator('[data-part-row="pelican"]').getByText('pelican', { exact: true }).click();
	await app.keyboard.press('Control+a');
	await app.getByRole('group', { name: 'bench cards' }).getByRole('button', { name: 'Motions' }).click();
	// All keys of the clip are those of several parts.
	await save.click();
	await app.getByRole('textbox', { name: 'name of the motion' }).fill('waddle');
	await app.keyboard.press('Enter');
	await expect(app.getByText('select keys of one part')).toBeVisible();
	await lane(app, 'pelican translation y').click({ position: { x: 30, y: 12 } });
	await app.keyboard.press('Control+a');
	await app.getByRole('group', { name: 'bench cards' }).getByRole('button', { name: 'Motions' }).click();
	await save.click();
	await app.getByRole('textbox', { name: 'name of the motion' }).fill('waddle');
	await app.keyboard.press('Enter');
	await expect(tile(app, 'waddle')).toBeVisible();
	await saved(app);

	const [file] = await Promise.all([
		app.waitForEvent('download'),
		app.getByRole('button', { name: 'Export', exact: true }).click(),
	]);
	const text = readFileSync((await file.path())!, 'utf8');
	await openClip(app, server, 'Parcel slip', 'badge pulse');
	await openMotions(app, 'badge');
	await app.getByLabel('file of motions').setInputFiles({
		name: 'broken.json',
		mimeType: 'application/json',
		buffer: Buffer.from(text.replace('"kind": "rise"', '"kind": "soar"')),
	});
	await expect(app.getByText(/^broken\.json: /)).toBeVisible();
	await app.getByLabel('file of motions').setInputFiles({
		name: 'quay.json',
		mimeType: 'application/json',
		buffer: Buffer.from(text),
	});
	await goToFrame(app, 0);
	await tile(app, 'waddle').click();
	await app.getByRole('button', { name: 'Put on badge' }).click();
	await saved(app);
	const slip = await storedDoc(server, 'Parcel slip');
	const hop = (await storedDoc(server, 'Quay')).channels['pelican-hop/pelican/translation/y'];
	const y = Object.values(slip.channels).find(
		({ clip, part, property, component }) =>
			slip.clips[clip].name === 'badge pulse' &&
			slip.parts[part].name === 'badge' &&
			property === 'translation' &&
			component === 'y',
	);
	// As many keys, the other way up.
	expect(y?.keys).toHaveLength(hop.keys.length);
	const rest = slip.parts[y!.part].rest.translation[1];
	expect(Math.min(...keysOf(y)!.map(([, v]) => v))).toBeLessThan(rest - 1);
	expect(Object.values(slip.motions).map(({ name }) => name)).toEqual(['waddle']);
});
