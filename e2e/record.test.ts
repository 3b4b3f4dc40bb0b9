/** Recording: a motion acted live becomes a take and few keys, is cleaned again, thrown away, carried in a zip. */
import type { Page } from '@playwright/test';
import { compileCurve } from '../core/curve/compile';
import { PLAYS_ONCE } from '../core/curve/handles';
import type { Channel } from '../core/document/types';
import { readPack } from '../core/formats/project/pack';
import { readTakeFile } from '../core/takes/samples-file';
import { evaluateCurve } from '../player/curve/evaluate';
import { axeByDayAndNight, openClip, projectId, saved, storedDoc } from './compose';
import { expect, test } from './server';

const X = 'crane-swing/rope/translation/x';
/** Of the clip: it is acted at half speed. */
const ROUND_MS = 1600;
const REACH = 0.8;

/** The card with the stick, over the rope. */
async function readyStick(page: Page): Promise<{ x: number; y: number; reach: number }> {
	await page.locator('[data-part-row="rope"]').getByText('rope', { exact: true }).click();
	await page.getByRole('group', { name: 'bench cards' }).getByRole('button', { name: 'Record' }).click();
	await page.getByRole('combobox', { name: 'device' }).selectOption('stick on the screen');
	await page.getByRole('combobox', { name: 'count-in' }).selectOption('none');
	const box = (await page.locator('[data-stick]').boundingBox())!;
	return { x: box.x + box.width / 2, y: box.y + box.height / 2, reach: box.width / 2 - 10 };
}

/** Moves the stick to and fro by the page's own clock, as a hand does that waits for no frame, while it is recorded. */
async function sway(page: Page, { x, y, reach }: { x: number; y: number; reach: number }): Promise<void> {
	await page.mouse.move(x, y);
	await page.mouse.down();
	await page.keyboard.press('c');
	const status = page.getByRole('status').filter({ hasText: 'Recording' });
	await expect(status).toBeVisible();
	const hand = await page.evaluateHandle(
		({ x, y, reach, round }) => {
			const stick = document.querySelector('[data-stick]')!;
			return setInterval(() => {
				const share = Math.sin((2 * Math.PI * performance.now()) / round);
				const place = { clientX: x + share * reach, clientY: y, bubbles: true };
				stick.dispatchEvent(new PointerEvent('pointermove', place));
			}, 8);
		},
		{ x, y, reach: REACH * reach, round: 2 * ROUND_MS },
	);
	await expect(status).toHaveCount(0);
	await page.evaluate((id) => clearInterval(id), hand);
	await page.mouse.up();
}

/** How far a channel is off the path of the stick, where the two are laid on each other best: RMS, in metres. */
function offPath(channel: Channel, full: number): number {
	const curve = compileCurve(channel.keys, channel.ends, PLAYS_ONCE);
	const times = Array.from({ length: 90 }, (_, i) => (0.5 + i / 45) * 72_000);
	const middle = times.reduce((sum, t) => sum + evaluateCurve(curve, t), 0) / times.length;
	const off = (phase: number) => {
		const path = (t: number) => REACH * full * Math.sin((2 * Math.PI * t) / 72 / ROUND_MS + phase);
		const mean = times.reduce((sum, t) => sum + path(t), 0) / times.length;
		const squares = times.map((t) => (evaluateCurve(curve, t) - middle - path(t) + mean) ** 2);
		return Math.sqrt(squares.reduce((a, b) => a + b) / times.length);
	};
	return Math.min(...Array.from({ length: 360 }, (_, degree) => off((degree * Math.PI) / 180)));
}

test('a part is swayed with a stick: a take, a few keys on its path, cleaned again, all taken back', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'crane swing');
	const before = await storedDoc(server, 'Quay');
	const stick = await readyStick(app);
	await app.getByRole('combobox', { name: 'speed while recording' }).selectOption('50 %');
	await sway(app, stick);
	await expect(app.getByText(/^Recorded: \d+ samples became \d+ keys$/)).toBeVisible();
	await saved(app);

	const doc = await storedDoc(server, 'Quay');
	const [take] = Object.values(doc.takes);
	expect(take.columns.map(({ property, component }) => `${property} ${component}`)).toEqual([
		'translation x',
		'translation y',
	]);
	const channel = doc.channels[X];
	expect(channel.keys.length).toBeLessThanOrEqual(12);
	expect(channel.keys.at(-1)!.t).toBe(before.clips['crane-swing'].length);
	// The stick was moved by the clock, and full way is 2 m: 5 % of what it goes over.
	expect(offPath(channel, 2)).toBeLessThan(0.05 * 2 * REACH * 2);

	// Cleaned again from the raw take: finer has more keys, and the take stays what it was.
	const count = app.locator('[data-key-count]');
	const few = Number(/(\d+) keys/.exec((await count.textContent())!)![1]);
	const tolerance = app.getByRole('textbox', { name: 'tolerance in percent' });
	await tolerance.fill('0.2');
	await tolerance.press('Enter');
	await expect
		.poll(async () => Number(/(\d+) keys/.exec((await count.textContent())!)![1]))
		.toBeGreaterThan(few);
	await saved(app);
	const finer = await storedDoc(server, 'Quay');
	expect(finer.takes[take.id]).toEqual({ ...take, cleaning: { ...take.cleaning, tolerance: 0.002 } });
	expect(finer.channels[X].keys.length).toBeGreaterThan(channel.keys.length);
	expect(await axeByDayAndNight(app)).toEqual([]);

	// The project carries it along.
	const id = await projectId(server, 'Quay');
	const file = await fetch(`${server.address}/api/projects/${id}/file`);
	const pack = readPack(new Uint8Array(await file.arrayBuffer()));
	const samples = readTakeFile(
		(pack.ok && pack.value.files.find((own) => own.id === take.asset)!.content) as Uint8Array,
	);
	expect(samples.ok && samples.value.times.length).toBe(take.samples);

	// One press takes back the cleaning, one the recording.
	await tolerance.press('Escape');
	await app.keyboard.press('Control+z');
	await expect.poll(async () => (await storedDoc(server, 'Quay')).channels[X]).toEqual(channel);
	await app.keyboard.press('Control+z');
	await expect.poll(async () => await storedDoc(server, 'Quay')).toEqual(before);
});

test('Escape throws a take away; the pointer on the stage takes a part along, round after round', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'crane swing');
	const before = await storedDoc(server, 'Quay');
	const stick = await readyStick(app);
	await app.mouse.move(stick.x, stick.y);
	await app.mouse.down();
	await app.keyboard.press('c');
	await expect(app.getByRole('status').filter({ hasText: 'Recording' })).toBeVisible();
	await app.mouse.move(stick.x + 20, stick.y, { steps: 5 });
	await app.keyboard.press('Escape');
	await expect(app.getByText('The take was thrown away')).toBeVisible();
	await app.mouse.up();
	expect(await storedDoc(server, 'Quay')).toEqual(before);

	await app.getByRole('combobox', { name: 'device' }).selectOption('pointer on the stage');
	await app.getByRole('checkbox', { name: 'Round after round' }).check();
	await app.getByRole('button', { name: 'Record', exact: true }).last().click();
	const stage = (await app.locator('[data-stage-canvas]').boundingBox())!;
	const middle = { x: stage.x + stage.width / 2, y: stage.y + stage.height / 2 };
	const later = app.getByRole('status').filter({ hasText: /Recording round [2-9]/ });
	const move = (i: number) => app.mouse.move(middle.x + 60 * Math.sin(i / 3), middle.y);
	let i = 0;
	while ((await later.count()) === 0) await move(i++);
	const into = Date.now() + 1500;
	while (Date.now() < into) await move(i++);
	await app.keyboard.press('c');
	await expect(app.getByText(/^Recorded: /)).toBeVisible();
	await saved(app);
	const doc = await storedDoc(server, 'Quay');
	expect(Object.keys(doc.takes).length).toBeGreaterThan(1);
	const values = doc.channels[X].keys.map(({ v }) => v);
	expect(Math.max(...values) - Math.min(...values)).toBeGreaterThan(0.2);
	await app.keyboard.press('Control+z');
	await expect.poll(async () => await storedDoc(server, 'Quay')).toEqual(before);
});

test('a recording from a file is laid on own parts: matched by name, by hand, one round of it as a clip', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const before = await storedDoc(server, 'Quay');
	await app.keyboard.press('Control+k');
	await app.keyboard.type('motion capture');
	await app.keyboard.press('Enter');
	const file = app.getByLabel('recording from a file');
	const laying = app.getByRole('group', { name: 'lay the take' });

	// A table of a hook: the part of that name is found, shown at once, and nothing is saved before it is laid.
	await file.setInputFiles('demo/recordings/hook.csv');
	await expect(laying.getByLabel('part that hook is laid on')).toHaveValue('hook');
	await expect(app.locator('[data-lane="hook translation x"]')).toBeVisible();
	expect(await axeByDayAndNight(app)).toEqual([]);
	await laying.getByRole('button', { name: 'Leave it' }).click();
	await expect(app.locator('[data-lane="hook translation x"]')).toHaveCount(0);
	expect(await storedDoc(server, 'Quay')).toEqual(before);

	// A walk: its hips are laid on the pelican by hand, from where it rests, one round of it in a clip of its own.
	await file.setInputFiles('demo/recordings/walk.bvh');
	await laying.getByLabel('part that hips is laid on').selectOption('pelican');
	await laying.getByLabel('places').selectOption('from where each part rests');
	await laying.getByLabel('how much is laid').selectOption('0');
	await expect(laying.getByText('Becomes a clip that goes round')).toBeVisible();
	await laying.getByRole('button', { name: 'Lay it' }).click();
	await expect(app.getByRole('button', { name: /^clip: / })).toContainText('walk round');
	await expect(app.getByRole('group', { name: 'clean the take' })).toBeVisible();
	await saved(app);
	const doc = await storedDoc(server, 'Quay');
	const clip = Object.values(doc.clips).find(({ name }) => name === 'walk round')!;
	const [take] = Object.values(doc.takes);
	expect([clip.loop.mode, take.clip, take.to]).toEqual(['repeat', clip.id, clip.length]);
	const channel = (component: string) => doc.channels[`${clip.id}/pelican/translation/${component}`];
	// It walks along z and sways along x: the one goes on, the other meets its start.
	expect([channel('z').accumulates, channel('x').accumulates]).toEqual([true, false]);
	const { keys } = channel('x');
	expect(Math.abs(keys.at(-1)!.v - keys[0].v)).toBeLessThan(0.002);
	expect(channel('y').keys[0].v).toBeCloseTo(doc.parts.pelican.rest.translation[1], 1);
	await app.keyboard.press('Control+z');
	await expect.poll(async () => await storedDoc(server, 'Quay')).toEqual(before);
});
