/** Rehearse: clips are tried with what will start them, on the file that ships. */
import type { Page } from '@playwright/test';
import { axeByDayAndNight, axeFindings, projectId, saved, storedDoc } from './compose';
import { expect, test, type TestServer } from './server';

async function openRehearse(app: Page, server: TestServer, project: string): Promise<void> {
	await app.goto(`${server.address}/p/${await projectId(server, project)}/rehearse`);
	await expect(app.locator('[data-file]')).toContainText('clip file');
}

/** What plays, as the line over the charts says it. */
const playing = (app: Page) => app.locator('[data-playing]');
const logged = (app: Page, text: string) => app.locator('[data-log] li').filter({ hasText: text });
const seconds = async (app: Page) => Number.parseFloat((await app.locator('[data-time]').textContent())!);

/** A place of the stage where a part is pointed at, near where it stands as shares of its width and height. */
async function placeOfPart(
	app: Page,
	part: string,
	left: number,
	top: number,
): Promise<{ x: number; y: number }> {
	const box = (await app.locator('[data-stage-canvas]').boundingBox())!;
	const told = app.locator('[data-pointed]');
	for (let ring = 0; ring < 12; ring++)
		for (let turn = 0; turn < 6; turn++) {
			const x = box.x + left * box.width + 7 * ring * Math.cos(turn);
			const y = box.y + top * box.height + 7 * ring * Math.sin(turn);
			await app.mouse.move(x, y);
			if ((await told.count()) > 0 && (await told.textContent())!.startsWith(`${part} `)) return { x, y };
		}
	throw new Error(`${part} is nowhere near`);
}

test('a tap on a part starts its clip, a second one lets it finish its round', async ({ app, server }) => {
	await openRehearse(app, server, 'Quay');
	await expect(playing(app)).toContainText('weed: kelp sway');
	const pelican = await placeOfPart(app, 'pelican', 0.26, 0.65);
	await expect(app.locator('[data-pointed]')).toHaveText(/^pelican.* · tap$/);
	await app.mouse.click(pelican.x, pelican.y);
	await expect(playing(app)).toContainText('pelican: pelican hop');
	await app.getByRole('tab', { name: 'Log' }).click();
	await expect(logged(app, 'pelican hop in pelican: land').first()).toBeVisible();
	// It has hopped away: the line of the trigger lets the moment come about as well.
	await app.getByRole('tab', { name: 'Triggers' }).click();
	await app.getByRole('button', { name: 'try: pelican is tapped' }).click();
	await app.getByRole('tab', { name: 'Log' }).click();
	await expect(logged(app, 'pelican hop in pelican ends')).toHaveCount(1);
});

test('the slip arrives, is stamped by a key, tells code and comes again; frames may be slow', async ({
	app,
	server,
}) => {
	await openRehearse(app, server, 'Parcel slip');
	await app.getByRole('combobox', { name: 'frames of the machine' }).selectOption('15 a second');
	await app.getByRole('tab', { name: 'Log' }).click();
	await expect(logged(app, 'slip arrives: slip in place')).toHaveCount(1);
	await app.locator('[data-time]').click();
	await app.keyboard.press('Enter');
	await expect(logged(app, 'sound')).toContainText(['"volume":0.7']);
	await expect(logged(app, 'slip arrives: slip in place')).toHaveCount(2);
	// Without inputs the log has only what followed from them.
	await app.getByRole('button', { name: 'inputs', exact: true }).click();
	await expect(logged(app, 'key enter is pressed').filter({ hasNotText: '→' })).toHaveCount(0);
	// Started again by the keys of the room, which are not the game's, it begins with the same.
	await app.keyboard.press('Shift+Enter');
	await expect(logged(app, 'key enter is pressed')).toHaveCount(0);
	await expect(logged(app, 'stamped')).toHaveCount(0);
	await expect(logged(app, 'slip arrives: slip in place')).toHaveCount(1);
});

test('a trigger is made in words, works at once, is kept and undone; a dead one says so', async ({
	app,
	server,
}) => {
	await openRehearse(app, server, 'Parcel slip');
	await app.getByRole('button', { name: 'New trigger' }).click();
	const editor = app.locator('[data-trigger-editor]');
	await editor.getByRole('combobox', { name: 'when', exact: true }).selectOption('a key is pressed');
	await editor.getByRole('textbox', { name: 'key: press it' }).press('k');
	await editor.getByRole('combobox', { name: 'what happens' }).selectOption('tell code');
	await editor.getByRole('textbox', { name: 'message' }).fill('knock');
	await editor.getByRole('textbox', { name: 'payload, as JSON' }).fill('{ "loud": }');
	await editor.getByRole('textbox', { name: 'payload, as JSON' }).press('Tab');
	await expect(app.getByText('This payload is no JSON')).toBeVisible();
	await editor.getByRole('textbox', { name: 'payload, as JSON' }).fill('{ "loud": 3 }');
	await editor.getByRole('textbox', { name: 'payload, as JSON' }).press('Tab');
	await expect(app.getByRole('button', { name: 'When key k is pressed → tell code “knock”' })).toBeVisible();
	await saved(app);
	const before = await seconds(app);
	await app.getByRole('tab', { name: 'Log' }).click();
	await app.locator('[data-time]').click();
	await app.keyboard.press('k');
	await expect(logged(app, 'knock{"loud":3}').or(logged(app, 'knock {"loud":3}'))).toHaveCount(1);
	// An edit does not set the time back.
	expect(await seconds(app)).toBeGreaterThan(before);

	const made = Object.values((await storedDoc(server, 'Parcel slip')).triggers).at(-1)!;
	expect([made.when, made.then]).toEqual([
		{ kind: 'key', key: 'k' },
		{ kind: 'tell', name: 'knock', payload: { loud: 3 } },
	]);
	await app.getByRole('tab', { name: 'Triggers' }).click();
	const row = app.locator('[data-trigger]').last();
	await row.getByRole('button', { name: /^When/ }).click();
	await row.getByRole('combobox', { name: 'when', exact: true }).selectOption('a clip ends');
	await row.getByRole('combobox', { name: 'clip whose moment it is' }).selectOption('badge pulse');
	await expect(row.getByRole('note')).toHaveText('badge pulse goes on for ever: it never ends');
	await app.locator('[data-time]').click();
	await app.keyboard.press('Control+z');
	await app.keyboard.press('Control+z');
	await expect(row.getByRole('note')).toHaveCount(0);
	await expect(row).toContainText('When key k is pressed');
});

test('layers follow parameters, blends play over and over and are set where they are seen', async ({
	app,
	server,
}) => {
	await openRehearse(app, server, 'Quay');
	await app.getByRole('tab', { name: 'Log' }).click();
	await app.getByRole('slider', { name: 'fog' }).fill('0.8');
	await expect(logged(app, 'horn')).not.toHaveCount(0);
	await app.getByRole('tab', { name: 'Blends' }).click();
	// A clip is played as code would play it, with the blend that is set.
	await app.getByRole('combobox', { name: 'play a clip' }).selectOption('crane swing');
	await expect(playing(app)).toContainText('crane swing');
	await app.getByRole('combobox', { name: 'play a clip' }).selectOption('sack drop');
	await expect(playing(app)).toContainText('sack drop');
	const cell = app.getByRole('button', { name: 'ferry crossing to crane swing' });
	await expect(cell).toContainText('%');
	await cell.click();
	await expect(app.getByText('ferry crossing → crane swing, over and over')).toBeVisible();
	await app.getByRole('combobox', { name: 'kind of the blend to crane swing' }).selectOption('Crossfade');
	await expect(cell).not.toContainText('%');
	await app.getByRole('button', { name: /^Use/ }).click();
	await expect(cell).toContainText('no pop');
	await saved(app);
	await app.getByRole('button', { name: 'Done' }).click();
	await expect(app.getByText('over and over')).toHaveCount(0);
});

test('what was done is recorded, done again and checked: a change that breaks it is told', async ({
	app,
	server,
}) => {
	await openRehearse(app, server, 'Parcel slip');
	await app.getByRole('tab', { name: 'Rehearsals' }).click();
	const demo = app.getByRole('region', { name: 'one slip' });
	await demo.getByRole('button', { name: 'Check' }).click();
	await expect(demo).toContainText('Everything as expected.');
	await app.getByRole('button', { name: 'Record' }).click();
	await expect(app.getByRole('status').filter({ hasText: 'recording' })).toBeVisible();
	await app.locator('[data-time]').click();
	await app.keyboard.press('Enter');
	await expect(playing(app)).toContainText('stamp press');
	await app.getByRole('button', { name: /^Stop recording · 1 inputs/ }).click();
	const own = app.getByRole('region', { name: 'rehearsal 1' });
	await expect(own.locator('[data-outcome]')).toContainText('cues');
	await own.getByRole('button', { name: 'Expect this from now on' }).click();
	await expect(own).toContainText('Everything as expected.');
	await own.getByRole('button', { name: 'replay rehearsal 1' }).click();
	await app.getByRole('tab', { name: 'Log' }).click();
	await expect(logged(app, 'stamp press: stamped')).toHaveCount(1);
	await app.getByRole('tab', { name: 'Triggers' }).click();
	await app.getByRole('button', { name: /^When key enter is pressed/ }).click();
	await app.getByRole('button', { name: 'Delete', exact: true }).click();
	await app.getByRole('tab', { name: 'Rehearsals' }).click();
	await own.getByRole('button', { name: 'Check' }).click();
	const faults = own.getByRole('note');
	await expect(
		faults.filter({ hasText: '“stamped” of stamp press does not pass within 0.05 s' }),
	).toHaveCount(1);
	await saved(app);
	expect(Object.keys((await storedDoc(server, 'Parcel slip')).rehearsals)).toHaveLength(2);
});

test('a mix follows its parameter: clips count as the slider says, and a new one is made and played', async ({
	app,
	server,
}) => {
	await openRehearse(app, server, 'Quay');
	await expect(playing(app)).toContainText('buoy: buoy bob');
	const swell = app.locator('[data-mix="swell"]');
	await expect(swell).toContainText('100 %');
	await app.getByRole('slider', { name: 'wind' }).fill('0.25');
	await expect(swell).toContainText('75 %');
	await expect(playing(app)).toContainText('buoy tossed');
	await swell.getByRole('button', { name: 'Clip', exact: true }).click();
	await saved(app);
	expect((await storedDoc(server, 'Quay')).mixes['mix-swell'].stops).toHaveLength(3);
	await app.keyboard.press('Control+z');
	await app.getByRole('button', { name: 'New mix' }).click();
	await saved(app);
	const made = Object.values((await storedDoc(server, 'Quay')).mixes).find(({ name }) => name === 'mix 1')!;
	expect(made.stops.map(({ at }) => at)).toEqual([0, 1]);
	// A place that another clip of the mix has is not taken.
	const second = app.getByRole('textbox', { name: 'place of clip 2 of mix 1' });
	await second.fill('0');
	await second.press('Enter');
	await expect(second).toHaveValue('1');
	await app.getByRole('combobox', { name: 'play a clip' }).selectOption('mix 1');
	await expect(playing(app)).toContainText('pelican hop');
	await app.getByRole('button', { name: 'delete mix mix 1' }).click();
	await saved(app);
	expect(Object.keys((await storedDoc(server, 'Quay')).mixes)).toEqual(['mix-swell']);
});

test('axe finds nothing in any of its cards, by day and by night', async ({ app, server }) => {
	await openRehearse(app, server, 'Quay');
	await app.getByRole('button', { name: 'pause' }).click();
	await app.getByRole('button', { name: /^When crane swing passes/ }).click();
	expect(await axeByDayAndNight(app, true)).toEqual([]);
	await app.getByRole('tab', { name: 'Blends' }).click();
	await app.locator('[data-blend]').first().click();
	expect(await axeFindings(app)).toEqual([]);
	for (const card of ['Log', 'Rehearsals']) {
		await app.getByRole('tab', { name: card }).click();
		expect(await axeFindings(app)).toEqual([]);
	}
});
