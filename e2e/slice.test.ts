/** The whole way once: from a key to a curve file that another reader plays. */
import { NodeIO } from '@gltf-transform/core';
import { readFileSync } from 'node:fs';
import { AnimationMixer } from 'three';
import { GLTFLoader, type GLTF } from 'three/addons/loaders/GLTFLoader.js';
import {
	frameX,
	goToFrame,
	lane,
	laneValue,
	openClip,
	pickedKeyPlace,
	saved,
	storedChannel,
} from './compose';
import { readClips } from '../player/file/read';
import { evaluateClip } from '../player/motion';
import { expect, test } from './server';

test('one part, two keys: play, save, reload, export, read back by another reader', async ({
	app,
	server,
}) => {
	await app.goto(server.address);
	await app.getByRole('button', { name: 'New project' }).click();
	await app.getByRole('textbox', { name: 'Name' }).fill('Pier');
	await app.getByRole('button', { name: 'Create' }).click();
	await app.getByRole('button', { name: 'Add part' }).click();
	await app.getByRole('menuitem', { name: 'box' }).click();

	// A key at 0 by its button, a second one by its value.
	await app.getByRole('button', { name: 'key box translation x' }).click();
	await goToFrame(app, 60);
	const value = laneValue(app, 'box translation x');
	await value.click();
	await value.fill('4');
	await value.press('Enter');
	await app.keyboard.press('Escape');
	await lane(app, 'box translation x').getByRole('button', { name: 'key before' }).click();
	await app.keyboard.press('2');
	await saved(app);

	// It moves: halfway in time is halfway there.
	await goToFrame(app, 30);
	await expect(value).toHaveValue('2 m');
	await app.getByRole('button', { name: 'play from the start' }).click();
	await expect.poll(async () => Number.parseFloat(await value.inputValue())).toBeGreaterThan(2.4);
	await app.reload();
	await goToFrame(app, 15);
	await expect(value).toHaveValue('1 m');

	await app.getByRole('link', { name: 'Ship' }).click();
	await app.getByRole('button', { name: 'Export glTF' }).click();
	const download = app.waitForEvent('download');
	await app.getByRole('link', { name: /^Download / }).click();
	const document = await new NodeIO().readBinary(readFileSync(await (await download).path()));
	const [animation] = document.getRoot().listAnimations();
	const sampler = animation.listSamplers()[0];
	expect(sampler.getInterpolation()).toBe('LINEAR');
	expect([...sampler.getInput()!.getArray()!]).toEqual([0, 2]);
	expect([...sampler.getOutput()!.getArray()!]).toEqual([0, 0, 0, 4, 0, 0]);

	// The same as a clip file, which the player reads.
	await app.getByRole('radio', { name: /^Clip file \./ }).check();
	await app.getByRole('button', { name: 'Export Clip file' }).click();
	const second = app.waitForEvent('download');
	await app.getByRole('link', { name: /^Download .*clips\.json$/ }).click();
	const { clips, layout } = readClips(JSON.parse(readFileSync(await (await second).path(), 'utf8')));
	const pose = layout.rest.slice();
	evaluateClip([...clips.values()][0].motion, 36_000, pose);
	expect([...pose]).toEqual([1, 0, 0]);
});

test('from an empty project to an exported clip in twelve acts', async ({ app, server }) => {
	await app.goto(server.address);
	await app.getByRole('button', { name: 'New project' }).click();
	await app.getByRole('textbox', { name: 'Name' }).fill('Pier');
	await app.getByRole('button', { name: 'Create' }).click();
	const value = laneValue(app, 'box translation x');
	const moving = async () => Number.parseFloat(await value.inputValue());
	const acts: (() => Promise<unknown>)[] = [
		() => app.getByRole('button', { name: 'Add part' }).click(),
		() => app.getByRole('menuitem', { name: 'box' }).click(),
		() => app.getByRole('button', { name: 'key box translation x' }).click(),
		() => app.keyboard.press('End'),
		() => value.click(),
		() => value.fill('4').then(() => value.press('Enter')),
		() => lane(app, 'box translation x').getByRole('button', { name: 'key before' }).click(),
		// A spring.
		() => app.keyboard.press('6'),
		() => app.keyboard.press('Space'),
		() => app.getByRole('link', { name: 'Ship' }).click(),
		() => app.getByRole('button', { name: 'Export glTF' }).click(),
		() => app.getByRole('link', { name: /^Download / }).click(),
	];
	const download = app.waitForEvent('download');
	for (const [i, act] of acts.entries()) {
		await act();
		if (i === 8) await expect.poll(moving).toBeGreaterThan(4);
	}
	const document = await new NodeIO().readBinary(readFileSync(await (await download).path()));
	const [animation] = document.getRoot().listAnimations();
	const places = [...animation.listSamplers()[0].getOutput()!.getArray()!];
	expect(Math.max(...places)).toBeGreaterThan(4.2);
	expect(acts).toHaveLength(12);
});

test('the day of a clip: play, scrub, key, drag, shape, undo, restart, export', async ({ app, server }) => {
	const channelId = 'sack-drop/mail-sack/translation/y';
	const channel = () => storedChannel(server, 'Quay', channelId);
	await openClip(app, server, 'Quay', 'sack drop');
	const height = laneValue(app, 'mail sack translation y');

	// Scrub: at rest on the hook, on the ground, at the top of the first rebound.
	await expect(height).toHaveValue('3.1 m');
	await app.mouse.click(
		await frameX(app, 17, 72),
		(await app.getByRole('slider', { name: 'playhead' }).boundingBox())!.y + 30,
	);
	await expect(height).toHaveValue('0 m');
	await app.keyboard.press(']');
	await expect(app.getByRole('slider', { name: 'playhead' })).toHaveAttribute('aria-valuenow', '18');
	await goToFrame(app, 27);
	await expect(height).toHaveValue('1.15 m');

	// Play: the value changes by itself.
	await app.keyboard.press('Home');
	await app.keyboard.press('Space');
	await expect
		.poll(async () => Number.parseFloat(await height.inputValue()), { intervals: [60] })
		.toBeLessThan(2.9);
	await app.keyboard.press('Space');

	// A key by hand on the curve, then its value typed as a change.
	await goToFrame(app, 23);
	const before = (await channel())!.keys.length;
	await lane(app, 'mail sack translation y').getByRole('button', { name: 'set key at the playhead' }).click();
	await saved(app);
	const rise = 1.15 * (1 - (1 - 4 / 8) ** 2);
	expect((await channel())!.keys).toHaveLength(before + 1);
	expect((await channel())!.keys.find((key) => key.t === 23 * 2400)!.v).toBeCloseTo(rise, 9);
	await height.click();
	await height.fill('+=0.5');
	await height.press('Enter');
	await height.press('Escape');
	await saved(app);
	expect((await channel())!.keys.find((key) => key.t === 23 * 2400)!.v).toBeCloseTo(rise + 0.5, 9);

	// Drag that key in time and value: it snaps to frames.
	const place = await pickedKeyPlace(app);
	const pixelsPerFrame = (await frameX(app, 1, 72)) - (await frameX(app, 0, 72));
	await app.mouse.move(place.x, place.y);
	await app.mouse.down();
	await app.mouse.move(place.x + pixelsPerFrame * 1.2, place.y + 12, { steps: 4 });
	await app.mouse.move(place.x + pixelsPerFrame * 2.1, place.y + 14, { steps: 4 });
	await app.mouse.up();
	await saved(app);
	const dragged = (await channel())!.keys.find((key) => key.t === 25 * 2400)!;
	expect(dragged.v).toBeLessThan(rise + 0.5 - 0.2);
	expect((await channel())!.keys.some((key) => key.t === 23 * 2400)).toBe(false);

	// The shape of its span, from the sheet, then a finer amount.
	await app.getByRole('group', { name: 'shapes' }).getByRole('button', { name: 'slow finish' }).click();
	const amount = app.getByRole('textbox', { name: 'slow finish' });
	await amount.click();
	await amount.fill('80');
	await amount.press('Enter');
	await amount.press('Escape');
	await saved(app);
	expect((await channel())!.keys.find((key) => key.t === 25 * 2400)!.shape).toEqual({
		kind: 'eased',
		start: 0,
		finish: 0.8,
	});

	// Five edits back: as it was. One forward again.
	for (let i = 0; i < 5; i++) {
		await app.getByRole('button', { name: /^undo / }).click();
		await saved(app);
	}
	expect((await channel())!.keys).toHaveLength(before);
	await expect(app.getByRole('button', { name: 'undo', exact: true })).toBeDisabled();
	for (let i = 0; i < 5; i++) {
		await app.getByRole('button', { name: /^redo / }).click();
		await saved(app);
	}

	// Auto-key: moving the sack on the stage writes a key.
	await app.getByRole('button', { name: 'auto-key' }).click();
	await goToFrame(app, 65);
	await app.getByRole('button', { name: 'part mail sack' }).click();
	const arm = (await app.locator('[data-gizmo="move-y"] circle').boundingBox())!;
	await app.mouse.move(arm.x + arm.width / 2, arm.y + arm.height / 2);
	await app.mouse.down();
	await app.mouse.move(arm.x + arm.width / 2, arm.y - 24, { steps: 5 });
	await app.mouse.up();
	await saved(app);
	const lifted = (await channel())!.keys.find((key) => key.t === 65 * 2400)!;
	expect(lifted.v).toBeGreaterThan(0.3);
	await app.getByRole('button', { name: 'auto-key' }).click();

	// The server is stopped and started: everything is as it was, undo too.
	const kept = await channel();
	expect(await server.stop()).toBe(0);
	await server.start();
	await app.reload();
	await goToFrame(app, 65);
	expect(Number.parseFloat(await height.inputValue())).toBeCloseTo(lifted.v, 1);
	expect(await channel()).toEqual(kept);
	await app.getByRole('button', { name: /^undo Move mail sack/ }).click();
	await saved(app);
	expect((await channel())!.keys.some((key) => key.t === 65 * 2400)).toBe(false);
	await app.getByRole('button', { name: /^redo / }).click();
	await saved(app);

	// Export, and play the file in another reader.
	await app.getByRole('link', { name: 'Ship' }).click();
	await app.getByRole('button', { name: 'Export glTF' }).click();
	// What costs most comes first when it is asked for; one clip's curves are looked at alone.
	const curves = app.getByRole('table', { name: 'curves of the file' });
	await curves.getByRole('button', { name: 'bytes' }).click();
	await app.getByRole('searchbox', { name: 'filter the curves' }).fill('pelican');
	const bytesOf = async () => (await curves.locator('tr td:nth-child(6)').allTextContents()).map(Number);
	const sorted = await bytesOf();
	expect(sorted.length).toBeGreaterThan(2);
	expect(sorted).toEqual(sorted.toSorted((a, b) => b - a));
	await curves.getByRole('button', { name: 'bytes' }).click();
	expect(await bytesOf()).toEqual(sorted.toReversed());
	const download = app.waitForEvent('download');
	await app.getByRole('link', { name: 'Download quay.glb' }).click();
	const bytes = readFileSync(await (await download).path());
	const gltf = await new Promise<GLTF>((resolve, reject) =>
		new GLTFLoader().parse(
			bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length),
			'',
			resolve,
			reject,
		),
	);
	const mixer = new AnimationMixer(gltf.scene);
	mixer.clipAction(gltf.animations.find((clip) => clip.name === 'sack drop')!).play();
	const sack = gltf.scene.getObjectByName('mail_sack')!;
	mixer.setTime(65 / 30);
	expect(sack.position.y).toBeCloseTo(lifted.v, 2);
	mixer.setTime(27 / 30);
	expect(sack.position.y).toBeCloseTo(1.15, 2);
});
