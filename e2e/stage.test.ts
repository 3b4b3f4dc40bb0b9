/** What hands do on the stage and on the ruler: keys of the way, scaling, typed amounts, ranges, gaps, versions. */
import { shownAt } from '../core/testing';
import { channelId, childrenOf } from '../core/document/types';
import { worldMatrix } from '../core/clip/path';
import { frameX, goToFrame, openClip, saved, storedChannel, storedDoc, writeColour } from './compose';
import { expect, test } from './server';
import { createHash } from 'node:crypto';
import type { Locator, Page } from '@playwright/test';

async function dragFrom(
	page: Page,
	target: Locator,
	dx: number,
	dy: number,
	meanwhile?: () => Promise<void>,
) {
	const box = (await target.boundingBox())!;
	const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
	await page.mouse.move(x, y);
	await page.mouse.down();
	await page.mouse.move(x + dx, y + dy, { steps: 5 });
	await meanwhile?.();
	await page.mouse.up();
}

test('a key of the path is dragged on the stage: what has a key there moves, the rest does not', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const before = await storedDoc(server, 'Quay');
	const id = channelId('sack-drop', 'mail-sack', 'translation', 'y');
	// The top of the first bounce: y has a key there, x has none.
	const t = 27 * 2400;
	const top = before.channels[id].keys.findIndex((key) => key.t === t);
	await app.getByRole('button', { name: 'part mail sack', exact: true }).click();
	await dragFrom(app, app.locator(`[data-path-key="${t}"]`), 14, -12);
	await saved(app);
	const after = await storedDoc(server, 'Quay');
	expect(after.channels[id].keys[top].v).toBeGreaterThan(before.channels[id].keys[top].v + 0.2);
	expect(after.channels[id].keys.toSpliced(top, 1)).toEqual(before.channels[id].keys.toSpliced(top, 1));
	expect({ ...after.channels, [id]: null }).toEqual({ ...before.channels, [id]: null });
	await app.keyboard.press('Control+z');
	await saved(app);
	expect(await storedDoc(server, 'Quay')).toEqual(before);
	// The room about the part's handles keeps the view still, and leaves the path its keys.
	await goToFrame(app, 40);
	const contact = 19 * 2400;
	await dragFrom(app, app.locator(`[data-path-key="${contact}"]`), 14, -12);
	await saved(app);
	const { keys } = (await storedDoc(server, 'Quay')).channels[id];
	expect(keys.find((key) => key.t === contact)!.v).toBeGreaterThan(0.1);
});

test('a handle of the way is pulled: the way sets off another way, and its keys stay', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const id = channelId('sack-drop', 'mail-sack', 'translation', 'y');
	const before = (await storedDoc(server, 'Quay')).channels[id].keys;
	// Where the sack leaves the ground for its first bounce.
	const t = before.find((key, i) => key.shape.kind === 'rise' && before[i + 1].v > key.v)!.t;
	await app.getByRole('button', { name: 'part mail sack', exact: true }).click();
	await app.locator(`[data-path-key="${t}"]`).click();
	await dragFrom(app, app.locator('[data-path-tangent="right"]'), 0, -25);
	await saved(app);
	const after = (await storedDoc(server, 'Quay')).channels[id].keys;
	expect(after.map((key) => [key.t, key.v])).toEqual(before.map((key) => [key.t, key.v]));
	const key = after.find((own) => own.t === t)!;
	const next = after[after.indexOf(key) + 1];
	// A rise sets off with two thirds of its change: now it is more.
	expect(key.shape).toEqual({ kind: 'handles' });
	expect(key.right!.rise!).toBeGreaterThan((2 / 3) * (next.v - key.v) + 0.2);
});

test('a number typed while a handle is held is the amount, exactly', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	await app.getByRole('button', { name: 'part buoy', exact: true }).click();
	const rest = (await storedDoc(server, 'Quay')).parts.buoy.rest.scale;
	await dragFrom(app, app.locator('[data-gizmo="scale-all"]'), 9, 9, async () => {
		await app.keyboard.type('1.25');
		await expect(app.locator('[data-held]')).toHaveText('all × 1.25');
	});
	await saved(app);
	expect((await storedDoc(server, 'Quay')).parts.buoy.rest.scale).toEqual(rest.map((v) => v * 1.25));
	// Escape lets go without a change.
	await dragFrom(app, app.locator('[data-gizmo="scale-all"]'), 20, 20, () => app.keyboard.press('Escape'));
	expect((await storedDoc(server, 'Quay')).parts.buoy.rest.scale).toEqual(rest.map((v) => v * 1.25));
});

test('an arm along the axes of the world moves a part on a turned parent straight up', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'crane swing');
	await app.getByRole('button', { name: 'part rope', exact: true }).click();
	await app.getByRole('button', { name: 'stage options' }).click();
	await app.getByRole('combobox', { name: 'axes of the handles' }).selectOption('world');
	await app.keyboard.press('Escape');
	const before = (await storedDoc(server, 'Quay')).parts.rope.rest.translation;
	await dragFrom(app, app.locator('[data-gizmo="move-y"] circle'), 0, -5, () => app.keyboard.type('1'));
	await saved(app);
	const after = (await storedDoc(server, 'Quay')).parts.rope.rest.translation;
	const moved = after.map((v, k) => v - before[k]);
	// The arm hangs turned, so that up in the world is along both of its axes; the way is one metre long.
	expect(Math.abs(moved[0])).toBeGreaterThan(0.05);
	expect(Math.hypot(...moved)).toBeCloseTo(1, 6);
});

test('auto-key keys everything that is changed, by hand, typed or as a colour; nothing goes to rest unseen', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	await goToFrame(app, 7);
	await app.getByRole('button', { name: 'part buoy', exact: true }).click();
	const before = await storedDoc(server, 'Quay');
	await app.getByRole('button', { name: 'Auto-key', exact: true }).click();
	const keysOf = async (path: string) =>
		(await storedChannel(server, 'Quay', `buoy-bob/buoy/${path}`))?.keys.map((key) => key.t) ?? null;
	await dragFrom(app, app.locator('[data-gizmo="scale-all"]'), 9, 9, () => app.keyboard.type('1.1'));
	await saved(app);
	for (const axis of ['x', 'y', 'z']) expect(await keysOf(`scale/${axis}`)).toEqual([0, 7 * 2400]);
	await dragFrom(app, app.locator('[data-gizmo="move"]'), 20, -15);
	await saved(app);
	for (const axis of ['x', 'y']) expect(await keysOf(`translation/${axis}`)).toContain(7 * 2400);
	const type = async (name: string, text: string) => {
		const field = app.getByRole('textbox', { name, exact: true });
		await field.click();
		if (text) await field.fill(text);
		await field.press('Enter');
		await field.press('Escape');
	};
	await type('buoy opacity', '0.5');
	await writeColour(app, 'colour', '#123456');
	await goToFrame(app, 11);
	// The value that is shown, retyped or left as it is, is a key too.
	await type('buoy opacity', '0.5');
	await type('buoy scale x', '');
	await saved(app);
	expect(await keysOf('opacity/value')).toEqual([0, 7 * 2400, 11 * 2400]);
	expect(await keysOf('scale/x')).toEqual([0, 7 * 2400, 11 * 2400]);
	expect(await keysOf('colour/value')).toEqual([0, 7 * 2400]);
	const after = await storedDoc(server, 'Quay');
	expect(after.parts).toEqual(before.parts);

	// Told to key only what is there, it refuses the rest with a word, and writes nothing.
	await app.getByRole('button', { name: /sets keys on everything/ }).click();
	await dragFrom(app, app.locator('[data-gizmo="turn"]'), 20, 20);
	await type('buoy rotation x', '5');
	await expect(app.getByText(/rotation x has no channel in this clip/)).toBeVisible();
	expect((await storedDoc(server, 'Quay')).parts).toEqual(before.parts);
});

test('a range on the ruler goes round while it plays, and time is put in with Alt', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const ruler = (await app.getByRole('slider', { name: 'playhead' }).boundingBox())!;
	const y = ruler.y + 30;
	const sweep = async (key: 'Shift' | 'Alt', from: number, to: number) => {
		await app.keyboard.down(key);
		await app.mouse.move(await frameX(app, from, 72), y);
		await app.mouse.down();
		await app.mouse.move(await frameX(app, to, 72), y, { steps: 4 });
		await app.mouse.up();
		await app.keyboard.up(key);
	};
	await sweep('Shift', 20, 26);
	const whole = app.getByRole('button', { name: 'play the whole clip again' });
	await expect(whole).toHaveAttribute('title', /frames 20 to 26 only/);
	await app.keyboard.press('Space');
	const field = app.getByRole('textbox', { name: 'frame at the playhead' });
	const seen: number[] = [];
	for (let i = 0; i < 12; i++) {
		seen.push(Number(await field.inputValue()));
		await app.waitForTimeout(60);
	}
	await app.keyboard.press('Space');
	expect(Math.min(...seen)).toBeGreaterThanOrEqual(20);
	expect(Math.max(...seen)).toBeLessThanOrEqual(26);
	expect(seen.some((frame, i) => i > 0 && frame < seen[i - 1])).toBe(true);
	await whole.click();

	const before = await storedDoc(server, 'Quay');
	await sweep('Alt', 30, 40);
	await saved(app);
	const after = await storedDoc(server, 'Quay');
	expect(after.clips['sack-drop'].length - before.clips['sack-drop'].length).toBe(10 * 2400);
	const id = channelId('sack-drop', 'mail-sack', 'translation', 'y');
	expect(after.channels[id].keys.map((key) => key.t)).toEqual(
		before.channels[id].keys.map(({ t }) => (t < 30 * 2400 ? t : t + 10 * 2400)),
	);
	await app.keyboard.press('Control+z');
	await saved(app);
	expect(await storedDoc(server, 'Quay')).toEqual(before);
});

test('keys that a stretch leaves between frames are told of, and put on frames', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const id = channelId('buoy-bob', 'buoy', 'translation', 'y');
	const offFrames = async () =>
		(await storedChannel(server, 'Quay', id))!.keys.filter(({ t }) => t % 2400 !== 0).length;
	await app.getByRole('button', { name: /^lane .*translation y$/ }).click();
	await app.keyboard.press('Control+a');
	await app.getByRole('textbox', { name: 'scale the times in percent' }).fill('77');
	await app.keyboard.press('Enter');
	await saved(app);
	const left = await offFrames();
	expect(left).toBeGreaterThan(0);
	await expect(app.getByText(`${left} keys stand between frames`)).toBeVisible();
	await app.getByRole('button', { name: 'To whole frames' }).click();
	await saved(app);
	expect(await offFrames()).toBe(0);
	await app.keyboard.press('Control+z');
	await saved(app);
	expect(await offFrames(), 'one step of undo').toBe(left);
});

test('versions are told, named, pinned, and brought back', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const id = channelId('buoy-bob', 'buoy', 'translation', 'y');
	const before = await storedChannel(server, 'Quay', id);
	await app.getByRole('button', { name: 'buoy translation y: key after' }).click();
	await app.keyboard.press('1');
	await app.keyboard.press('Delete');
	await saved(app);
	await app.keyboard.press('v');
	const versions = app.getByRole('list', { name: 'versions, newest first' });
	const held = versions.getByRole('listitem').filter({ hasText: 'Easing Hold' }).first();
	await expect(held).toContainText('buoy · translation y · frame 22');

	await held.getByRole('button', { name: /^name the version/ }).click();
	await app.keyboard.type('held crest');
	await app.keyboard.press('Escape');
	await expect(versions, 'Escape leaves the name as it was').not.toContainText('held crest');
	await held.getByRole('button', { name: /^name the version/ }).click();
	await app.keyboard.type('held crest');
	await app.keyboard.press('Enter');
	await app.getByRole('checkbox', { name: 'Named versions only' }).check();
	await expect(versions.getByRole('listitem')).toHaveCount(1);

	const restored = () => storedChannel(server, 'Quay', id);
	await versions.getByRole('button', { name: /^restore the version/ }).click();
	await app.getByRole('menuitem', { name: 'This clip: buoy bob' }).click();
	// The version is fetched first, so "saved" may still be that of the key's deletion.
	await expect
		.poll(async () => (await restored())!.keys.find(({ t }) => t === 22 * 2400)?.shape.kind)
		.toBe('hold');

	await app.keyboard.press('v');
	await versions
		.getByRole('listitem')
		.filter({ hasText: 'The beginning' })
		.getByRole('button')
		.first()
		.click();
	await expect(app.getByRole('button', { name: 'unpin' })).toBeVisible();
	await app.keyboard.press('Shift+P');
	await expect.poll(restored).toEqual(before);
});

test('a shape is kept under a name, found, put on another span and forgotten', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const key = app.getByRole('button', { name: 'mail sack translation y: key after' });
	await key.click();
	await app.getByRole('button', { name: 'Save shape' }).click();
	await app.getByRole('textbox', { name: 'name of the shape' }).fill('sack falls');
	await app.keyboard.press('Enter');
	await app.getByRole('button', { name: 'mail sack rotation z: key after' }).click();
	await app.getByRole('searchbox', { name: 'find a shape' }).fill('sack');
	await app.getByRole('button', { name: 'sack falls', exact: true }).click();
	await saved(app);
	const doc = await storedDoc(server, 'Quay');
	expect(Object.values(doc.shapes).map(({ name, shape }) => [name, shape])).toEqual([
		['sack falls', { kind: 'fall' }],
	]);
	const turned = doc.channels[channelId('sack-drop', 'mail-sack', 'rotation', 'z')];
	expect(turned.keys.find((other) => other.t > 4 * 2400)!.shape).toEqual({ kind: 'fall' });
	await app.getByRole('button', { name: 'sack falls', exact: true }).hover();
	await app.getByRole('button', { name: 'delete saved shape sack falls' }).click();
	await saved(app);
	expect((await storedDoc(server, 'Quay')).shapes).toEqual({});
});

test('a blend of two clips is made, its jumps shown and mended, and it is played across', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'crane swing');
	await app.getByRole('button', { name: 'Clip', exact: true }).click();
	await app.getByRole('combobox', { name: 'kind of the blend to sack drop' }).selectOption('cut');
	await expect(app.locator('[data-blend-figures]')).toContainText(/Pop in value: .* \d/);
	await app.getByRole('button', { name: /^checks: [1-9]/ }).click();
	await app.getByRole('button', { name: 'Crossfade', exact: true }).click();
	await app.keyboard.press('Escape');
	const figures = app.locator('[data-blend-figures]');
	await expect(figures).toContainText(/No pop in value · pop in speed: .*°\/s/);
	await app.getByRole('combobox', { name: 'kind of the blend to sack drop' }).selectOption('inertial');
	await expect(figures).not.toContainText('°/s');
	await app.getByRole('combobox', { name: 'kind of the blend to sack drop' }).selectOption('crossfade');
	await app.getByRole('combobox', { name: 'easing of the blend to sack drop' }).selectOption('Linear');
	await saved(app);
	const { kind, shape } = (await storedDoc(server, 'Quay')).blends['crane-swing/sack-drop/blend'];
	expect([kind, shape]).toEqual(['crossfade', { kind: 'linear' }]);

	// Played across from the mark on the ruler: the sack, hidden in the first clip, comes; then all is as before.
	const canvas = app.locator('[data-stage-canvas]');
	await expect(canvas).toHaveAttribute('data-still', '');
	const still = await canvas.screenshot();
	await app.getByRole('button', { name: 'play across into sack drop' }).first().click();
	await expect(app.locator('[data-across]')).toBeVisible();
	await expect.poll(async () => (await canvas.screenshot()).equals(still)).toBe(false);
	await app.keyboard.press('Space');
	await expect(app.locator('[data-across]')).toHaveCount(0);
	await expect.poll(async () => (await canvas.screenshot()).equals(still)).toBe(true);
});

test('a part dragged onto another in the lanes hangs on it and stays where it is', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const worldOf = async () => {
		const doc = await storedDoc(server, 'Quay');
		const { compiled, posed } = shownAt(doc, 'sack-drop', 0);
		return { parent: doc.parts['mail-sack'].parent, at: [...worldMatrix(compiled, 'mail-sack', posed)!] };
	};
	const before = await worldOf();
	expect(before.parent).toBe(null);
	const row = (name: string) => app.locator(`[data-part-row="${name}"]`);
	await row('mail sack').dragTo(row('rope'), { sourcePosition: { x: 70, y: 12 } });
	await saved(app);
	const hung = await worldOf();
	expect(hung.parent).toBe('rope');
	hung.at.forEach((v, k) => expect(v).toBeCloseTo(before.at[k], 6));
	// Back to where nothing carries it, by the place that shows while a part is dragged.
	const box = (await row('mail sack').boundingBox())!;
	await app.mouse.move(box.x + 70, box.y + 12);
	await app.mouse.down();
	await app.mouse.move(box.x + 80, box.y - 40, { steps: 4 });
	const root = (await app.locator('[data-drop-root]').boundingBox())!;
	await app.mouse.move(root.x + 80, root.y + 12, { steps: 4 });
	await app.mouse.up();
	await saved(app);
	expect((await worldOf()).parent).toBe(null);
});

test('parts are renamed and put in another order in the lanes; a locked one is looked through', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	// All of them are in sight.
	await app.keyboard.press('9');
	const row = (name: string) => app.locator(`[data-part-row="${name}"]`);
	const part = (name: string) => app.getByRole('button', { name: `part ${name}`, exact: true });
	await part('rope').dblclick();
	await app.keyboard.type('line');
	await app.keyboard.press('Enter');
	await expect(part('line')).toBeVisible();
	await app.keyboard.press('F2');
	await app.keyboard.type('chain');
	await app.keyboard.press('Escape');
	await saved(app);
	expect((await storedDoc(server, 'Quay')).parts.rope.name).toBe('line');

	const order = async () => {
		const doc = await storedDoc(server, 'Quay');
		return childrenOf(doc, null).map(({ id }) => id);
	};
	const before = await order();
	await row('dust').dragTo(row('mail sack'), {
		sourcePosition: { x: 70, y: 12 },
		targetPosition: { x: 80, y: 3 },
	});
	const moved = before.filter((id) => id !== 'dust');
	moved.splice(moved.indexOf('mail-sack'), 0, 'dust');
	await expect.poll(order).toEqual(moved);
	await app.keyboard.press('Alt+ArrowDown');
	await expect.poll(order).toEqual(before);

	// The sea stands before the wall of the quay.
	await app.keyboard.press('7');
	await app.getByRole('button', { name: 'Front', exact: true }).click();
	const stage = (await app.locator('[data-stage-canvas]').boundingBox())!;
	const sea = { x: stage.x + stage.width * 0.3, y: stage.y + stage.height * 0.8 };
	await app.mouse.click(sea.x, sea.y);
	await expect(app.locator('[data-picked]')).toHaveText('sea');
	await app.getByRole('button', { name: 'lock sea' }).click();
	await app.mouse.click(sea.x, sea.y);
	await expect(app.locator('[data-picked]')).toHaveText('quay wall');
});

test('a film behind the stage stands where the playhead is, and is taken away again', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	// Two seconds of film: dark, then light.
	const film = await app.evaluate(async () => {
		const canvas = document.createElement('canvas');
		canvas.width = canvas.height = 64;
		const c = canvas.getContext('2d')!;
		const recorder = new MediaRecorder(canvas.captureStream(30), { mimeType: 'video/webm' });
		const parts: Blob[] = [];
		recorder.ondataavailable = (event) => parts.push(event.data);
		const done = new Promise((resolve) => (recorder.onstop = resolve));
		recorder.start(100);
		for (let i = 0; i < 60; i++) {
			c.fillStyle = i < 30 ? '#203040' : '#f0e0d0';
			c.fillRect(0, 0, 64, 64);
			await new Promise((resolve) => setTimeout(resolve, 33));
		}
		recorder.stop();
		await done;
		return [...new Uint8Array(await new Blob(parts).arrayBuffer())];
	});
	await app.getByRole('button', { name: 'Clip', exact: true }).click();
	const input = app.locator('input[type=file][accept*="video/webm"]');
	await input.setInputFiles({ name: 'drop.webm', mimeType: 'video/webm', buffer: Buffer.from(film) });
	const video = app.locator('video[data-reference]');
	await expect(video).toBeVisible();
	const second = () => video.evaluate((element) => (element as HTMLVideoElement).currentTime);
	await goToFrame(app, 30);
	await expect.poll(second).toBeCloseTo(1, 2);
	const field = app.getByRole('textbox', { name: 'frame at which the film begins' });
	await field.click();
	await field.fill('15');
	await field.press('Enter');
	await expect.poll(second).toBeCloseTo(0.5, 2);
	await saved(app);
	expect((await storedDoc(server, 'Quay')).clips['sack-drop'].reference).toMatchObject({
		kind: 'film',
		name: 'drop.webm',
		begins: 15 * 2400,
	});
	// What is no picture and no film is refused, and the film stays.
	await input.setInputFiles({
		name: 'notes.png',
		mimeType: 'image/png',
		buffer: Buffer.from('not a picture'),
	});
	await expect(app.getByText('is no picture (PNG, JPEG, WebP, SVG)')).toBeVisible();
	await app.getByRole('button', { name: 'Close toast' }).click();
	await app.getByRole('button', { name: 'Remove' }).click();
	await expect(video).toHaveCount(0);
	await saved(app);
	expect((await storedDoc(server, 'Quay')).clips['sack-drop'].reference).toBeUndefined();
});

test('a part shows a picture from a file, another one a drawn path; a path that draws nothing is told', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const svg =
		'<svg xmlns="http://www.w3.org/2000/svg" width="80" height="40"><rect width="80" height="40" fill="teal"/></svg>';
	await app
		.locator('input[aria-label="picture for a new part"]')
		.setInputFiles({ name: 'crate.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
	await expect(app.getByRole('textbox', { name: 'name of the part' })).toHaveValue('crate');
	await app.getByRole('button', { name: 'Add part' }).click();
	await app.getByRole('menuitem', { name: 'Path', exact: true }).click();
	const path = app.getByRole('textbox', { name: 'SVG path of the part' });
	await path.fill('M 0 0 Q');
	await path.press('Enter');
	await expect(path).toHaveAttribute('aria-invalid', 'true');
	await path.fill('M 0 0 L 1 0 L 1 -2 Z');
	await path.press('Enter');
	await expect(path).toHaveAttribute('aria-invalid', 'false');
	await saved(app);
	const parts = Object.values((await storedDoc(server, 'Quay')).parts);
	expect(parts.find((part) => part.name === 'crate')!.drawing).toMatchObject({
		kind: 'image',
		asset: createHash('sha256').update(svg).digest('hex'),
		size: [1, 0.5, 0],
	});
	expect(parts.find((part) => part.name === 'path')!.drawing).toMatchObject({ d: 'M 0 0 L 1 0 L 1 -2 Z' });
});

test('a sound shows as a waveform on the ruler and is heard while the clip plays', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	// Two seconds at 8 kHz: still, then a tone.
	const rate = 8000;
	const data = Buffer.alloc(44 + 4 * rate);
	data.write('RIFF', 0);
	data.writeUInt32LE(36 + 4 * rate, 4);
	data.write('WAVEfmt ', 8);
	data.writeUInt32LE(16, 16);
	data.writeUInt16LE(1, 20);
	data.writeUInt16LE(1, 22);
	data.writeUInt32LE(rate, 24);
	data.writeUInt32LE(2 * rate, 28);
	data.writeUInt16LE(2, 32);
	data.writeUInt16LE(16, 34);
	data.write('data', 36);
	data.writeUInt32LE(4 * rate, 40);
	for (let i = rate; i < 2 * rate; i++) data.writeInt16LE(Math.round(20_000 * Math.sin(i / 3)), 44 + 2 * i);
	// It is dropped onto the stage.
	const dropped = await app.evaluateHandle((text) => {
		const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
		const transfer = new DataTransfer();
		transfer.items.add(new File([bytes], 'thump.wav', { type: 'audio/wav' }));
		return transfer;
	}, data.toString('base64'));
	await app.getByRole('region', { name: 'stage' }).dispatchEvent('drop', { dataTransfer: dropped });
	const wave = app.locator('[data-sound]');
	await expect(wave).toHaveAttribute('data-sound', 'ready');
	/** Half the height of the waveform at a frame. */
	const loudness = async (frame: number) => {
		const left = (await wave.boundingBox())!.x;
		const x = (await frameX(app, frame, 72)) - left;
		const points = (await wave.locator('path').getAttribute('d'))!
			.slice(1)
			.split('L')
			.map((point) => point.split(' ').map(Number.parseFloat));
		return 17 - points.find((point) => point[0] >= x)![1];
	};
	expect(await loudness(15)).toBeLessThan(0.5);
	expect(await loudness(45)).toBeGreaterThan(5);
	await app.getByRole('button', { name: 'play', exact: true }).click();
	await expect(wave).toHaveAttribute('data-sound', 'heard');
	await app.getByRole('button', { name: 'pause', exact: true }).click();
	await expect(wave).toHaveAttribute('data-sound', 'ready');
	await app.getByRole('button', { name: 'Clip', exact: true }).click();
	await app.getByRole('button', { name: 'remove the sound' }).click();
	await expect(wave).toHaveCount(0);
});

test('handles: the ring is caught all round, a miss moves no view, the body of the part in hand is dragged', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	await app.getByRole('button', { name: 'part mail sack', exact: true }).click();
	const knob = app.locator('[data-gizmo="move"]');
	await expect(knob).toBeVisible();
	const middle = async () => {
		const box = (await knob.boundingBox())!;
		return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
	};
	const { x, y } = await middle();
	const caught = await app.evaluate(
		([cx, cy]) =>
			Array.from({ length: 72 }, (_, i) => {
				const [px, py] = [cx + 40 * Math.cos((i * Math.PI) / 36), cy + 40 * Math.sin((i * Math.PI) / 36)];
				return document.elementFromPoint(px, py)?.closest('[data-gizmo]')?.getAttribute('data-gizmo');
			}),
		[x, y],
	);
	expect(new Set(caught)).toEqual(new Set(['turn']));

	const drag = async (from: [number, number], by: [number, number]) => {
		await app.mouse.move(x + from[0], y + from[1]);
		await app.mouse.down();
		await app.mouse.move(x + from[0] + by[0], y + from[1] + by[1], { steps: 4 });
		await app.mouse.up();
	};
	const readout = app.locator('[data-readout]');
	const before = await readout.textContent();
	// Beside the handles, on nothing: neither the part nor the view moves.
	await drag([-60, 50], [-80, 30]);
	expect([await middle(), await readout.textContent()]).toEqual([{ x, y }, before]);
	// Farther off it is the view that is dragged.
	await drag([-150, -150], [30, 20]);
	await expect.poll(middle).toEqual({ x: x + 30, y: y + 20 });
	await drag([-120, -130], [-30, -20]);
	// The sack itself, above its pivot, at a key of its own.
	await drag([20, -12], [40, -30]);
	await expect(readout).not.toHaveText(before!);
	expect((await middle()).x).toBeGreaterThan(x + 30);

	// Handles are controls: arrow keys move by steps, and it is told.
	const arm = app.getByRole('slider', { name: 'move along y' });
	await arm.focus();
	const y0 = Number(await arm.getAttribute('aria-valuenow'));
	await app.keyboard.press('ArrowUp');
	await expect(arm).toHaveAttribute('aria-valuenow', String(Number((y0 + 0.01).toPrecision(6))));
	await expect(arm).toBeFocused();
	await expect(app.locator('[data-told]')).toContainText('Move mail sack');
	await app.keyboard.press('Shift+ArrowDown');
	await expect(arm).toHaveAttribute('aria-valuenow', String(Number((y0 - 0.49).toPrecision(6))));

	// The ways of other parts of which keys are selected are shown too.
	await app.keyboard.press('Control+a');
	await expect(app.locator('[data-path-of="dust"]')).toHaveCount(1);
});
