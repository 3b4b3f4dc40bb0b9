/** The parts of a project as a glTF scene: nodes, meshes, materials, cameras. */
import {
	Document,
	type Buffer,
	type Camera,
	type Material,
	type Mesh as GltfMesh,
	type Node as GltfNode,
	type Primitive,
} from '@gltf-transform/core';
import { KHRMaterialsUnlit } from '@gltf-transform/extensions';
import { linearFromSrgb } from '../../../player/maths/colour';
import { fromEuler } from '../../../player/maths/quaternion';
import type { Part } from '../../document/types';
import { meshOf, strokeMeshOf } from '../../drawing/mesh';
import type { Mesh } from '../../drawing/triangles';
import { parseHex } from '../../pose/hex';
import { rotationFactors, toMetres, translationFactors, type Space } from '../../pose/space';
import type { Prepared } from '../../tracks/ship';
import { switchOf } from '../../tracks/track';
import { ownNames } from './names';
import { surfacesOf, type Surface } from './own-tracks';

function colourFactor(colour: string, opacity: number): [number, number, number, number] {
	const [r, g, b] = parseHex(colour).map(linearFromSrgb);
	return [r, g, b, opacity];
}

/** Metres: what comes nearer than this, glTF's readers may leave out. */
const CAMERA_NEAR = 0.01;

/** A mesh in metres with y up; where an axis is mirrored, faces keep their outside. */
function meshInMetres(mesh: Mesh, space: Space): Mesh {
	if (space === 'world') return mesh;
	const factors = translationFactors(space);
	const positions = mesh.positions.map((v, i) => v * factors[i % 3]);
	const normals = mesh.normals.map((v, i) => (i % 3 === 1 ? -v : v));
	const indices = mesh.indices.slice();
	for (let i = 0; i < indices.length; i += 3)
		[indices[i + 1], indices[i + 2]] = [indices[i + 2], indices[i + 1]];
	return { ...mesh, positions, normals, indices };
}

export class SceneWriter {
	readonly document = new Document();
	readonly buffer: Buffer;
	readonly nodes = new Map<string, GltfNode>();
	/** The nodes of drawings whose size moves, by their parts. */
	readonly drawings = new Map<string, GltfNode>();
	/** The nodes of numbers, by `part number key`. */
	readonly numbers = new Map<string, GltfNode>();
	/** Materials of surfaces that change, by `part surface`. */
	readonly surfaces = new Map<string, Material>();
	/** What some clip moves, as `part path`. */
	private readonly moved: ReadonlySet<string>;
	private readonly names: ReadonlyMap<string, string>;
	private readonly materials = new Map<string, Material>();

	constructor(private readonly prepared: Prepared) {
		this.buffer = this.document.createBuffer();
		this.document.getRoot().getAsset().generator = 'Hillock';
		this.names = ownNames(prepared);
		this.moved = new Set(
			prepared.clips.flatMap(({ encoded }) => encoded.map(({ track }) => `${track.part.id} ${track.path}`)),
		);
	}

	/** Writes the parts as nodes, with what they are drawn as or without. */
	scene(withDrawings: boolean): void {
		const { doc, parts } = this.prepared;
		const { space, name } = doc.project;
		const scene = this.document.createScene(name);
		this.document.getRoot().setDefaultScene(scene);
		const factors = rotationFactors(space);
		const { clips } = this.prepared;
		const isSwitched = (part: string) => clips.some(({ compiled }) => switchOf(compiled, part));
		const hidden = new Set<string>();
		for (const part of parts) {
			const euler = part.rest.rotation.map((angle, i) => angle * factors[i]);
			const node = this.document
				.createNode(this.nameOf(part.id))
				.setTranslation(toMetres(space, part.rest.translation))
				.setRotation(fromEuler(euler, part.eulerOrder))
				.setScale(part.visible || !isSwitched(part.id) ? part.rest.scale : [0, 0, 0]);
			this.nodes.set(part.id, node);
			if (part.parent === null) scene.addChild(node);
			else this.nodes.get(part.parent)!.addChild(node);
			const isOff = !part.visible && !isSwitched(part.id);
			if (isOff || (part.parent !== null && hidden.has(part.parent))) hidden.add(part.id);
			if (part.drawing.kind === 'camera') node.setCamera(this.camera(part, part.drawing.fieldOfView));
			if (withDrawings) {
				this.addSurfaces(part);
				const drawing = this.drawingNode(part, node);
				if (!hidden.has(part.id)) drawing.setMesh(this.mesh(part, space));
			}
			this.addNumbers(part, node);
		}
	}

	/** The node that has a part's mesh: one below its own where its size moves, which those that hang on it do not share. */
	private drawingNode(part: Part, node: GltfNode): GltfNode {
		if (!this.moved.has(`${part.id} size`)) return node;
		const drawing = this.document.createNode(this.names.get(`${part.id} size`)!);
		node.addChild(drawing);
		this.drawings.set(part.id, drawing);
		return drawing;
	}

	private addNumbers({ id, numbers = [] }: Part, node: GltfNode): void {
		for (const number of numbers) {
			const path = `${id} number ${number.key}`;
			if (!this.moved.has(path)) continue;
			const own = this.document.createNode(this.names.get(path)!).setTranslation([number.value, 0, 0]);
			node.addChild(own);
			this.numbers.set(path, own);
		}
	}

	private nameOf(part: string): string {
		return this.prepared.partNames.get(part)!;
	}

	private camera(part: Part, degrees: number): Camera {
		return this.document
			.createCamera(this.nameOf(part.id))
			.setType('perspective')
			.setYFov((degrees * Math.PI) / 180)
			.setZNear(CAMERA_NEAR);
	}

	/** What a part looks like: its body and the line about it. */
	private mesh(part: Part, space: Space): GltfMesh | null {
		const { drawing, rest, id } = part;
		const body = meshOf(drawing, space);
		const stroke = strokeMeshOf(drawing, space);
		if (!body && !stroke) return null;
		const mesh = this.document.createMesh(this.nameOf(id));
		const surfaces = surfacesOf(part);
		const add = (own: Mesh, surface: Surface) => {
			const material =
				this.surfaces.get(`${id} ${surface}`) ?? this.material(surfaces.get(surface)!, rest.opacity);
			mesh.addPrimitive(this.primitive(meshInMetres(own, space)).setMaterial(material));
		};
		if (body) add(body, 'colour');
		if (stroke) add(stroke, 'stroke');
		return mesh;
	}

	private primitive({ positions, normals, indices, shades }: Mesh): Primitive {
		const vectors = (array: Float32Array) =>
			this.document
				.createAccessor()
				.setType('VEC3')
				.setArray(array as Float32Array<ArrayBuffer>)
				.setBuffer(this.buffer);
		const small = positions.length / 3 < 65_535;
		const primitive = this.document
			.createPrimitive()
			.setAttribute('POSITION', vectors(positions))
			.setAttribute('NORMAL', vectors(normals))
			.setIndices(
				this.document
					.createAccessor()
					.setType('SCALAR')
					.setArray(small ? Uint16Array.from(indices) : (indices as Uint32Array<ArrayBuffer>))
					.setBuffer(this.buffer),
			);
		if (shades)
			primitive.setAttribute(
				'COLOR_0',
				vectors(Float32Array.from(positions, (_, i) => shades[Math.floor(i / 3)])),
			);
		return primitive;
	}

	/** Materials of surfaces that some clip changes: nobody shares them. */
	private addSurfaces(part: Part): void {
		for (const [surface, colour] of surfacesOf(part)) {
			const own = `${part.id} ${surface}`;
			if (!this.moved.has(own)) continue;
			const material = this.newMaterial(this.names.get(own)!, colour, part.rest.opacity);
			this.surfaces.set(own, material.setAlphaMode('BLEND'));
		}
	}

	private material(colour: string, opacity: number): Material {
		const key = `${colour}/${opacity}`;
		const known = this.materials.get(key);
		if (known) return known;
		const material = this.newMaterial(colour, colour, opacity);
		if (opacity < 1) material.setAlphaMode('BLEND');
		this.materials.set(key, material);
		return material;
	}

	private newMaterial(name: string, colour: string, opacity: number): Material {
		const material = this.document
			.createMaterial(name)
			.setBaseColorFactor(colourFactor(colour, opacity))
			.setMetallicFactor(0)
			.setRoughnessFactor(0.9)
			.setDoubleSided(true);
		// What stands on a screen has its own colours, whatever light falls on it.
		if (this.prepared.doc.project.space === 'interface')
			material.setExtension(
				'KHR_materials_unlit',
				this.document.createExtension(KHRMaterialsUnlit).createUnlit(),
			);
		return material;
	}
}
