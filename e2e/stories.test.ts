/** Days at the harbour: what people set out to do, and the numbers that come of it. */
import type { Page } from '@playwright/test';
import type { Doc } from '../core/document/types';
import { compileClip, curveOf } from '../core/clip/compile';
import { numberPlace } from '../core/clip/layout';
import { evaluateClip } from '../player/motion';
import { evaluateCurve } from '../player/curve/evaluate';
import { goToFrame, laneValue, openClip, saved, storedChannel, storedDoc } from './compose';
import { expect, test, type TestServer } from './server';

const FRAME = 2400;

async function newClip(page: Page): Promise<void> {
	await page.getByRole('button', { name: /^clip: / }).click();
	await page.getByRole('menuitem', { name: 'New clip' }).click();
	await expect(page.getByRole('button', { name: /^clip: / })).toContainText('clip');
	await saved(page);
}

async function type(page: Page, name: string, text: string): Promise<void> {
	const field = page.getByRole('textbox', { name, exact: true });
	await field.click();
	await field.fill(text);
	await field.press('Enter');
	await field.press('Escape');
}

/** Picks a part as people do who know its name. */
async function pickPart(page: Page, name: string): Promise<void> {
	await page.keyboard.press('Control+k');
	await page.keyboard.type(name);
	await page.getByRole('option', { name: `${name} part`, exact: true }).click();
	await expect(page.getByRole('button', { name: `part ${name}`, exact: true })).toHaveAttribute(
		'aria-pressed',
		'true',
	);
}

function keysOf(doc: Doc, part: string, path: string): { frame: number; v: number; kind: string }[] {
	const [property, component] = path.split('.');
	const channel = Object.values(doc.channels).find(
		(c) =>
			doc.clips[c.clip].name === 'clip' &&
			c.part === part &&
			c.property === property &&
			c.component === component,
	);
	return channel?.keys.map((key) => ({ frame: key.t / FRAME, v: key.v, kind: key.shape.kind })) ?? [];
}

async function undoAll(page: Page): Promise<void> {
	const undo = page.getByRole('button', { name: /^undo / });
	while ((await undo.count()) > 0) {
		await undo.click();
		await page.waitForTimeout(80);
		await saved(page);
	}
}

async function untouched(server: TestServer, before: Doc): Promise<void> {
	expect(await storedDoc(server, 'Quay')).toEqual(before);
}

test('the sack drops with three lower bounces and held contacts', async ({ app, server }) => {
	const before = await storedDoc(server, 'Quay');
	await openClip(app, server, 'Quay', 'sack drop');
	await newClip(app);
	await pickPart(app, 'mail sack');
	await app.getByRole('button', { name: 'drop and bounce' }).click();
	await app.getByRole('textbox', { name: 'height', exact: true }).fill('3.6');
	await app.getByRole('textbox', { name: 'first fall', exact: true }).fill('15');
	await app.getByRole('textbox', { name: 'frames on the ground', exact: true }).fill('2');
	await app.keyboard.press('Enter');
	await saved(app);
	const doc = await storedDoc(server, 'Quay');
	const rises = keysOf(doc, 'mail-sack', 'translation.y');
	const tops = rises.filter((key) => key.kind === 'fall').map((key) => Number(key.v.toFixed(3)));
	// 15, 9, 5, 3 frames a half arc: heights go with their squares.
	expect(tops).toEqual([3.6, 1.296, 0.4, 0.144]);
	expect(rises.filter((key) => key.v === 0).map((key) => key.frame)).toEqual([15, 17, 35, 37, 47, 49, 55]);
	const sizes = keysOf(doc, 'mail-sack', 'scale.y');
	expect(Math.min(...sizes.map((key) => key.v))).toBeCloseTo(0.7, 6);
	// A check finds nothing to say against it.
	await expect(app.getByRole('button', { name: 'checks: 0' })).toBeVisible();
	await undoAll(app);
	await untouched(server, before);
});

test('the kelp sways segment after segment, and the loop closes', async ({ app, server }) => {
	const before = await storedDoc(server, 'Quay');
	await openClip(app, server, 'Quay', 'kelp sway');
	await newClip(app);
	// The first segment by auto-key from the bench, copied onto the next two.
	await pickPart(app, 'kelp 1');
	await app.getByRole('button', { name: 'auto-key' }).click();
	for (const [frame, angle] of [
		[0, '-10'],
		[20, '10'],
		[40, '-10'],
	] as const) {
		await goToFrame(app, frame);
		await type(app, 'kelp 1 rotation z', angle);
		await saved(app);
	}
	await app.getByRole('button', { name: 'auto-key' }).click();
	await app.keyboard.press('Control+a');
	await app.keyboard.press('Control+c');
	for (const part of ['kelp 2', 'kelp 3']) {
		await goToFrame(app, 0);
		await pickPart(app, part);
		await app.keyboard.press('Control+v');
		await saved(app);
	}
	// Each a little later than the one below.
	await app.keyboard.press('Escape');
	await app.keyboard.press('Control+a');
	await expect(app.locator('[data-picked]')).toHaveText('9 keys on 3 lanes');
	await type(app, 'stagger in frames', '4');
	await saved(app);
	const doc = await storedDoc(server, 'Quay');
	const frames = ['kelp-1', 'kelp-2', 'kelp-3'].map((part) =>
		keysOf(doc, part, 'rotation.z').map((key) => key.frame),
	);
	expect(frames).toEqual([
		[0, 20, 40],
		[4, 24, 44],
		[8, 28, 48],
	]);

	// Made a loop, it closes; one end moved, it does not, and the check mends it.
	await app.getByRole('button', { name: 'Clip', exact: true }).click();
	await app.getByRole('button', { name: 'Repeat' }).click();
	await goToFrame(app, 48);
	await type(app, 'kelp 3 rotation z value', '5');
	await app.getByRole('button', { name: /^checks: [1-9]/ }).click();
	await expect(app.getByText('Does not close at the seam')).toBeVisible();
	await app.getByRole('button', { name: 'End at start value' }).first().click();
	await app.keyboard.press('Escape');
	await saved(app);
	await expect(app.getByText('Does not close at the seam')).toHaveCount(0);
	await undoAll(app);
	await untouched(server, before);
});

test('two motions overlap: keys scaled, reversed and shifted keep their form', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const stored = async () => (await storedDoc(server, 'Quay')).channels['buoy-bob/buoy/rotation/z'].keys;
	const original = await stored();
	await app.getByRole('button', { name: /^lane .*rotation z$/ }).click();
	await app.keyboard.press('Control+a');
	await type(app, 'scale the times in percent', '50');
	await saved(app);
	expect((await stored()).map((key) => key.t)).toEqual(original.map((key) => key.t / 2));
	await app.keyboard.press('r');
	await saved(app);
	const last = original.at(-1)!.t / 2;
	expect((await stored()).map((key) => [key.t, key.v])).toEqual(
		original.map((key) => [last - key.t / 2, key.v]).reverse(),
	);
	await app.keyboard.press('Control+z');
	await saved(app);
	await app.keyboard.press('Control+z');
	await saved(app);
	expect(await stored()).toEqual(original);
	await goToFrame(app, 30);
	await app.keyboard.press('g');
	const amount = app.getByRole('textbox', { name: 'time to insert or remove' });
	await expect(amount).toBeFocused();
	await app.keyboard.type('0.2s');
	await app.keyboard.press('Enter');
	await saved(app);
	expect((await stored()).map((key) => key.t)).toEqual(
		original.map((key) => (key.t >= 30 * FRAME ? key.t + 6 * FRAME : key.t)),
	);
	const lengthNow = async () => (await storedDoc(server, 'Quay')).clips['buoy-bob'].length;
	expect(await lengthNow()).toBe(96 * FRAME);
	// More than there is cannot be removed.
	await app.keyboard.press('Shift+G');
	await amount.fill('40');
	await amount.press('Enter');
	await expect(app.getByText('There are 30 frames before the playhead.')).toBeVisible();
	await amount.fill('6');
	await amount.press('Enter');
	await expect(amount).toBeHidden();
	await saved(app);
	expect(await lengthNow()).toBe(90 * FRAME);
});

test('anything is found by a few letters', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	await app.keyboard.press('Control+k');
	await app.keyboard.type('lamp sw');
	await app.keyboard.press('Enter');
	await expect(app.getByRole('button', { name: /^clip: / })).toContainText('lamp sweep');
	await goToFrame(app, 30);
	await expect(laneValue(app, 'lamp rotation y')).toHaveValue('-90°');
});

test('the pelican hops for ever along the quay: its loop closes and it travels on', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'pelican hop');
	const id = 'pelican-hop/pelican/translation/x';
	const before = (await storedChannel(server, 'Quay', id))!;
	expect(before.accumulates).toBe(true);
	// A hop of another length, typed: the next round begins where this one has ended.
	await goToFrame(app, 30);
	const field = laneValue(app, 'pelican translation x');
	const start = Number.parseFloat(await field.inputValue());
	await field.click();
	await field.fill('+=0.3');
	await field.press('Enter');
	await saved(app);
	const doc = await storedDoc(server, 'Quay');
	const clip = doc.clips['pelican-hop'];
	const compiled = compileClip(doc, clip);
	const pose = compiled.layout.rest.slice();
	const at = numberPlace(compiled.layout, 'pelican', 'translation', 'x');
	const xAt = (ticks: number) => {
		evaluateClip(compiled, ticks, pose);
		return pose[at];
	};
	const change = before.keys.at(-1)!.v + 0.3 - before.keys[0].v;
	expect(xAt(clip.length + 7200) - xAt(7200)).toBeCloseTo(change, 9);
	expect(xAt(3 * clip.length + 7200) - xAt(7200)).toBeCloseTo(3 * change, 9);
	// No jump over the seam.
	expect(Math.abs(xAt(clip.length) - xAt(clip.length - 1))).toBeLessThan(1e-3);
	expect(start).toBeCloseTo(before.keys.at(-1)!.v, 1);
	await app.keyboard.press('Control+z');
	await expect.poll(() => storedChannel(server, 'Quay', id)).toEqual(before);
});

test('the lamp spins without a stutter: a closed full turn shows no frame twice', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'lamp sweep');
	const id = 'lamp-sweep/lamp/rotation/y';
	const end = (await storedDoc(server, 'Quay')).clips['lamp-sweep'].length;
	await app.getByRole('button', { name: 'lamp rotation y: key after' }).click();
	// Closed one frame early, as one does by hand: the check says so and mends it.
	await app.keyboard.press(',');
	await saved(app);
	const early = (await storedChannel(server, 'Quay', id))!;
	expect(early.keys.at(-1)!.t).toBe(end - 2400);
	await app.getByRole('button', { name: /^checks: [1-9]/ }).click();
	await app.getByRole('button', { name: 'Move last keys to the end' }).click();
	await saved(app);
	const doc = await storedDoc(server, 'Quay');
	const compiled = compileClip(doc, doc.clips['lamp-sweep']);
	const pose = compiled.layout.rest.slice();
	const at = numberPlace(compiled.layout, 'lamp', 'rotation', 'y');
	const turnAt = (ticks: number) => {
		evaluateClip(compiled, ticks, pose);
		return ((pose[at] % 360) + 360) % 360;
	};
	const frames = end / 2400;
	// Every step from frame to frame is the same, over the seam too.
	for (let frame = 0; frame <= frames; frame++) {
		const step = (turnAt((frame + 1) * 2400) - turnAt(frame * 2400) + 360) % 360;
		expect(Math.min(step, 360 - step)).toBeCloseTo(360 / frames, 6);
	}
});

test('the slip arrives, holds and leaves: a held pose and the arrival in reverse', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Parcel slip', 'slip arrives');
	const id = 'slip-arrives/slip/translation/y';
	const stored = async () => (await storedDoc(server, 'Parcel slip')).channels[id];
	const before = await stored();
	const rate = 1200;
	// Room for the way out, then the arrival once more at frame 72, backwards.
	await app.getByRole('button', { name: 'Clip', exact: true }).click();
	const length = app.getByRole('textbox', { name: 'length in frames' });
	await length.click();
	await length.fill('120');
	await length.press('Enter');
	await app.getByRole('button', { name: 'slip translation y: key after' }).click();
	await app.keyboard.press('Control+a');
	await goToFrame(app, 72);
	await app.keyboard.press('d');
	await app.keyboard.press('Control+Shift+a');
	await app.keyboard.press('r');
	await saved(app);
	const doc = await storedDoc(server, 'Parcel slip');
	expect(doc.clips['slip-arrives'].length).toBe(120 * rate);
	const curve = curveOf(doc.channels[id], doc.clips['slip-arrives']);
	const [first, last] = [before.keys[0].t, before.keys.at(-1)!.t];
	for (let x = 0; x <= last - first; x += 600) {
		// It leaves as it came; backwards a spring is keys within a thousandth of its travel.
		const off = evaluateCurve(curve, 72 * rate + x) - evaluateCurve(curve, last - x);
		expect(Math.abs(off)).toBeLessThan(0.001 * Math.abs(before.keys[0].v - before.keys.at(-1)!.v));
	}
	expect(evaluateCurve(curve, (last + 72 * rate) / 2)).toBeCloseTo(before.keys.at(-1)!.v, 6);
	for (let i = 0; i < 3; i++) await app.keyboard.press('Control+z');
	await expect.poll(stored).toEqual(before);
});
