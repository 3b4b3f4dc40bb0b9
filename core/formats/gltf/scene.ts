/** The parts of a project as a glTF scene: nodes, meshes, materials, cameras. */
import {
	Document,
	type Accessor,
	type Buffer,
	type Camera,
	type Mesh as GltfMesh,
	type Node as GltfNode,
	type Texture,
} from '@gltf-transform/core';
import { KHRNodeVisibility } from '@gltf-transform/extensions';
import { fromEuler } from '../../../player/maths/quaternion';
import type { Vec3 } from '../../../player/maths/vector';
import type { Part } from '../../document/types';
import { meshOf, SEGMENTS, strokeMeshOf } from '../../drawing/mesh';
import type { Mesh } from '../../drawing/triangles';
import { rotationFactors } from '../../pose/space';
import type { Prepared } from '../../tracks/ship';
import { hidingOf } from '../../tracks/track';
import type { GltfChoices } from './choices';
import { Materials } from './materials';
import { addTriangles, meshWithin, pictureCorners, pictureType, welded } from './meshes';
import { Models } from './models';
import { ownNames, TOP } from './names';
import { surfacesOf, type Surface } from './own-tracks';

/** Metres: what comes nearer than this, glTF's readers may leave out. */
const CAMERA_NEAR = 0.01;
/** What a model's place may be off for it to be in place. */
const STILL = 1e-6;
/** A quarter turn about x: what was up along y is so along z. */
const Z_UP = [Math.SQRT1_2, 0, 0, Math.SQRT1_2] as const;

export class SceneWriter {
	readonly document = new Document();
	readonly buffer: Buffer;
	readonly nodes = new Map<string, GltfNode>();
	/** Other nodes of parts, by `part path`: of drawings whose size moves, of numbers, of what carries a part along. */
	readonly others = new Map<string, GltfNode>();
	readonly materials: Materials;
	/** Nodes that have a model's mesh, by part. */
	readonly morphed = new Map<string, GltfNode>();
	private readonly models: Models;
	/** The largest side of all that is drawn. */
	private readonly largest: number;
	private readonly pictures = new Map<string, Texture>();
	/** What some clip moves, as `part path`. */
	private readonly moved: ReadonlySet<string>;
	private readonly names: ReadonlyMap<string, string>;

	constructor(
		private readonly prepared: Prepared,
		private readonly choices: GltfChoices,
		private readonly assets: ReadonlyMap<string, Uint8Array>,
	) {
		this.buffer = this.document.createBuffer();
		this.document.getRoot().getAsset().generator = 'Hillock';
		this.names = ownNames(prepared);
		this.materials = new Materials(this.document, prepared.doc.project.space);
		const sizes = prepared.parts.flatMap(({ drawing }) => ('size' in drawing ? [...drawing.size] : []));
		this.largest = Math.max(...sizes, 0) || 1;
		this.models = new Models(this.document, this.buffer, assets);
		this.moved = new Set(
			prepared.clips.flatMap(({ encoded }) => encoded.map(({ track }) => `${track.part.id} ${track.path}`)),
		);
	}

	/** Writes the parts as nodes, with what they are drawn as or without. Throws a RangeError for a model that cannot be read. */
	async write(): Promise<void> {
		if (this.choices.withDrawings) await this.models.open(this.prepared.parts);
		const { doc, parts, clips, terms } = this.prepared;
		const scene = this.document.createScene(doc.project.name);
		this.document.getRoot().setDefaultScene(scene);
		const top = this.choices.isZUp
			? this.document.createNode(this.names.get(TOP)!).setRotation([...Z_UP])
			: null;
		if (top) scene.addChild(top);
		const hidden = new Set<string>();
		for (const part of this.neededOf(parts)) {
			const isSwitched = clips.some(({ compiled }) => hidingOf(compiled, part, terms) !== null);
			const isSwitching = isSwitched || this.moved.has(`${part.id} visible`);
			const node = this.node(part, isSwitched);
			if (part.parent !== null) this.nodes.get(part.parent)!.addChild(node);
			else (top ?? scene).addChild(this.carried(part, node));
			const isOff = !part.visible && !isSwitching;
			if (isOff || (part.parent !== null && hidden.has(part.parent))) hidden.add(part.id);
			if (part.drawing.kind === 'camera') node.setCamera(this.camera(part, part.drawing.fieldOfView));
			if (this.choices.withDrawings) this.addDrawing(part, node, hidden.has(part.id));
			this.addNumbers(part, node);
		}
	}

	/** All parts; where there are no drawings, those that move and what they hang on. */
	private neededOf(parts: readonly Part[]): readonly Part[] {
		if (this.choices.withDrawings) return parts;
		const moved = new Set(
			this.prepared.clips.flatMap(({ encoded }) => encoded.map(({ track }) => track.part.id)),
		);
		const needed = new Set<string | null>();
		// Children come after their parents.
		for (const { id, parent } of [...parts].reverse())
			if (moved.has(id) || needed.has(id)) needed.add(id).add(parent);
		return parts.filter(({ id }) => needed.has(id));
	}

	private node(part: Part, isSwitched: boolean): GltfNode {
		const { id, rest, eulerOrder, visible } = part;
		const { factors } = this.choices;
		const turns = rotationFactors(this.prepared.doc.project.space);
		const node = this.document
			.createNode(this.prepared.partNames.get(id)!)
			.setTranslation(rest.translation.map((v, k) => v * factors[k]) as Vec3)
			.setRotation(fromEuler(rest.rotation.map((angle, k) => angle * turns[k]) as Vec3, eulerOrder))
			.setScale(visible || !isSwitched ? rest.scale : [0, 0, 0]);
		if (this.moved.has(`${id} visible`)) {
			const extension = this.document.createExtension(KHRNodeVisibility);
			node.setExtension('KHR_node_visibility', extension.createVisibility().setVisible(visible));
		}
		this.nodes.set(id, node);
		return node;
	}

	/** A part that travels hangs on a node that carries it along. */
	private carried({ id }: Part, node: GltfNode): GltfNode {
		const path = `${id} travel`;
		if (!this.moved.has(path)) return node;
		const carrier = this.document.createNode(this.names.get(path)!).addChild(node);
		this.others.set(path, carrier);
		return carrier;
	}

	private addDrawing(part: Part, node: GltfNode, isHidden: boolean): void {
		const own = (surface: Surface) => `${part.id} ${surface}`;
		const isMoved = (surface: Surface) => this.moved.has(own(surface));
		const isModel = part.drawing.kind === 'model';
		if (!isModel || !this.hasModel(part))
			this.materials.addOwn(part, isMoved, (surface) => this.names.get(own(surface))!);
		// Where its size moves its mesh is on a node below: those that hang on it do not share the scale.
		const drawing = this.moved.has(`${part.id} size`) ? this.other(part, 'size', node) : node;
		if (isHidden) return;
		const mesh = isModel ? this.model(part, drawing) : this.mesh(part);
		if (mesh) drawing.setMesh(mesh);
	}

	/** A node of a part below another. */
	private other({ id }: Pick<Part, 'id'>, path: string, above: GltfNode): GltfNode {
		const node = this.document.createNode(this.names.get(`${id} ${path}`)!);
		above.addChild(node);
		this.others.set(`${id} ${path}`, node);
		return node;
	}

	private hasModel({ drawing }: Part): boolean {
		return drawing.kind === 'model' && this.assets.has(drawing.asset);
	}

	/** Hangs a part's model below a node; a box stands for one that is not at hand. */
	private model(part: Part, above: GltfNode): GltfMesh | null {
		const { drawing, id } = part;
		const surface = `${id} colour`;
		const copied = this.models.meshOf(part, this.moved.has(surface));
		if (!copied || drawing.kind !== 'model') return this.mesh(part);
		const { mesh, centre, materials } = copied;
		if (this.moved.has(surface)) {
			const name = this.names.get(surface)!;
			materials.forEach((material, i) => material.setName(i === 0 ? name : `${name} ${i + 1}`));
			this.materials.own.set(surface, materials);
		}
		const { factors } = this.choices;
		const place = drawing.offset.map((v, k) => (v - centre[k]) * factors[k]) as Vec3;
		const isPlain = factors.every((f) => f === 1) && place.every((v) => Math.abs(v) < STILL);
		const node = isPlain ? above : this.other(part, 'model', above).setTranslation(place).setScale(factors);
		node.setMesh(mesh).setWeights([...drawing.weights, ...mesh.getWeights().slice(drawing.weights.length)]);
		this.morphed.set(id, node);
		return null;
	}

	private addNumbers({ id, numbers = [] }: Part, node: GltfNode): void {
		for (const number of numbers) {
			const path = `${id} number ${number.key}`;
			if (!this.moved.has(path)) continue;
			this.other({ id }, `number ${number.key}`, node).setTranslation([number.value, 0, 0]);
		}
	}

	private camera(part: Part, degrees: number): Camera {
		return this.document
			.createCamera(this.prepared.partNames.get(part.id)!)
			.setType('perspective')
			.setYFov((degrees * Math.PI) / 180)
			.setZNear(CAMERA_NEAR);
	}

	/** What a part looks like: its body and the line about it. */
	private mesh(part: Part): GltfMesh | null {
		const { drawing, id } = part;
		const { space } = this.prepared.doc.project;
		const body = meshOf(drawing, space, this.segmentsOf(drawing));
		const stroke = strokeMeshOf(drawing, space);
		if (!body && !stroke) return null;
		const mesh = this.document.createMesh(this.prepared.partNames.get(id)!);
		const surfaces = surfacesOf(part);
		const { factors } = this.choices;
		const add = (own: Mesh, surface: Surface) => {
			const primitive = addTriangles(this.document, this.buffer, meshWithin(own, factors));
			const picture = drawing.kind === 'image' ? this.picture(drawing.asset) : null;
			if (picture && drawing.kind === 'image') {
				const placed = welded(own).positions;
				const corners = pictureCorners(placed, drawing.size, drawing.offset, space === 'interface');
				primitive.setAttribute('TEXCOORD_0', this.pairs(corners));
				primitive.setMaterial(this.materials.pictured(part, this.prepared.partNames.get(id)!, picture));
			} else primitive.setMaterial(this.materials.of(part, surface, surfaces.get(surface)!));
			mesh.addPrimitive(primitive);
		};
		if (body) add(body, 'colour');
		if (stroke) add(stroke, 'stroke');
		return mesh;
	}

	/** Fewer sides for round bodies that are small beside the others: nobody sees their corners. */
	private segmentsOf(drawing: Part['drawing']): number {
		const share = 'size' in drawing ? Math.max(...drawing.size) / this.largest : 1;
		return share > 0.1 ? SEGMENTS : share > 0.03 ? SEGMENTS / 2 : 12;
	}

	private pairs(values: Float32Array): Accessor {
		return this.document
			.createAccessor()
			.setType('VEC2')
			.setArray(values as Float32Array<ArrayBuffer>)
			.setBuffer(this.buffer);
	}

	/** A picture as a texture; null for kinds that glTF does not have. */
	private picture(asset: string): Texture | null {
		const bytes = this.assets.get(asset);
		const mediaType = bytes && pictureType(bytes);
		if (!bytes || !mediaType) return null;
		const known = this.pictures.get(asset);
		if (known) return known;
		const texture = this.document
			.createTexture()
			.setImage(bytes as Uint8Array<ArrayBuffer>)
			.setMimeType(mediaType);
		this.pictures.set(asset, texture);
		return texture;
	}
}
