/** What opens beside the work, and fields that are clicked while it is open: nobody fights for the focus. */
import type { Page } from '@playwright/test';
import { goToFrame, laneValue, openClip } from './compose';
import { expect, test } from './server';

/** What opens, and whether it lies over the work (then the first click beside it only closes it). */
const OPENERS: { name: string; open: (page: Page) => Promise<void> }[] = [
	...['checks: ', 'filter lanes by kind', 'snap to'].map((label) => ({
		name: label,
		open: async (page: Page) => page.getByRole('button', { name: label }).click(),
	})),
	{ name: 'clip menu', open: async (page) => page.getByRole('button', { name: /^clip: / }).click() },
	{
		name: 'menu of a part',
		open: async (page) =>
			page.getByRole('button', { name: 'part mail sack', exact: true }).click({ button: 'right' }),
	},
	{
		name: 'menu of the ruler',
		open: async (page) => page.getByRole('slider', { name: 'playhead' }).click({ button: 'right' }),
	},
	{
		name: 'channels that can be added',
		open: async (page) => page.getByRole('button', { name: 'add a channel to mail sack' }).click(),
	},
	{ name: 'finder', open: async (page) => page.keyboard.press('Control+k') },
	{ name: 'help', open: async (page) => page.keyboard.press('?') },
	{ name: 'new part', open: async (page) => page.keyboard.press('Shift+N') },
	{
		name: 'nudge',
		open: async (page) => {
			await page.getByRole('button', { name: 'mail sack translation y: key after' }).click();
			await page.keyboard.press('n');
		},
	},
	{ name: 'tween', open: async (page) => page.keyboard.press('t') },
	{ name: 'versions', open: async (page) => page.keyboard.press('v') },
];

const FIELDS: { name: string; at: (page: Page) => ReturnType<Page['locator']> }[] = [
	{ name: 'a lane', at: (page) => laneValue(page, 'mail sack translation x') },
	{ name: 'the playhead', at: (page) => page.getByRole('textbox', { name: 'frame at the playhead' }) },
	{
		name: 'the bench',
		at: (page) => page.getByRole('region', { name: 'bench' }).getByRole('textbox').first(),
	},
	{ name: 'the filter', at: (page) => page.getByRole('searchbox', { name: 'filter lanes by name' }) },
	{
		name: 'the preview speed',
		at: (page) => page.getByRole('textbox', { name: 'preview speed in percent' }),
	},
];

/** What opens beside the work meets every field; what lies over it hides the fields alike: two of them, in turn. */
const POPOVERS = 3;
const ROUNDS = OPENERS.map((opener, at) => ({
	...opener,
	fields: FIELDS.filter((_, i) => at < POPOVERS || i === at % 5 || i === (at + 2) % 5),
}));

test('what a command opens gives the focus back, and the finder comes out of a field', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const find = async (words: string) => {
		await app.keyboard.press('Control+k');
		await app.getByRole('combobox', { name: 'find anything' }).fill(words);
		await app.keyboard.press('Enter');
	};
	await app.getByRole('button', { name: 'part mail sack', exact: true }).click();
	await find('anchor point');
	await expect(app.getByRole('button', { name: 'pivot to bottom centre' })).toBeFocused();
	// One field after the other, without leaving the first.
	await find('transparency');
	await expect(app.getByRole('textbox', { name: 'mail sack opacity', exact: true })).toBeFocused();
	await find('magnet');
	await expect(app.getByRole('textbox', { name: 'frames of the grid' })).toBeFocused();
	await app.keyboard.press('Escape');
	await app.keyboard.press('Escape');
	await expect(app.getByRole('button', { name: 'snap to' })).toBeFocused();

	// The name of a new cue is in hand at once; given up, the focus is where it was.
	const adding = app.getByRole('button', { name: 'Add cue', exact: true });
	await adding.focus();
	await app.keyboard.press('Enter');
	await expect(app.getByRole('textbox', { name: 'name', exact: true })).toBeFocused();
	await app.keyboard.press('Escape');
	await expect(adding).toBeFocused();

	// A formula is written as soon as it is there.
	await app.getByRole('button', { name: 'lane mail sack translation x', exact: true }).click();
	await find('expression');
	await expect(app.getByRole('textbox', { name: 'formula' })).toBeFocused();
	await app.keyboard.type('rest + 2');
	await app.keyboard.press('Enter');
	await expect(app.getByRole('button', { name: 'undo Change formula' })).toBeVisible();
});

for (const [kind, rounds] of [
	['beside the work', ROUNDS.slice(0, POPOVERS)],
	['over the work', ROUNDS.slice(POPOVERS)],
] as const)
	test(`something is open ${kind} and a field is clicked: the field has the focus, and the page answers`, async ({
		app,
		server,
	}) => {
		test.slow();
		await openClip(app, server, 'Quay', 'sack drop');
		for (const { name, open, fields } of rounds)
			for (const field of fields)
				await test.step(`${name}, then ${field.name}`, () => clickBeside(app, open, field));
	});

async function clickBeside(app: Page, open: (page: Page) => Promise<void>, field: (typeof FIELDS)[number]) {
	// With something for the bench to show.
	await goToFrame(app, 10);
	await app.getByRole('button', { name: 'mail sack translation y: key after' }).click();
	const target = field.at(app);
	const box = (await target.boundingBox())!;
	const element = (await target.elementHandle())!;
	const place = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
	/** Whether something else would be chosen there. */
	const isChoice = () =>
		app.evaluate(
			({ x, y }) => document.elementFromPoint(x, y)?.closest('[role="menuitem"], [role="option"]') !== null,
			place,
		);
	await open(app);
	await app.waitForTimeout(250);
	if (!(await isChoice())) await app.mouse.click(place.x, place.y);
	// A freeze would end neither of these.
	expect(await app.evaluate(() => 1 + 1)).toBe(2);
	await app.waitForTimeout(250);
	if (!(await element.evaluate((own) => own === document.activeElement))) {
		// What lay over the field: a click beside it closes it, or Escape does; then the field is there.
		for (let i = 0; i < 3 && (await app.getByRole('dialog').or(app.getByRole('menu')).count()) > 0; i++)
			await app.keyboard.press('Escape');
		await target.click();
	}
	await expect(target).toBeFocused();
	await app.keyboard.type('7');
	await expect(target).toHaveValue(/7/);
	// Not kept: the next round finds things as they were.
	await app.keyboard.press('Escape');
	if (field.name === 'the filter') await target.fill('');
	await target.blur();
}
