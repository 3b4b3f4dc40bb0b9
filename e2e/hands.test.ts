/** What hands do with pointer and wheel: turning on the stage, scrubbing, zooming, bending, holding an axis. */
import type { Locator, Page } from '@playwright/test';
import {
	frameX,
	goToFrame,
	lane,
	laneValue,
	openClip,
	pickedKeyPlace,
	saved,
	storedChannel,
	storedDoc,
} from './compose';
import { expect, test } from './server';

async function centreOf(locator: Locator): Promise<{ x: number; y: number }> {
	const box = (await locator.boundingBox())!;
	return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}

async function dragBy(page: Page, from: { x: number; y: number }, dx: number, dy: number): Promise<void> {
	await page.mouse.move(from.x, from.y);
	await page.mouse.down();
	await page.mouse.move(from.x + dx / 2, from.y + dy / 2, { steps: 3 });
	await page.mouse.move(from.x + dx, from.y + dy, { steps: 3 });
	await page.mouse.up();
}

for (const [project, clip, part, channel, sign] of [
	['Quay', 'buoy bob', 'buoy', 'buoy-bob/buoy/rotation/z', 1],
	// On a screen y runs down, so a turn to the left as seen is a negative one.
	['Parcel slip', 'gauge settles', 'needle', 'gauge-settles/needle/rotation/z', -1],
] as const) {
	test(`${part}: the ring turns it as far as the hand goes, and auto-key writes it`, async ({
		app,
		server,
	}) => {
		await openClip(app, server, project, clip);
		await goToFrame(app, 5);
		await app.getByRole('button', { name: `part ${part}`, exact: true }).click();
		const before = Number.parseFloat(await laneValue(app, `${part} rotation z`).inputValue());
		await app.getByRole('button', { name: 'auto-key' }).click();
		const centre = await centreOf(app.locator('[data-gizmo="move"]'));
		// From the right of the ring a quarter round to its top: to the left, as seen.
		const radius = 40;
		const on = (angle: number) =>
			[centre.x + radius * Math.cos(angle), centre.y - radius * Math.sin(angle)] as const;
		await app.mouse.move(...on(0.35));
		await app.mouse.down();
		for (let i = 1; i <= 9; i++) await app.mouse.move(...on(0.35 + (Math.PI / 2) * (i / 9)));
		await app.mouse.up();
		await saved(app);
		const t = 5 * (project === 'Quay' ? 2400 : 1200);
		const key = (await storedChannel(server, project, channel))!.keys.find((k) => k.t === t)!;
		expect(Math.abs(key.v - (before + sign * 90))).toBeLessThan(2);
	});
}

test('a part that moves cannot be moved by hand between its keys, unless auto-key is on', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const before = await storedChannel(server, 'Quay', 'buoy-bob/buoy/translation/y');
	await goToFrame(app, 10);
	await app.getByRole('button', { name: 'part buoy', exact: true }).click();
	await dragBy(app, await centreOf(app.locator('[data-gizmo="move-y"] circle')), 0, -20);
	await expect(app.getByText('translation y moves in this clip')).toBeVisible();
	expect(await storedChannel(server, 'Quay', 'buoy-bob/buoy/translation/y')).toEqual(before);
	// Along x it does not move here: that changes where it rests, and makes no key.
	await dragBy(app, await centreOf(app.locator('[data-gizmo="move-x"] circle')), -30, 0);
	await saved(app);
	expect(await storedChannel(server, 'Quay', 'buoy-bob/buoy/translation/x')).toBeUndefined();
	await expect(app.getByRole('button', { name: 'undo Move buoy' })).toBeEnabled();
});

test('a value is scrubbed as one step of undo', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const keys = async () => (await storedChannel(server, 'Quay', 'buoy-bob/buoy/rotation/z'))!.keys;
	const before = await keys();
	await dragBy(app, await centreOf(laneValue(app, 'buoy rotation z')), 12, 0);
	await saved(app);
	expect((await keys())[0].v).toBe(before[0].v + 12);
	await app.keyboard.press('Control+z');
	await saved(app);
	expect(await keys()).toEqual(before);
	await expect(app.getByRole('button', { name: 'undo', exact: true })).toBeDisabled();
});

test('the wheel zooms time about the pointer and moves along it; the whole clip comes back', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const clip = await app.locator('[data-lanes-canvas]').boundingBox();
	const mark = async () => (await pickedKeyPlace(app)).x;
	await app.getByRole('button', { name: 'buoy rotation z: key after' }).click();
	const whole = await mark();
	// Wheel events come at whole pixels.
	const pivot = Math.floor(whole);
	await app.mouse.move(pivot, clip!.y + 60);
	await app.keyboard.down('Control');
	for (let i = 0; i < 4; i++) await app.mouse.wheel(0, -150);
	await app.keyboard.up('Control');
	// What is under the pointer stays there; all else goes away from it, by e to the 0.0016 a unit of the wheel.
	const zoom = Math.exp(4 * 150 * 0.0016);
	await expect.poll(mark).toBeCloseTo(pivot + (whole - pivot) * zoom, 1);
	await app.getByRole('button', { name: 'buoy rotation z: key before' }).click();
	const start = await frameX(app, 0, 90);
	await expect
		.poll(async () => (await app.locator('[data-key-mark]').count()) === 0 || (await mark()) < start - 40)
		.toBe(true);
	await app.keyboard.press('Shift+X');
	await expect.poll(mark).toBeCloseTo(start, 0);
});

test('Shift holds one axis of a drag, Escape takes it back, Ctrl lets keys off the frames', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const keys = async () => (await storedChannel(server, 'Quay', 'buoy-bob/buoy/rotation/z'))!.keys;
	const before = await keys();
	await app.getByRole('button', { name: 'buoy rotation z: key after' }).click();
	const place = await pickedKeyPlace(app);
	const frame = (await frameX(app, 1, 90)) - (await frameX(app, 0, 90));

	await app.mouse.move(place.x, place.y);
	await app.mouse.down();
	await app.mouse.move(place.x + 5 * frame, place.y - 20, { steps: 4 });
	await app.keyboard.press('Escape');
	await app.mouse.up();
	await expect(laneValue(app, 'buoy rotation z')).toHaveValue(`${before[1].v}°`);
	expect(await keys()).toEqual(before);

	await app.keyboard.down('Shift');
	await dragBy(app, place, 5 * frame, 9);
	await app.keyboard.up('Shift');
	await saved(app);
	expect([(await keys())[1].t - before[1].t, (await keys())[1].v]).toEqual([5 * 2400, before[1].v]);

	await app.keyboard.down('Control');
	await dragBy(app, await pickedKeyPlace(app), 2.4 * frame, 0);
	await app.keyboard.up('Control');
	await saved(app);
	expect((await keys())[1].t % 2400).not.toBe(0);
});

test('a lane is made tall, a span bent on it, and both are there at the next visit', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'ferry crossing');
	const id = 'ferry-crossing/ferry/translation/x';
	const shape = async () => (await storedChannel(server, 'Quay', id))!.keys[0].shape;
	expect(await shape()).toEqual({ kind: 'eased', start: 0.45, finish: 0.6 });
	await app.getByRole('button', { name: /^lane .*translation x$/ }).click();
	await app.keyboard.press('l');
	await expect(lane(app, 'ferry translation x')).toHaveCSS('height', '180px');
	// The line at frame 75: the value there, from the foot of the lane to its top.
	await goToFrame(app, 75);
	const value = Number.parseFloat(await laneValue(app, 'ferry translation x').inputValue());
	const box = (await lane(app, 'ferry translation x').boundingBox())!;
	const share = (value - 3.4) / 5.2;
	const line = { x: await frameX(app, 75, 150), y: box.y + 8 + (180 - 13) * (1 - share) };
	await dragBy(app, line, 0, -18);
	await saved(app);
	// Pulled up by 18 of 90 pixels it starts sooner and finishes more slowly, by a fifth.
	expect(await shape()).toEqual({ kind: 'eased', start: 0.25, finish: 0.8 });
	await app.reload();
	await expect(lane(app, 'ferry translation x')).toHaveCSS('height', '180px');
});

test('the frame around selected keys scales them in time about its other side, or about the playhead', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const times = async () =>
		(await storedChannel(server, 'Quay', 'buoy-bob/buoy/rotation/z'))!.keys.map((key) => key.t / 2400);
	await app.getByRole('button', { name: /^lane .*rotation z$/ }).click();
	await app.keyboard.press('Control+a');
	const frame = (await frameX(app, 1, 90)) - (await frameX(app, 0, 90));
	const end = app.getByRole('button', { name: 'end of the selected keys: frame 90' });
	await dragBy(app, await centreOf(end), -45 * frame, 0);
	await saved(app);
	expect(await times()).toEqual([0, 14, 26, 37, 45]);
	await goToFrame(app, 30);
	await app.keyboard.down('Alt');
	await dragBy(
		app,
		await centreOf(app.getByRole('button', { name: 'end of the selected keys: frame 45' })),
		15 * frame,
		0,
	);
	await app.keyboard.up('Alt');
	await saved(app);
	// Twice as far from frame 30, but for the start, which may not leave the clip: so all of it as far as that allows.
	expect(await times()).toEqual([0, 14, 26, 37, 45]);
	await app.keyboard.press('Control+z');
	await saved(app);
	expect(await times()).toEqual([0, 28, 52, 74, 90]);
});

test('a finger moves a key, scrubs a value and drags the playhead', async ({ app, server, context }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const touch = await context.newCDPSession(app);
	/** A finger that goes from one place to another. */
	const swipe = async (from: { x: number; y: number }, dx: number, dy: number) => {
		const send = (type: 'touchStart' | 'touchMove' | 'touchEnd', x: number, y: number) =>
			touch.send('Input.dispatchTouchEvent', { type, touchPoints: type === 'touchEnd' ? [] : [{ x, y }] });
		await send('touchStart', from.x, from.y);
		for (let i = 1; i <= 5; i++) await send('touchMove', from.x + (dx * i) / 5, from.y + (dy * i) / 5);
		await send('touchEnd', from.x + dx, from.y + dy);
	};
	await touch.send('Emulation.setTouchEmulationEnabled', { enabled: true });
	const keys = async () => (await storedChannel(server, 'Quay', 'buoy-bob/buoy/rotation/z'))!.keys;
	const before = await keys();
	const frame = (await frameX(app, 1, 90)) - (await frameX(app, 0, 90));
	await app.getByRole('button', { name: 'buoy rotation z: key after' }).click();
	const place = await pickedKeyPlace(app);
	// A finger is broad: beside the head it takes the key all the same.
	await swipe({ x: place.x + 8, y: place.y - 6 }, 4 * frame, 0);
	await expect
		.poll(async () => (await keys())[1])
		.toMatchObject({ t: before[1].t + 4 * 2400, v: before[1].v });

	await app.getByRole('button', { name: 'buoy rotation z: key after' }).click();
	await swipe(await centreOf(laneValue(app, 'buoy rotation z')), 9, 0);
	await expect.poll(async () => (await keys())[1].v).toBe(before[1].v + 9);

	const ruler = (await app.getByRole('slider', { name: 'playhead' }).boundingBox())!;
	await swipe({ x: await frameX(app, 10, 90), y: ruler.y + ruler.height - 6 }, 20 * frame, 0);
	await expect(app.getByRole('textbox', { name: 'frame at the playhead' })).toHaveValue('30');
});

test('keys are copied in one project and pasted in another, through the clipboard of the system', async ({
	app,
	server,
	context,
}) => {
	await context.grantPermissions(['clipboard-read', 'clipboard-write']);
	await openClip(app, server, 'Quay', 'buoy bob');
	await lane(app, 'buoy rotation z')
		.getByRole('button', { name: /^lane .*rotation z$/ })
		.click();
	await app.keyboard.press('Control+a');
	await app.keyboard.press('Control+c');
	await expect(app.getByText('keys copied')).toBeVisible();
	const copied = (await storedChannel(server, 'Quay', 'buoy-bob/buoy/rotation/z'))!.keys;

	await openClip(app, server, 'Parcel slip', 'stamp press');
	await app.getByRole('button', { name: /still parts hidden/ }).click();
	// There are many: the lanes get the room.
	await app.keyboard.press('9');
	await app.getByRole('button', { name: 'part needle', exact: true }).click();
	// What reads foreign text comes late; by then the hand is elsewhere.
	let late = 0;
	await app.route('**/_app/immutable/**', async (route) => {
		late++;
		await new Promise((resolve) => setTimeout(resolve, 600));
		await route.continue();
	});
	await app.keyboard.press('Control+v');
	await goToFrame(app, 9);
	await app.keyboard.press('Escape');
	await expect(app.getByRole('button', { name: 'undo Paste keys' })).toBeVisible();
	expect(late).toBeGreaterThan(0);
	await app.unroute('**/_app/immutable/**');
	await saved(app);
	const pasted = (await storedChannel(server, 'Parcel slip', 'stamp-press/needle/rotation/z'))!.keys;
	// The clip is shorter than what was copied: it grows, and that is said.
	expect(copied.at(-1)!.t).toBeGreaterThan(64_800);
	expect(pasted.map(({ t, v }) => [t, v])).toEqual(copied.map(({ t, v }) => [t, v]));
	await expect(app.getByText('The clip now ends at frame')).toBeVisible();
	// Text that is none of ours does nothing.
	await app.evaluate(() => navigator.clipboard.writeText('the noon boat is early'));
	await app.reload();
	await app.getByRole('button', { name: 'part needle', exact: true }).click();
	await app.keyboard.press('Control+v');
	await expect(app.getByRole('button', { name: 'redo', exact: true })).toBeDisabled();
	expect((await storedChannel(server, 'Parcel slip', 'stamp-press/needle/rotation/z'))!.keys).toEqual(pasted);
});

test('the foot and the top of the frame scale values about the other side', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const keys = async () => (await storedChannel(server, 'Quay', 'buoy-bob/buoy/rotation/z'))!.keys;
	const before = (await keys()).map((key) => key.v);
	await lane(app, 'buoy rotation z')
		.getByRole('button', { name: /^lane .*rotation z$/ })
		.click();
	await app.keyboard.press('Control+a');
	const handle = (side: string) =>
		app.getByRole('button', { name: `${side} of the selected keys: scale their values` });
	const top = handle('top');
	// In the lowest lane, too, a finger has room, and neither lies on the other.
	const tall = (await lane(app, 'buoy rotation z').boundingBox())!;
	const corner = { x: tall.x + 12, y: tall.y + tall.height - 12 };
	const lane56 = tall.height;
	await dragBy(app, corner, 0, -100);
	await expect.poll(async () => (await lane(app, 'buoy rotation z').boundingBox())!.height).toBe(24);
	const [above, below] = [(await top.boundingBox())!, (await handle('bottom').boundingBox())!];
	for (const box of [above, below]) expect(Math.min(box.width, box.height)).toBeGreaterThanOrEqual(24);
	expect(Math.abs(above.x - below.x)).toBeGreaterThanOrEqual(24);
	await dragBy(app, { x: corner.x, y: tall.y + 12 }, 0, lane56 - 24);
	await expect.poll(async () => (await lane(app, 'buoy rotation z').boundingBox())!.height).toBe(lane56);
	await dragBy(app, await centreOf(top), 0, -lane56 / 2);
	await saved(app);
	const after = (await keys()).map((key) => key.v);
	const low = Math.min(...before);
	after.forEach((v, i) => expect(v).toBeCloseTo(low + 1.5 * (before[i] - low), 1));
});

test('lanes are picked by name with Shift and Ctrl: what is set goes to all, what differs is shown as mixed', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const channels = async () => Object.values((await storedDoc(server, 'Quay')).channels);
	const own = async (id: string) => (await channels()).find((channel) => channel.id === id)!;
	// There are many: the lanes get the room.
	await app.keyboard.press('9');
	const [X, Y, Z] = ['translation/x', 'translation/y', 'rotation/z'].map(
		(path) => `sack-drop/mail-sack/${path}`,
	);
	const name = (label: string) =>
		lane(app, `mail sack ${label}`).getByRole('button', { name: `lane mail sack ${label}`, exact: true });
	await name('translation x').click();
	await app.getByRole('combobox', { name: 'after last key' }).selectOption('Repeat');
	await name('rotation z').click({ modifiers: ['Shift'] });
	await expect(app.getByRole('heading', { name: '3 channels' })).toBeVisible();
	await expect(app.getByRole('combobox', { name: 'after last key' })).toHaveValue('');
	await app.getByRole('combobox', { name: 'after last key' }).selectOption('Continue straight');
	await saved(app);
	for (const id of [X, Y, Z]) expect((await own(id)).ends.after).toBe('straight');

	// Reversed without a key picked, each is what it was from the other end; Ctrl lets one go.
	const before = await own(Y);
	await name('translation x').click({ modifiers: ['Control'] });
	await expect(app.getByRole('heading', { name: '2 channels' })).toBeVisible();
	const x = (await own(X)).keys;
	await app.keyboard.press('r');
	await saved(app);
	expect((await own(Y)).keys.map(({ v }) => v)).toEqual(before.keys.map(({ v }) => v).reverse());
	expect((await own(X)).keys).toEqual(x);

	// Their keys together: values that differ are mixed, a change goes to each, a number to all.
	await app.keyboard.press('Control+a');
	const value = app.getByRole('textbox', { name: 'value of the key' });
	await expect(value).toHaveValue('mixed');
	const was = (await own(Z)).keys.map(({ v }) => v);
	await value.click();
	await value.fill('*=2');
	await value.press('Enter');
	await saved(app);
	expect((await own(Z)).keys.map(({ v }) => v)).toEqual(was.map((v) => 2 * v));
	await value.fill('1.5');
	await value.press('Enter');
	await saved(app);
	expect(new Set((await own(Z)).keys.map(({ v }) => v))).toEqual(new Set([1.5]));
	await expect(value).toHaveValue('1.5°');

	await name('translation y').click();
	await name('rotation z').click({ modifiers: ['Control'] });
	await app.getByRole('button', { name: 'Delete 2 channels' }).click();
	await saved(app);
	expect((await channels()).map(({ id }) => id)).not.toEqual(expect.arrayContaining([Y]));
	expect(await own(X)).toBeDefined();
	await app.getByRole('button', { name: /^undo/ }).click();
	await saved(app);
	expect(await own(Z)).toBeDefined();
});
