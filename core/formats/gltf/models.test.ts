/** The meshes of models and the pictures of cards that go along in a file, as another reader has them. */
import { Document, NodeIO, type Node as GltfNode } from '@gltf-transform/core';
import { KHRMaterialsClearcoat } from '@gltf-transform/extensions';
import { describe, expect, it } from 'vitest';
import { linear, ONCE, ProjectBuilder } from '../../../demo/builder';
import { linearFromSrgb } from '../../../player/maths/colour';
import { clipsInOrder, type Doc } from '../../document/types';
import { worstShare } from '../../tracks/report';
import { readChannels } from './foreign.testing';
import { readGltf } from './read';
import { shipGltf } from './testing';

/** One pixel of a PNG. */
const PNG = Uint8Array.from(
	atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
	(letter) => letter.charCodeAt(0),
);
const CORNERS = [4, 1, 0, 6, 1, 0, 6, 3, 1];

/** A sail of two surfaces, its middle far from its pivot, with three morph targets. */
async function sail(): Promise<Uint8Array> {
	const document = new Document();
	const buffer = document.createBuffer();
	const vectors = (values: number[], type: 'VEC2' | 'VEC3' = 'VEC3') =>
		document.createAccessor().setType(type).setArray(Float32Array.from(values)).setBuffer(buffer);
	const mesh = document.createMesh('cloth').setWeights([0.25, 0, 0.75]);
	const texture = document.createTexture('weave').setImage(PNG).setMimeType('image/png');
	const coat = document.createExtension(KHRMaterialsClearcoat).createClearcoat().setClearcoatFactor(0.5);
	const woven = document
		.createMaterial('woven')
		.setBaseColorTexture(texture)
		.setExtension('KHR_materials_clearcoat', coat);
	const dark = document.createMaterial('dark').setBaseColorFactor([0.5, 0.25, 1, 1]);
	for (const material of [woven, dark]) {
		const primitive = document
			.createPrimitive()
			.setAttribute('POSITION', vectors(CORNERS))
			.setAttribute('NORMAL', vectors([0, 0, 1, 0, 0, 1, 0, 0, 1]))
			.setMaterial(material);
		if (material === woven) primitive.setAttribute('TEXCOORD_0', vectors([0, 0, 1, 0, 1, 1], 'VEC2'));
		for (let k = 0; k < 3; k++)
			primitive.addTarget(
				document
					.createPrimitiveTarget(`fill ${k}`)
					.setAttribute('POSITION', vectors([0, 0, k, 0, 0, k, 0, 0, k])),
			);
		mesh.addPrimitive(primitive);
	}
	document.createScene().addChild(document.createNode('sail').setMesh(mesh).setTranslation([0, 2, 0]));
	return new NodeIO().registerExtensions([KHRMaterialsClearcoat]).writeBinary(document);
}

async function sailing(): Promise<{ doc: Doc; assets: Map<string, Uint8Array> }> {
	const bytes = await sail();
	const read = await readGltf(bytes, 'Sail', 'a'.repeat(64));
	if (!read.ok) throw new Error(read.problems[0].message);
	const [part] = Object.values(read.value.doc.parts);
	const clip = new ProjectBuilder('Sail', 'world', 60)
		.part('sail', part.drawing)
		.startClip('fill', 60, ONCE)
		.keys('sail', 'weight.w1', [
			[0, 0, linear],
			[60, 1],
		])
		.build();
	const doc = { ...clip, parts: { sail: { ...clip.parts.sail, ...part, id: 'sail', name: 'sail' } } };
	return { doc, assets: new Map([['a'.repeat(64), bytes]]) };
}

/** Corners of the meshes at and below a node, in the world. */
function cornersOf(node: GltfNode): number[][] {
	const m = node.getWorldMatrix();
	const own = (node.getMesh()?.listPrimitives() ?? []).flatMap((primitive) => {
		const position = primitive.getAttribute('POSITION')!;
		return Array.from({ length: position.getCount() }, (_, i) => {
			const [x, y, z] = position.getElement(i, [] as number[]);
			return [0, 1, 2].map((k) => m[k] * x + m[4 + k] * y + m[8 + k] * z + m[12 + k]);
		});
	});
	return [...own, ...node.listChildren().flatMap(cornersOf)];
}

const open = async (bytes: Uint8Array) =>
	new NodeIO().registerExtensions([KHRMaterialsClearcoat]).readBinary(bytes);

describe('a file of clips', () => {
	it.each([
		['as it was', {}, [0, 0, 0]],
		['in other units', { metresPerUnit: 10 }, [0, 0, 0]],
		['moved within its part', {}, [1, -2, 0.5]],
	])('has the whole mesh of a model, %s, and moves its morph targets', async (_, numbers, moved) => {
		const { doc, assets } = await sailing();
		const { drawing } = doc.parts.sail;
		const offset = drawing.offset.map((v, k) => v + moved[k]) as never;
		const own = { ...doc, parts: { sail: { ...doc.parts.sail, drawing: { ...drawing, offset } } } };
		const shipped = await shipGltf(own, clipsInOrder(own), { assets, numbers });
		expect(worstShare(shipped)).toBeLessThanOrEqual(1);
		expect([...shipped.plainer, ...shipped.clips[0].leftOut]).toEqual([]);
		const root = (await open(shipped.bytes)).getRoot();
		const unit = 'metresPerUnit' in numbers ? numbers.metresPerUnit : 1;
		const corners = cornersOf(root.listScenes()[0].listChildren()[0]);
		corners.forEach((corner, i) =>
			corner.forEach((v, k) => {
				const was = CORNERS[(i % 3) * 3 + k] + (k === 1 ? 2 : 0) + moved[k];
				expect(v).toBeCloseTo(was * unit, 4);
			}),
		);
		expect(root.listMaterials().map((material) => material.getName())).toEqual(['woven', 'dark']);
		expect(root.listMaterials()[0].getExtension('KHR_materials_clearcoat')).toBeTruthy();
		expect(root.listTextures()[0].getImage()).toEqual(PNG);
		const [weights] = await readChannels(shipped.bytes);
		expect(weights.at(0.5).map((v) => Number(v.toFixed(3)))).toEqual([0.25, 0.5, 0.75]);
	});

	it('fades and tints all surfaces of a model, whatever colours they have themselves', async () => {
		const { doc, assets } = await sailing();
		const fading = new ProjectBuilder('Sail', 'world', 60)
			.part('sail', doc.parts.sail.drawing)
			.startClip('fade', 60, ONCE)
			.keys('sail', 'opacity', [
				[0, 1, linear],
				[60, 0],
			])
			.colours('sail', [
				[0, '#ffffff'],
				[60, '#ff0000'],
			])
			.build();
		const shipped = await shipGltf(fading, clipsInOrder(fading), { assets });
		expect(worstShare(shipped)).toBeLessThanOrEqual(1);
		const channels = await readChannels(shipped.bytes);
		expect(channels.map(({ to }) => to)).toEqual(
			[0, 1].map((i) => `/materials/${i}/pbrMetallicRoughness/baseColorFactor`),
		);
		const green = linearFromSrgb(1) / 2;
		for (const channel of channels)
			channel.at(0.5).forEach((v, k) => expect(v).toBeCloseTo([1, green, green, 0.5][k], 2));
		const [woven, dark] = (await open(shipped.bytes)).getRoot().listMeshes()[0].listPrimitives();
		expect(woven.getAttribute('COLOR_0')).toBeNull();
		expect(woven.getMaterial()!.getBaseColorTexture()!.getImage()).toEqual(PNG);
		expect(dark.getAttribute('COLOR_0')!.getElement(1, [])).toEqual([0.5, 0.25, 1, 1]);
	});

	it('has a model whose file is not at hand as a box, and says so', async () => {
		const { doc } = await sailing();
		const { plainer, clips } = await shipGltf(doc, clipsInOrder(doc));
		expect(plainer.join()).toMatch(/sail: its model is a box/);
		expect(clips[0].leftOut.map(({ why }) => why)).toEqual(['its model is not at hand']);
	});

	it.each(['interface', 'world'] as const)('has pictures upright on their cards: %s', async (space) => {
		const doc = new ProjectBuilder('Card', space, 60)
			.part('photo', { kind: 'image', asset: 'b'.repeat(64), size: [20, 10, 0], offset: [3, 4, 0] })
			.startClip('in', 60, ONCE)
			.keys('photo', 'opacity', [
				[0, 0, linear],
				[60, 1],
			])
			.build();
		const shipped = await shipGltf(doc, clipsInOrder(doc), { assets: new Map([['b'.repeat(64), PNG]]) });
		expect(shipped.plainer).toEqual([]);
		const [mesh] = (await open(shipped.bytes)).getRoot().listMeshes();
		const [card] = mesh.listPrimitives();
		expect(card.getMaterial()!.getBaseColorTexture()!.getImage()).toEqual(PNG);
		const [position, corner] = ['POSITION', 'TEXCOORD_0'].map((name) => card.getAttribute(name)!);
		const metres = space === 'world' ? 1 : 0.01;
		for (let i = 0; i < position.getCount(); i++) {
			const [x, y] = position.getElement(i, [] as number[]);
			const [right, down] = corner.getElement(i, [] as number[]);
			expect(right).toBeCloseTo((x / metres - 3) / 20 + 0.5, 4);
			// The top of the picture is where y is the highest.
			expect(down).toBeCloseTo(0.5 - (y / metres - (space === 'world' ? 4 : -4)) / 10, 4);
		}
	});

	it('has as few corners as its shapes need', async () => {
		const doc = new ProjectBuilder('Balls', 'world', 60)
			.part('ball', { kind: 'ball', size: [1, 1, 1] })
			.startClip('roll', 60, ONCE)
			.keys('ball', 'translation.x', [
				[0, 0, linear],
				[60, 1],
			])
			.build();
		const { bytes } = await shipGltf(doc, clipsInOrder(doc));
		const [ball] = (await open(bytes)).getRoot().listMeshes()[0].listPrimitives();
		expect(ball.getAttribute('POSITION')!.getCount()).toBeLessThan(600);
		expect(ball.getIndices()!.getCount()).toBe(3 * (2 * 15 * 32));
	});
});
