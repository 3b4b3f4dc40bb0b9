/** Parts of every kind: models, cameras, icons, drawings, and what of a drawing moves. */
import { readFileSync } from 'node:fs';
import { Document, NodeIO } from '@gltf-transform/core';
import type { Locator, Page } from '@playwright/test';
import { drawingIn } from '../core/clip/layout';
import { shownAt } from '../core/testing';
import type { Doc } from '../core/document/types';
import { meshOf } from '../core/drawing/mesh';
import { goToFrame, laneValue, openClip, projectId, saved, storedDoc } from './compose';
import { expect, test } from './server';

/** A bell with a cap, whose top stretches as it rings, and a camera that looks at it. */
async function bell(): Promise<Buffer> {
	const document = new Document();
	const buffer = document.createBuffer();
	const accessor = (type: 'SCALAR' | 'VEC3', numbers: Float32Array | Uint16Array) =>
		document
			.createAccessor()
			.setType(type)
			.setArray(numbers as Float32Array<ArrayBuffer>)
			.setBuffer(buffer);
	const ball = meshOf({ kind: 'ball', size: [1, 1, 1], offset: [0, 0.5, 0] }, 'world')!;
	const stretch = ball.positions.map((v, i) => (i % 3 === 1 && v > 0.5 ? v : 0));
	const primitive = document
		.createPrimitive()
		.setAttribute('POSITION', accessor('VEC3', ball.positions))
		.setAttribute('NORMAL', accessor('VEC3', ball.normals))
		.setIndices(accessor('SCALAR', Uint16Array.from(ball.indices)))
		.addTarget(document.createPrimitiveTarget('tall').setAttribute('POSITION', accessor('VEC3', stretch)));
	const body = document
		.createNode('brass bell')
		.setMesh(document.createMesh('bell').addPrimitive(primitive).setWeights([0]));
	const eye = document
		.createNode('watcher')
		.setTranslation([0, 1, 5])
		.setCamera(
			document
				.createCamera()
				.setType('perspective')
				.setYFov(Math.PI / 4)
				.setZNear(0.1),
		);
	body.addChild(document.createNode('cap').setTranslation([0, 1, 0]));
	document.createScene().addChild(body).addChild(eye);
	const sampler = document
		.createAnimationSampler()
		.setInput(accessor('SCALAR', Float32Array.of(0, 0.5, 1)))
		.setOutput(accessor('SCALAR', Float32Array.of(0, 1, 0)))
		.setInterpolation('LINEAR');
	const channel = document
		.createAnimationChannel()
		.setTargetNode(body)
		.setTargetPath('weights')
		.setSampler(sampler);
	document.createAnimation('ring').addSampler(sampler).addChannel(channel);
	return Buffer.from(await new NodeIO().writeBinary(document));
}

async function addPart(app: Page, kind: string): Promise<void> {
	await app.getByRole('button', { name: 'Add part' }).click();
	await app.getByRole('menuitem', { name: kind, exact: true }).click();
}
async function type(field: Locator, text: string): Promise<void> {
	await field.click();
	await field.fill(text);
	await field.press('Enter');
}
const partNamed = (doc: Doc, name: string) => Object.values(doc.parts).find((part) => part.name === name)!;
const clipNamed = (doc: Doc, name: string) => Object.values(doc.clips).find((clip) => clip.name === name)!;

/** What a part looks like at a frame of a clip. */
function drawingAt(doc: Doc, clip: string, part: string, frame: number) {
	const { posed } = shownAt(doc, clipNamed(doc, clip).id, frame * (72_000 / doc.project.frameRate));
	return drawingIn(posed, partNamed(doc, part));
}

test('a model brings its nodes as parts, its clip with morph weights, and a camera to look through', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const glb = await bell();
	await app
		.getByLabel('model for a new part')
		.setInputFiles({ name: 'bell.glb', mimeType: 'model/gltf-binary', buffer: glb });
	await expect(app.getByText('3 parts and 1 clip came with it')).toBeVisible();
	await saved(app);
	const doc = await storedDoc(server, 'Quay');
	const [root, body, cap] = ['bell', 'brass bell', 'cap'].map((name) => partNamed(doc, name));
	expect([root.parent, body.parent, cap.parent]).toEqual([null, root.id, body.id]);
	expect(body.drawing).toMatchObject({ kind: 'model', mesh: 0, weights: [0], targets: ['tall'] });
	expect(partNamed(doc, 'watcher').drawing).toMatchObject({
		kind: 'camera',
		fieldOfView: expect.closeTo(45, 4),
	});
	expect(drawingAt(doc, 'ring', 'brass bell', 7.5)).toMatchObject({ weights: [expect.closeTo(0.5, 6)] });
	// The file is served as it came, and looking through the camera is one of the views.
	const { asset } = body.drawing as { asset: string };
	const kept = await fetch(
		`${server.address}/api/projects/${await projectId(server, 'Quay')}/assets/${asset}`,
	);
	expect(Buffer.from(await kept.arrayBuffer())).toEqual(glb);
	const view = app.getByRole('group', { name: 'view', exact: true });
	await view.getByRole('button', { name: 'camera' }).click();
	await expect(view.getByRole('button', { name: 'camera' })).toHaveAttribute('aria-pressed', 'true');
	// Of two cameras it is the one that was picked last, whatever is picked after it; weights have the file's names.
	const through = view.getByRole('button', { name: 'camera' });
	await expect(through).toHaveAttribute('title', /^Through (?!watcher)/);
	await app.getByRole('button', { name: 'clip: buoy bob' }).click();
	await app.getByRole('menuitem', { name: 'ring' }).click();
	await app.keyboard.press('Control+k');
	await app.keyboard.type('watcher');
	await app.keyboard.press('Enter');
	await expect(through).toHaveAttribute('title', /^Through watcher/);
	await app.getByRole('button', { name: 'part brass bell', exact: true }).click();
	await expect(through).toHaveAttribute('title', /^Through watcher/);
	await expect(app.getByRole('textbox', { name: 'brass bell weight tall value' })).toHaveValue('0');
	// One step of undo takes all of it away; the demo's own camera is there still.
	await app.keyboard.press('Control+z');
	await expect
		.poll(async () => Object.keys((await storedDoc(server, 'Quay')).parts).length)
		.toBe(Object.keys(doc.parts).length - 4);
});

test('an icon draws itself: the end of its line has keys', async ({ app, server }) => {
	await openClip(app, server, 'Parcel slip', 'stamp press');
	await addPart(app, 'Icon …');
	await app.getByLabel('find an icon').fill('anchor');
	await expect(app.getByRole('button', { name: 'anchor', exact: true })).toBeVisible();
	await app.keyboard.press('Enter');
	await expect(app.getByRole('textbox', { name: 'name of the part' })).toHaveValue('anchor');
	await app.getByRole('button', { name: 'key anchor trim end', exact: true }).click();
	await type(app.getByRole('textbox', { name: 'anchor trim end', exact: true }), '0');
	await goToFrame(app, 30);
	await type(app.getByRole('textbox', { name: 'anchor trim end', exact: true }), '1');
	await saved(app);
	const doc = await storedDoc(server, 'Parcel slip');
	expect(partNamed(doc, 'anchor').drawing).toMatchObject({
		kind: 'path',
		filled: false,
		stroke: { width: 4 },
	});
	const ends = [0, 15, 30].map((frame) => drawingAt(doc, 'stamp press', 'anchor', frame));
	expect(ends[0]).toMatchObject({ stroke: { start: 0, end: 0 } });
	expect(ends[2]).toMatchObject({ stroke: { start: 0, end: 1 } });
	const [, half] = ends as { stroke: { end: number } }[];
	expect(half.stroke.end).toBeGreaterThan(0);
	expect(half.stroke.end).toBeLessThan(1);
});

test('an SVG drawing comes apart into parts with its colours; what is none is told', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20">
		<rect id="hull" x="0" y="10" width="40" height="10" fill="#b5532f"/>
		<g transform="translate(20 0)"><circle r="5" cy="5" fill="none" stroke="#22303a" stroke-width="2"/></g>
	</svg>`;
	const input = app.getByLabel('drawing for a new part');
	await input.setInputFiles({ name: 'dinghy.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
	await expect(app.getByRole('textbox', { name: 'name of the part' })).toHaveValue('dinghy');
	await input.setInputFiles({ name: 'empty.svg', mimeType: 'image/svg+xml', buffer: Buffer.from('<svg/>') });
	await expect(app.getByText('There are no shapes in it.')).toBeVisible();
	await saved(app);
	const doc = await storedDoc(server, 'Quay');
	const root = partNamed(doc, 'dinghy');
	const children = Object.values(doc.parts).filter((part) => part.parent === root.id);
	expect(children.map((part) => part.colour).sort()).toEqual(['#22303a', '#b5532f']);
	const [hull, ring] = ['hull', 'shape 2'].map((name) => children.find((part) => part.name === name)!);
	// Forty wide is two metres here: the hull stands in the lower half, the ring's line is a tenth thick.
	const { positions } = meshOf(hull.drawing, 'world')!;
	const ys = positions.filter((_, i) => i % 3 === 1);
	expect([Math.min(...ys), Math.max(...ys)]).toEqual([expect.closeTo(-0.5, 5), expect.closeTo(0, 5)]);
	expect(ring.drawing).toMatchObject({
		filled: false,
		stroke: { width: expect.closeTo(0.1, 5), colour: '#22303a' },
	});
});

test('the size of a rectangle grows about its pivot, as a lane of its own', async ({ app, server }) => {
	await openClip(app, server, 'Parcel slip', 'stamp press');
	await addPart(app, 'Rectangle');
	// The pivot at its left edge: a gauge that fills to the right.
	await app.getByRole('button', { name: 'pivot to middle left' }).click();
	await app.getByRole('button', { name: 'key rectangle size x', exact: true }).click();
	await goToFrame(app, 20);
	await type(app.getByRole('textbox', { name: 'rectangle size x', exact: true }), '160');
	await expect(app.locator('[data-lane="rectangle size x"]')).toBeVisible();
	await saved(app);
	const doc = await storedDoc(server, 'Parcel slip');
	const edges = [0, 20].map((frame) => {
		const xs = meshOf(drawingAt(doc, 'stamp press', 'rectangle', frame), 'interface')!.positions.filter(
			(_, i) => i % 3 === 0,
		);
		return [Math.min(...xs), Math.max(...xs)];
	});
	expect(edges).toEqual([
		[expect.closeTo(0, 4), expect.closeTo(80, 4)],
		[expect.closeTo(0, 4), expect.closeTo(160, 4)],
	]);
});

test('a project with a picture goes out as a zip, and comes back as another project with it', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'buoy bob');
	const svg = Buffer.from(
		'<svg xmlns="http://www.w3.org/2000/svg" width="8" height="4"><rect width="8" height="4"/></svg>',
	);
	await app
		.getByLabel('picture for a new part')
		.setInputFiles({ name: 'crate.svg', mimeType: 'image/svg+xml', buffer: svg });
	await expect(app.getByRole('textbox', { name: 'name of the part' })).toHaveValue('crate');
	await saved(app);
	const id = await projectId(server, 'Quay');
	const file = await fetch(`${server.address}/api/projects/${id}/file`);
	expect(file.headers.get('content-disposition')).toContain('quay.hillock.zip');
	const zip = Buffer.from(await file.arrayBuffer());
	await app.goto(server.address);
	await app
		.getByLabel('project file')
		.setInputFiles({ name: 'Quay.hillock.zip', mimeType: 'application/zip', buffer: zip });
	await expect(app.getByRole('link', { name: 'Quay' })).toHaveCount(2);
	const { projects } = (await (await fetch(`${server.address}/api/projects`)).json()) as {
		projects: { id: string; name: string }[];
	};
	const copy = projects.find((project) => project.name === 'Quay' && project.id !== id)!.id;
	const { doc } = (await (await fetch(`${server.address}/api/projects/${copy}`)).json()) as { doc: Doc };
	const { asset } = partNamed(doc, 'crate').drawing as { asset: string };
	const back = await fetch(`${server.address}/api/projects/${copy}/assets/${asset}`);
	expect(Buffer.from(await back.arrayBuffer())).toEqual(svg);
});

test('a new part stands in sight and in front, and keeps its row; a new camera sees what was seen', async ({
	app,
	server,
}) => {
	const make = async (kind: string) => {
		await app.keyboard.press('Control+k');
		await app.keyboard.type(`New part: ${kind}`);
		await app.getByRole('option', { name: `New part: ${kind}` }).click();
		await saved(app);
	};
	const row = (name: string) => app.getByRole('button', { name: `part ${name}`, exact: true });
	await openClip(app, server, 'Quay', 'sack drop');
	const stage = (await app.getByRole('region', { name: 'stage' }).boundingBox())!;
	await make('sphere');
	// Its handle is about the middle of the stage, and a click there takes nothing that stands before it.
	const middle = (await app.locator('[data-gizmo="move"]').boundingBox())!;
	expect(Math.abs(middle.x + middle.width / 2 - stage.x - stage.width / 2)).toBeLessThan(20);
	expect(Math.abs(middle.y + middle.height / 2 - stage.y - stage.height / 2)).toBeLessThan(60);
	await app.keyboard.press('Escape');
	await expect(app.locator('[data-picked]')).toHaveText('Nothing selected');
	await expect(row('sphere')).toBeVisible();
	await app.mouse.click(middle.x + middle.width / 2, middle.y + middle.height / 2);
	await expect(row('sphere')).toHaveAttribute('aria-pressed', 'true');

	const before = await storedDoc(server, 'Quay');
	await make('camera');
	const after = await storedDoc(server, 'Quay');
	const camera = Object.values(after.parts).find((part) => !before.parts[part.id])!;
	expect(camera.rest.translation[2]).toBeGreaterThan(10);
	await app.getByRole('button', { name: 'Camera', exact: true }).click();
	await expect(app.locator('[data-gizmo="move"]')).toHaveCount(0);
});

test('a number of one’s own moves, and a rectangle is wiped in', async ({ app, server }) => {
	await openClip(app, server, 'Parcel slip', 'stamp press');
	await addPart(app, 'Rectangle');
	await app.getByRole('button', { name: 'Own number', exact: true }).click();
	await app.getByRole('button', { name: 'settings of number' }).click();
	await type(app.getByRole('textbox', { name: 'Name', exact: true }), 'volume');
	await type(app.getByRole('textbox', { name: 'Unit', exact: true }), 'dB');
	await type(app.getByRole('textbox', { name: 'lowest volume' }), '-60');
	await app.keyboard.press('Escape');
	await app.getByRole('button', { name: 'key rectangle volume' }).click();
	await goToFrame(app, 20);
	await type(laneValue(app, 'rectangle volume'), '-30');
	await goToFrame(app, 10);
	await expect(app.locator('[data-own-numbers]')).toHaveText('rectangle volume -15 dB');

	// By its other name in the finder.
	await app.keyboard.press('Control+k');
	await app.getByRole('combobox', { name: 'find anything' }).fill('clip-path');
	await app.keyboard.press('Enter');
	await expect(app.getByRole('textbox', { name: 'rectangle reveal top' })).toBeFocused();
	await app.getByRole('button', { name: 'key rectangle reveal right' }).click();
	await type(app.getByRole('textbox', { name: 'rectangle reveal right', exact: true }), '0.75');
	await saved(app);
	const doc = await storedDoc(server, 'Parcel slip');
	const part = Object.values(doc.parts).find(({ name }) => name === 'rectangle')!;
	expect(part.numbers).toEqual([{ key: 'n0', name: 'volume', unit: 'dB', low: -60, high: 1, value: 0 }]);
	expect(doc.channels[`stamp-press/${part.id}/reveal/right`].keys.map(({ v }) => v)).toEqual([0.75]);
	// What is hidden of it is not there for a click either: a quarter is left, from its left edge.
	const pivot = (await app.locator('[data-gizmo="move"]').boundingBox())!;
	const picked = app.locator('[data-picked]');
	const clickBeside = async () => {
		// A field that is left first keeps the pick.
		await expect(async () => {
			await app.keyboard.press('Escape');
			await expect(picked).toHaveText('Nothing selected', { timeout: 500 });
		}).toPass();
		await app.mouse.click(pivot.x + pivot.width / 2 + 12, pivot.y + pivot.height / 2 + 12);
	};
	await clickBeside();
	await expect(picked).not.toHaveText('rectangle');
	await app.keyboard.press('Control+z');
	await clickBeside();
	await expect(picked).toHaveText('rectangle');
});

test('a picture that cannot be shown is crossed out and told, and another file takes its place', async ({
	app,
	server,
}) => {
	await openClip(app, server, 'Quay', 'sack drop');
	const whole = readFileSync('docs/screenshots/projects.png');
	// The head is right, so that it is taken for what it says.
	const broken = Buffer.concat([whole.subarray(0, 33), Buffer.alloc(2000, 7)]);
	const drop = async (name: string, bytes: Buffer) => {
		const files = await app.evaluateHandle(
			([name, bytes]) => {
				const data = new DataTransfer();
				data.items.add(new File([new Uint8Array(bytes as number[])], name as string, { type: 'image/png' }));
				return data;
			},
			[name, [...bytes]],
		);
		const stage = app.getByRole('region', { name: 'stage' });
		await stage.dispatchEvent('drop', { dataTransfer: files, clientX: 900, clientY: 300 });
	};
	await drop('map.png', broken);
	const told = app.getByText('The picture of map cannot be shown.');
	await expect(told).toBeVisible();
	await app.getByLabel('another file of map').setInputFiles('docs/screenshots/projects.png');
	await expect(told).toHaveCount(0);
	await app.keyboard.press('Control+z');
	await expect(told).toBeVisible();
});
