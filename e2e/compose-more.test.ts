/** Formulas, seams, cues, whole clips, pivots and the rest of what Compose does, as people would do it. */
import { curveOf } from '../core/clip/compile';
import { allNumbersIn } from '../core/clip/layout';
import { shownAt } from '../core/testing';
import { evaluateCurve } from '../player/curve/evaluate';
import type { Doc } from '../core/document/types';
import {
	frameX,
	goToFrame,
	lane,
	laneValue,
	openClip,
	saved,
	storedChannel,
	storedDoc,
	writeColour,
} from './compose';
import { expect, test } from './server';

/** All numbers of a part; its angle about z is the sixth. */
function numbers(doc: Doc, clip: string, part: string, t: number, round = 0): number[] {
	return allNumbersIn(shownAt(doc, clip, t, round).posed, doc.parts[part]);
}

test('tie the paddle wheel to the ferry: a formula is written, mistyped, put right, and turned into keys', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'ferry crossing');
	await app.getByRole('button', { name: /^rotation z =/ }).click();
	const field = app.getByRole('textbox', { name: 'formula' });
	await field.fill('(strat - x) / radius * 180 / pi');
	await expect(app.getByText('Did you mean "start"?')).toBeVisible();
	// What cannot be read is not kept.
	await field.press('Enter');
	await app.getByRole('button', { name: 'use start' }).click();
	await expect(field).toHaveText('(start - x) / radius * 180 / pi');
	// Escape gives up what was typed; a function takes its arguments between its brackets.
	await field.fill('1 + smo');
	const offered = app.getByRole('listbox', { name: 'names that fit' }).getByRole('option');
	await expect(offered).toHaveText(['smoothstep(low, high, x)']);
	await field.press('Tab');
	await expect(field).toHaveText('1 + smoothstep()');
	await field.press('Escape');
	await expect(field).toHaveText('(start - x) / radius * 180 / pi');
	// A name is completed while it is typed.
	await field.fill('2 * (start - x) / ');
	await field.press('End');
	await field.pressSequentially('rad');
	await expect(offered.first()).toHaveText('radius');
	await field.press('Tab');
	await field.pressSequentially(' * 180 / pi');
	await expect(field).toHaveText('2 * (start - x) / radius * 180 / pi');
	await field.press('Enter');
	await saved(app);
	const t = 75 * 2400;
	const doc = await storedDoc(server, 'Quay');
	const travelled = numbers(doc, 'ferry-crossing', 'ferry', t)[0] - 3.4;
	expect(numbers(doc, 'ferry-crossing', 'paddle-wheel', t)[5]).toBeCloseTo(
		(-2 * travelled * 180) / (0.62 * Math.PI),
		6,
	);

	await app.getByRole('button', { name: 'Convert to keys' }).click();
	await saved(app);
	const keyed = await storedDoc(server, 'Quay');
	expect(Object.keys(keyed.formulas).filter((id) => id.includes('paddle'))).toEqual([]);
	const exact = numbers(doc, 'ferry-crossing', 'paddle-wheel', 100_000)[5];
	expect(Math.abs(numbers(keyed, 'ferry-crossing', 'paddle-wheel', 100_000)[5] - exact)).toBeLessThan(1);
	await app.keyboard.press('Control+z');
	await saved(app);
	expect(Object.keys((await storedDoc(server, 'Quay')).formulas)).toHaveLength(2);
});

test('a formula that would need itself is refused by the names of those in the ring', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'ferry crossing');
	await app.getByRole('button', { name: /^rotation z =/ }).click();
	await app.getByRole('combobox', { name: 'what x is' }).fill('paddle rot z');
	await app.getByRole('option', { name: 'paddle wheel / rotation z' }).click();
	await expect(app.getByText('paddle wheel rotation z ← paddle wheel rotation z')).toBeVisible();
	expect(
		(await storedDoc(server, 'Quay')).formulas['ferry-crossing/paddle-wheel/rotation/z/formula'].inputs.x,
	).toEqual({
		part: 'ferry',
		property: 'translation',
		component: 'x',
	});
});

test('the signal lamp gets another colour, and a switch', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'signal blink');
	await goToFrame(app, 24);
	await writeColour(app, 'signal lamp colour value', '#3e6b4f');
	await saved(app);
	const keys = (await storedChannel(server, 'Quay', 'signal-blink/signal-lamp/colour/value'))!.keys;
	expect(keys.find((key) => key.t === 57_600)!.vector!.map((v) => Math.round(v * 255))).toEqual([
		62, 107, 79, 255,
	]);
	// How opaque it is, is a number of its own, and stays when the colour is changed.
	await app.getByRole('button', { name: 'signal lamp colour: key before' }).click();
	const alpha = app.getByRole('textbox', { name: 'alpha of the key' });
	await alpha.fill('40');
	await alpha.press('Enter');
	await writeColour(app, 'colour of the key', '112233');
	await saved(app);
	// It is drawn about in its area as one step of undo.
	await app.getByRole('button', { name: 'signal lamp colour value' }).click();
	const area = app.getByRole('slider', { name: 'Color', exact: true });
	const { x, y, width, height } = (await area.boundingBox())!;
	await app.mouse.move(x + 20, y + 20);
	await app.mouse.down();
	await app.mouse.move(x + width / 2, y + height / 2, { steps: 4 });
	await app.mouse.up();
	await saved(app);
	await app.keyboard.press('Escape');
	const swatch = app.getByRole('button', { name: 'colour of the key' });
	await expect(swatch).not.toHaveAttribute('title', '#11223366');
	await app.keyboard.press('Control+z');
	await expect(swatch).toHaveAttribute('title', '#11223366');
	await saved(app);
	const changed = (await storedChannel(server, 'Quay', 'signal-blink/signal-lamp/colour/value'))!.keys;
	expect(changed.map(({ vector }) => vector!.map((v) => Math.round(v * 255)))).toContainEqual([
		17, 34, 51, 102,
	]);

	await goToFrame(app, 24);
	await app.getByRole('button', { name: 'part signal lamp', exact: true }).click();
	await app.getByRole('button', { name: 'add a channel to signal lamp' }).click();
	await app.getByRole('menuitem', { name: 'visible', exact: true }).click();
	await app.getByRole('button', { name: 'signal lamp visible value' }).click();
	await saved(app);
	expect((await storedChannel(server, 'Quay', 'signal-blink/signal-lamp/visible/value'))!.keys).toEqual([
		{ t: 57_600, v: 0, shape: { kind: 'hold' } },
	]);
});

test('let the kelp close: the seam shows what does not, and mends it', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'kelp sway');
	await goToFrame(app, 90);
	const field = laneValue(app, 'kelp 2 rotation z');
	await field.click();
	await field.fill('5');
	await field.press('Enter');
	await field.press('Escape');
	await app.getByRole('button', { name: 'Seam', exact: true }).click();
	const row = app.locator('[data-seam="kelp 2 rotation z"]');
	await expect(app.getByText('1 channel does not close')).toBeVisible();
	await expect(row).toContainText('gap 7.701°');
	await row.getByRole('button', { name: 'End at start value' }).click();
	await expect(app.getByText('all channels close')).toBeVisible();
	await saved(app);
	const { keys } = (await storedChannel(server, 'Quay', 'kelp-sway/kelp-2/rotation/z'))!;
	expect(keys.at(-1)!.v).toBeCloseTo(keys[0].v, 9);
});

test('channels of a loop are staggered round it, and what each does beyond its keys is told', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'kelp sway');
	const before = await storedDoc(server, 'Quay');
	await app.keyboard.press('Control+a');
	await app.keyboard.press('Control+k');
	await app.keyboard.type('stagger');
	await app.keyboard.press('Enter');
	await expect(app.getByRole('textbox', { name: 'stagger in frames' })).toBeFocused();
	await app.keyboard.type('4');
	await app.keyboard.press('Enter');
	await saved(app);
	const after = await storedDoc(server, 'Quay');
	[0, 1, 2, 3, 4].forEach((place) => {
		for (const frame of [0, 7.3, 31, 66.6, 88]) {
			const then = numbers(before, 'kelp-sway', `kelp-${place + 1}`, ((frame - 4 * place + 90) % 90) * 2400);
			const now = numbers(after, 'kelp-sway', `kelp-${place + 1}`, frame * 2400);
			now.forEach((v, k) => expect(v).toBeCloseTo(then[k], 6));
		}
	});
	await app.keyboard.press('Escape');
	await app.keyboard.press('Control+z');
	await expect.poll(async () => (await storedDoc(server, 'Quay')).channels).toEqual(before.channels);

	// On a lane without keys in hand, the bench tells of the channel.
	await app.getByRole('button', { name: 'clip: kelp sway' }).click();
	await app.getByRole('menuitem', { name: 'sack drop' }).click();
	await lane(app, 'mail sack translation x').click({ position: { x: 30, y: 12 } });
	await app.getByRole('combobox', { name: 'after last key' }).selectOption('Continue straight');
	await app.getByRole('checkbox', { name: 'Accumulate' }).check();
	await saved(app);
	const id = 'sack-drop/mail-sack/translation/x';
	expect(await storedChannel(server, 'Quay', id)).toMatchObject({
		ends: { before: 'hold', after: 'straight' },
		accumulates: true,
	});
	await app.getByRole('button', { name: 'delete channel' }).click();
	await expect(lane(app, 'mail sack translation x')).toHaveCount(0);
	await app.getByRole('button', { name: 'Undo', exact: true }).click();
	await expect(lane(app, 'mail sack translation x')).toBeVisible();
	await saved(app);
	expect(await storedChannel(server, 'Quay', id)).toMatchObject({ accumulates: true });
});

test('what is set on the bench is found by its name, and its field is in hand', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'kelp sway');
	await app.keyboard.press('Control+a');
	const label = () => app.evaluate(() => document.activeElement?.getAttribute('aria-label') ?? '');
	// One of each kind and card: which field each command asks for is told command by command elsewhere.
	for (const [words, field] of [
		['stretch selected keys', 'scale the times in percent'],
		['phase', 'shift around the loop in frames'],
		['Reduce keys', 'tolerance of reduced keys in percent'],
		['before first key', 'before first key'],
		['name of the clip', 'name of the clip'],
		['video', 'reference: image, video or audio'],
		['blend', 'add a blend to a clip'],
	]) {
		await app.evaluate(() => (document.activeElement as HTMLElement).blur());
		await app.keyboard.press('Control+k');
		await app.getByRole('combobox', { name: 'find anything' }).fill(words);
		await app.keyboard.press('Enter');
		await expect.poll(label).toBe(field);
	}
	// The way it plays is a row of buttons: the one that holds now.
	await app.evaluate(() => (document.activeElement as HTMLElement).blur());
	await app.keyboard.press('Control+k');
	await app.getByRole('combobox', { name: 'find anything' }).fill('loop once');
	await app.keyboard.press('Enter');
	await expect(app.getByRole('button', { name: 'Repeat' })).toBeFocused();
});

test('a cue is put, named and given a payload; it is moved on the ruler', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	await goToFrame(app, 22);
	await app.keyboard.press('q');
	const dialog = app.getByRole('dialog', { name: 'Cue' });
	await dialog.getByRole('textbox', { name: 'name' }).fill('bell');
	await dialog.getByRole('textbox', { name: 'payload' }).fill('{"loudness": }');
	await expect(dialog.getByText('This is not JSON')).toBeVisible();
	await expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled();
	await dialog.getByRole('textbox', { name: 'payload' }).fill('{"loudness": 0.5}');
	await dialog.getByRole('button', { name: 'Save' }).click();
	await saved(app);
	const bell = async () =>
		Object.values((await storedDoc(server, 'Quay')).cues).find((cue) => cue.name === 'bell')!;
	expect(await bell()).toMatchObject({ t: 52_800, payload: { loudness: 0.5 } });
	const mark = (await app.getByRole('button', { name: 'cue bell, frame 22' }).boundingBox())!;
	const frame = (await frameX(app, 1, 90)) - (await frameX(app, 0, 90));
	await app.mouse.move(mark.x + 6, mark.y + 6);
	await app.mouse.down();
	await app.mouse.move(mark.x + 6 + 8 * frame, mark.y + 6, { steps: 4 });
	await app.mouse.up();
	await saved(app);
	expect((await bell()).t).toBe(30 * 2400);
});

test('a clip is played backwards, taken apart and put together again', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'crane swing');
	const before = await storedDoc(server, 'Quay');
	const menu = app.getByRole('button', { name: /^clip: / });
	const choose = async (name: string, sub: string) => {
		await menu.click();
		await app.getByRole('menuitem', { name }).hover();
		await app.getByRole('menuitem', { name: sub, exact: true }).click();
		await saved(app);
	};
	await choose('Change the whole clip', 'Play the clip backwards');
	const turned = await storedDoc(server, 'Quay');
	for (const t of [0, 30_001, 100_000])
		expect(numbers(turned, 'crane-swing', 'crane-arm', 216_000 - t)[5]).toBeCloseTo(
			numbers(before, 'crane-swing', 'crane-arm', t)[5],
			6,
		);
	await goToFrame(app, 40);
	await choose('Change the whole clip', 'Take the clip apart at the playhead');
	await expect(menu).toContainText('40 f');
	await choose('Append clip', 'crane swing 2');
	await expect(menu).toContainText('90 f');
	const joined = await storedDoc(server, 'Quay');
	for (const t of [50_000, 95_000, 97_000, 150_000])
		expect(numbers(joined, 'crane-swing', 'rope', t)[5]).toBeCloseTo(
			numbers(turned, 'crane-swing', 'rope', t)[5],
			4,
		);
});

test('motions are written in numbers, several at once', async ({ app, server }) => {
	await openClip(app, server, 'Parcel slip', 'gauge settles');
	await app.getByRole('button', { name: 'part needle', exact: true }).click();
	await app.keyboard.press('t');
	const dialog = app.getByRole('dialog', { name: 'Tween' });
	const fill = async (row: number, name: string, text: string) => {
		const field = dialog.getByRole('textbox', { name }).nth(row);
		await field.fill(text);
		await field.press('Tab');
	};
	await dialog.getByRole('combobox', { name: 'property' }).selectOption('scale/x');
	await dialog.getByRole('combobox', { name: 'to or by' }).selectOption('by');
	await fill(0, 'to value', '0.5');
	await fill(0, 'start frame', '6');
	await fill(0, 'duration', '15');
	// As long in another unit.
	await dialog.getByRole('combobox', { name: 'unit of the duration' }).selectOption('ms');
	await expect(dialog.getByRole('textbox', { name: 'duration' })).toHaveValue('250');
	await dialog.getByRole('combobox', { name: 'easing' }).fill('cubic-bezier(0.2, 0.8, 0.2');
	await expect(dialog.getByText('This easing is not known.')).toBeVisible();
	await dialog.getByRole('combobox', { name: 'easing' }).fill('cubic-bezier(0.2, 0.8, 0.2, 1)');
	await dialog.getByRole('button', { name: 'Add another' }).click();
	// The next is of another component; two of one channel at one time would be in each other's way.
	const second = dialog.getByRole('combobox', { name: 'property' }).nth(1);
	await expect(second).toHaveValue('scale/y');
	await second.selectOption('scale/x');
	await expect(dialog.getByText('Line 1 moves the same at that time.')).toBeVisible();
	await expect(dialog.getByRole('button', { name: 'Create keys' })).toBeDisabled();
	await second.selectOption('scale/y');
	await dialog.getByRole('button', { name: 'Create keys' }).click();
	await saved(app);
	for (const axis of ['x', 'y']) {
		const { keys } = (await storedChannel(server, 'Parcel slip', `gauge-settles/needle/scale/${axis}`))!;
		expect(keys.map((key) => [key.t, key.v])).toEqual([
			[0, 1],
			[7200, 1],
			[7200 + 18_000, 1.5],
		]);
		expect(keys[1].shape).toEqual({ kind: 'bezier', x1: 0.2, y1: 0.8, x2: 0.2, y2: 1 });
	}
	await app.keyboard.press('Control+z');
	await saved(app);
	expect(await storedChannel(server, 'Parcel slip', 'gauge-settles/needle/scale/x')).toBeUndefined();

	// Written in CSS, a colour among them.
	await app.keyboard.press('t');
	const css = dialog.getByRole('textbox', { name: 'CSS transition or animation' });
	await css.fill('transition: opacity fast');
	await css.press('Enter');
	await expect(dialog.getByText('"fast" has no place')).toBeVisible();
	await css.fill('transition: opacity 250ms linear, background-color 0.5s ease-in, filter 1s');
	await css.press('Enter');
	await expect(dialog.getByText('“filter” is left out')).toBeVisible();
	await expect(dialog.getByRole('combobox', { name: 'property' }).nth(1)).toHaveValue('colour/value');
	await fill(0, 'to value', '0.25');
	await dialog.getByRole('button', { name: 'to value' }).click();
	await app.getByRole('textbox', { name: 'to value in hexadecimal' }).fill('#00ff00');
	await app.keyboard.press('Enter');
	await app.keyboard.press('Escape');
	await dialog.getByRole('button', { name: 'Create keys' }).click();
	await saved(app);
	const last = async (what: string) =>
		(await storedChannel(server, 'Parcel slip', `gauge-settles/needle/${what}/value`))!.keys.at(-1);
	expect(await last('opacity')).toMatchObject({ t: 18_000, v: 0.25 });
	expect(await last('colour')).toMatchObject({ t: 36_000, vector: [0, 1, 0, 1] });
});

test('the speed of a lane is shown over its value, and its fastest frame is found', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	await app.getByRole('button', { name: 'mail sack translation y: key after' }).click();
	await app.keyboard.press('Shift+L');
	const speed = app.getByLabel('mail sack translation y speed');
	await expect(speed).toHaveText('0 m/s');
	// The sack falls until it lands.
	await app.keyboard.press('Shift+F');
	await expect(app.getByRole('textbox', { name: 'frame at the playhead' })).toHaveValue('17');
	await expect(speed).toHaveText('14.31 m/s');
	const lane = (await app.locator('[data-lane="mail sack translation y"]').boundingBox())!;
	await app.mouse.move(lane.x + lane.width + 140, lane.y + lane.height / 2);
	await expect(app.getByText(/ · frame [\d.]+: [\d.]+ m, [\d.]+ m\/s/)).toBeVisible();
	// It is shown the next time too, until it is not wanted.
	await app.reload();
	await expect(speed).toBeVisible();
	await app.getByRole('button', { name: /^lane .*translation y$/ }).click();
	await app.keyboard.press('Shift+L');
	await expect(speed).toBeHidden();
});

test('a spring is told by feel: how far it goes over, how long it takes; its span becomes as long', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Parcel slip', 'gauge settles');
	await app.getByRole('button', { name: 'needle rotation z: key after' }).click();
	const set = async (name: string, text: string) => {
		const field = app.getByRole('textbox', { name });
		await field.fill(text);
		await field.press('Enter');
	};
	const settles = app.getByRole('textbox', { name: 'seconds to settle' });
	const before = await settles.inputValue();
	await set('overshoot in percent', '10');
	await expect(settles).toHaveValue(before);
	await set('seconds to settle', '1.2');
	await expect(app.getByRole('textbox', { name: 'overshoot in percent' })).toHaveValue('10 %');
	await app.getByRole('button', { name: 'Fit span to settling time' }).click();
	await saved(app);
	const { keys } = (await storedChannel(server, 'Parcel slip', 'gauge-settles/needle/rotation/z'))!;
	expect(keys[2].t - keys[1].t).toBe(1.2 * 72_000);
	const curve = curveOf(
		(await storedChannel(server, 'Parcel slip', 'gauge-settles/needle/rotation/z'))!,
		(await storedDoc(server, 'Parcel slip')).clips['gauge-settles'],
	);
	const travel = keys[2].v - keys[1].v;
	const reached = Array.from({ length: 1201 }, (_, i) => evaluateCurve(curve, keys[1].t + 72 * i));
	expect((Math.max(...reached) - keys[2].v) / travel).toBeCloseTo(0.1, 3);
});

test('before and after: a pinned clip is swapped back', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const keys = async () =>
		(await storedChannel(server, 'Quay', 'buoy-bob/buoy/rotation/z'))!.keys.map((key) => key.v);
	const before = await keys();
	await app.keyboard.press('p');
	await expect(app.getByRole('button', { name: 'unpin' })).toBeVisible();
	const field = laneValue(app, 'buoy rotation z');
	await field.click();
	await field.fill('33');
	await field.press('Enter');
	await field.press('Escape');
	await saved(app);
	const after = await keys();
	expect(after).not.toEqual(before);
	await app.keyboard.press('Shift+P');
	await saved(app);
	expect(await keys()).toEqual(before);
	await app.keyboard.press('Shift+P');
	await saved(app);
	expect(await keys()).toEqual(after);
});

test('a pivot goes to the foot and the drawing stays; a part gets another parent and stays', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	await app.getByRole('button', { name: 'part buoy', exact: true }).click();
	await app.getByRole('button', { name: 'pivot to top centre' }).click();
	await saved(app);
	const doc = await storedDoc(server, 'Quay');
	// The cone is 1.1 m high and stood on its pivot, half a metre up from its middle.
	expect(doc.parts.buoy.drawing.offset[1]).toBeCloseTo(-0.55, 6);
	expect(doc.parts.buoy.rest.translation[1]).toBeCloseTo(-0.5 + 0.5 + 0.55, 6);
	expect(doc.parts['buoy-light'].rest.translation[1]).toBeCloseTo(1.14 - 1.05, 6);

	await app.getByRole('combobox', { name: 'Parent', exact: true }).selectOption('ferry');
	await saved(app);
	const hung = await storedDoc(server, 'Quay');
	expect(hung.parts.buoy.parent).toBe('ferry');
	// The ferry rests at 3.4 m: that much is taken off.
	expect(hung.parts.buoy.rest.translation[0]).toBeCloseTo(6.7 - 3.4, 6);
	await app.keyboard.press('Control+z');
	await app.keyboard.press('Control+z');
	await saved(app);
	await expect(app.getByRole('button', { name: 'undo', exact: true })).toBeDisabled();
});

test('lanes are filtered by a word, a kind and the selected parts', async ({ app, server }) => {
	await openClip(app, server, 'Quay', 'sack drop');
	// All of them are in sight.
	await app.keyboard.press('9');
	await app.getByRole('searchbox', { name: 'filter lanes by name' }).fill('sack scale');
	await expect(app.locator('[data-lane]')).toHaveCount(2);
	await expect(lane(app, 'mail sack scale x')).toBeVisible();
	await app.getByRole('searchbox', { name: 'filter lanes by name' }).fill('');
	await app.getByRole('button', { name: 'filter lanes by kind' }).click();
	await app.getByRole('checkbox', { name: 'opacity' }).check();
	await expect(app.locator('[data-lane]')).toHaveCount(1);
	await app.getByRole('button', { name: 'Show all' }).click();
	await app.keyboard.press('Escape');
	await expect(lane(app, 'crane arm rotation z')).toBeVisible();
	// Two parts with Shift: their keys are picked, and their lanes alone are shown, whatever is picked then.
	await app.getByRole('button', { name: 'part rope', exact: true }).click();
	await app.getByRole('button', { name: 'part dust', exact: true }).click({ modifiers: ['Shift'] });
	await app.getByRole('button', { name: 'part rope', exact: true }).click({ modifiers: ['Shift'] });
	await expect(app.locator('[data-picked]')).toHaveText(/ keys on 5 lanes/);
	await app.getByRole('button', { name: 'filter lanes by kind' }).click();
	await app.getByRole('checkbox', { name: 'selected parts' }).check();
	await app.keyboard.press('Escape');
	await app.keyboard.press('Escape');
	await expect(app.locator('[data-picked]')).toHaveText('Nothing selected');
	await expect(app.locator('[data-part-row]')).toHaveCount(2);
	await expect(app.locator('[data-lane]')).toHaveCount(5);
});

test('a shortcut is changed, a clash is shown before it is taken over, and it lasts', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	await app.keyboard.press('Shift+?');
	await app.getByRole('button', { name: 'A: change the shortcut of Auto-key on or off' }).click();
	await app.keyboard.press('k');
	await expect(app.getByText('belongs to: Key the selected lanes, or the selected part.')).toBeVisible();
	await app.getByRole('button', { name: 'Use it here' }).click();
	await app.getByRole('button', { name: 'Close', exact: true }).click();
	await app.reload();
	await expect(app.locator('[data-lanes-canvas]')).toBeVisible();
	await app.keyboard.press('k');
	await expect(app.getByRole('button', { name: 'auto-key' })).toHaveAttribute('aria-pressed', 'true');
	await app.keyboard.press('a');
	await expect(app.getByRole('button', { name: 'auto-key' })).toHaveAttribute('aria-pressed', 'true');
});

test('the first visit is led from an empty project to an exported file, beside what is spoken of', async ({
	app,
	server,
}) => {
	await app.goto(server.address);
	await app.getByRole('button', { name: 'New project' }).click();
	await app.getByRole('textbox', { name: 'Name' }).fill('First');
	await app.getByRole('button', { name: 'Create' }).click();
	await expect(app.getByRole('button', { name: 'Add part' })).toBeVisible();
	await app.keyboard.press('Control+k');
	await app.getByRole('combobox', { name: 'find anything' }).fill('six steps');
	await app.keyboard.press('Enter');
	const guide = app.getByRole('complementary', { name: 'a first clip' });
	const current = guide.locator('[aria-current="step"]');
	/** It lies beside what it speaks of, and wholly on the screen. */
	const standsBeside = async (selector: string) => {
		await expect
			.poll(async () => {
				const [box, target] = await Promise.all([
					guide.boundingBox(),
					app.locator(selector).first().boundingBox(),
				]);
				if (!box || !target) return 'not there';
				const apart =
					box.x >= target.x + target.width ||
					box.x + box.width <= target.x ||
					box.y >= target.y + target.height ||
					box.y + box.height <= target.y;
				const { width, height } = app.viewportSize()!;
				const inside = box.x >= 0 && box.y >= 0 && box.x + box.width <= width && box.y + box.height <= height;
				return apart && inside;
			})
			.toBe(true);
	};
	// By keys alone.
	await expect(current).toContainText('Add a part');
	await standsBeside('[data-add-part]');
	await app.keyboard.press('Shift+N');
	await app.getByRole('menuitem').first().press('Enter');
	await expect(current).toContainText('Go to another frame');
	await standsBeside('[aria-label="playhead"]');
	await app.keyboard.press('Shift+ArrowRight');
	await expect(current).toContainText('Turn on Auto-key');
	await standsBeside('[data-gizmo="guard"]');
	await app.keyboard.press('a');
	const x = app.locator('#bench').getByRole('textbox', { name: 'box translation x' });
	await app.getByRole('button', { name: 'Part', exact: true }).click();
	await x.fill('2');
	await x.press('Enter');
	await expect(current).toContainText('Select a key and choose');
	// The lane that came is in sight; who types goes on typing.
	await standsBeside('[data-lane="box translation x"]');
	await expect(x).toBeFocused();
	await x.press('Escape');
	await app.keyboard.press('[');
	await app.keyboard.press('3');
	await expect(current).toContainText('Play it');
	await app.keyboard.press('Space');
	await expect(current).toContainText('Ship it');
	await expect(app.getByRole('button', { name: 'auto-key' })).toHaveAttribute('aria-pressed', 'false');
	await standsBeside('[data-room="Ship"]');
	await app.getByRole('link', { name: 'Ship' }).click();
	await expect(current).toContainText('Ship it');
	await standsBeside('[data-export]');
	await app.locator('[data-export]').click();
	await expect(guide).toContainText('That is all it takes');
	await guide.getByRole('button', { name: 'Done' }).click();
	await expect(guide).toBeHidden();
});

test('a finding that is intended is marked with its reason, and counts again when that is taken back', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'lamp sweep');
	await app.getByRole('button', { name: 'lamp rotation y: key after' }).click();
	await app.keyboard.press(',');
	await saved(app);
	await app.getByRole('button', { name: 'checks: 2' }).click();
	const halfTurn = app.getByRole('listitem').filter({ hasText: 'Half a turn or more' });
	await halfTurn.getByRole('button', { name: 'Intended …' }).click();
	const why = app.getByRole('textbox', { name: 'why it is meant to be so' });
	await expect(why).toBeFocused();
	// Escape gives up the reason, not the list.
	await app.keyboard.press('Escape');
	await expect(why).toBeHidden();
	await halfTurn.getByRole('button', { name: 'Intended …' }).click();
	await app.keyboard.type('the lamp waits ');
	// Somebody else mends the other finding meanwhile: the reason stays in hand.
	const other = await app.context().newPage();
	await openClip(other, server, 'Quay', 'lamp sweep');
	await other.keyboard.press('Control+z');
	await expect(app.getByRole('button', { name: 'checks: 1' })).toBeVisible();
	await app.keyboard.type('for the fog');
	await app.keyboard.press('Enter');
	await saved(app);
	await expect(app.getByRole('button', { name: 'checks: 0' })).toBeVisible();
	const { intended } = (await storedDoc(server, 'Quay')).clips['lamp-sweep'];
	expect(intended).toMatchObject([{ reason: 'the lamp waits for the fog' }]);
	await app.getByText('1 intended').click();
	await expect(app.getByText('the lamp waits for the fog')).toBeVisible();
	await app.getByRole('button', { name: 'Count again' }).click();
	await saved(app);
	await expect(app.getByRole('button', { name: 'checks: 1' })).toBeVisible();
	expect((await storedDoc(server, 'Quay')).clips['lamp-sweep'].intended).toBe(undefined);
});
