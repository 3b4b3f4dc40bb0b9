/** Meshes of the models that a project keeps, copied with all that they are made of into a file of its clips. */
import {
	PropertyType,
	type Accessor,
	type Buffer,
	type Document,
	type Material,
	type Mesh,
	type Primitive,
	type Property,
} from '@gltf-transform/core';
import type { Vec3 } from '../../../player/maths/vector';
import type { Part } from '../../document/types';
import { colourFactor } from './materials';
import { parseModel } from './parse';

/** A mesh in the file, and the middle of its bounds. */
export interface CopiedMesh {
	mesh: Mesh;
	centre: Vec3;
	/** Its materials, each once: those of this part alone. */
	materials: Material[];
}

type Resolve = (source: Property) => Property;

/** Gives the copies of what another document has, each made once. */
function copierOf(source: Document, target: Document, buffer: Buffer): Resolve {
	const copies = new Map<Property, Property>();
	const resolve: Resolve = (own) => {
		if (own.propertyType === PropertyType.BUFFER) return buffer;
		// The settings of a texture belong to the material that has them: they are copied in place.
		if (own.propertyType === PropertyType.TEXTURE_INFO) return own;
		const known = copies.get(own);
		if (known) return known;
		const Made = own.constructor as new (graph: unknown) => Property;
		const made = new Made(target.getGraph());
		copies.set(own, made);
		return made.copy(own, resolve as never);
	};
	for (const extension of source.getRoot().listExtensionsUsed())
		target.createExtension(extension.constructor as never);
	return resolve;
}

const POSITION = 'POSITION';

function centreOf(mesh: Mesh): Vec3 {
	const low = [Infinity, Infinity, Infinity];
	const high = [-Infinity, -Infinity, -Infinity];
	for (const primitive of mesh.listPrimitives()) {
		primitive
			.getAttribute(POSITION)
			?.getMin([])
			.forEach((v, k) => (low[k] = Math.min(low[k], v)));
		primitive
			.getAttribute(POSITION)
			?.getMax([])
			.forEach((v, k) => (high[k] = Math.max(high[k], v)));
	}
	return low.map((v, k) => (v + high[k]) / 2) as Vec3;
}

/** The colours of corners times a factor. */
function shadedBy(
	document: Document,
	buffer: Buffer,
	primitive: Primitive,
	factor: readonly number[],
): Accessor {
	const known = primitive.getAttribute('COLOR_0');
	const count = primitive.getAttribute(POSITION)!.getCount();
	const values = new Float32Array(4 * count);
	const own: number[] = [];
	for (let i = 0; i < count; i++) {
		known?.getElement(i, own);
		for (let k = 0; k < 4; k++) values[4 * i + k] = factor[k] * (known ? (own[k] ?? 1) : 1);
	}
	return document.createAccessor().setType('VEC4').setArray(values).setBuffer(buffer);
}

export class Models {
	private readonly opened = new Map<string, { document: Document; resolve: Resolve }>();

	constructor(
		private readonly document: Document,
		private readonly buffer: Buffer,
		private readonly assets: ReadonlyMap<string, Uint8Array>,
	) {}

	/** Reads the models of parts. Throws a RangeError for one that cannot be read. */
	async open(parts: readonly Part[]): Promise<void> {
		for (const { name, drawing } of parts) {
			const bytes = drawing.kind === 'model' ? this.assets.get(drawing.asset) : undefined;
			if (drawing.kind !== 'model' || !bytes || this.opened.has(drawing.asset)) continue;
			const parsed = await parseModel(bytes);
			if (!parsed.ok) throw new RangeError(`${name}: its model: ${parsed.problems[0].message}`);
			const resolve = copierOf(parsed.value, this.document, this.buffer);
			this.opened.set(drawing.asset, { document: parsed.value, resolve });
		}
	}

	/** The mesh of a part's model, tinted by the part; null where there is none. With `isOwn` a clip changes its look. */
	meshOf({ name, drawing, colour, rest: { opacity } }: Part, isOwn: boolean): CopiedMesh | null {
		const opened = drawing.kind === 'model' ? this.opened.get(drawing.asset) : undefined;
		const source =
			drawing.kind === 'model' ? opened?.document.getRoot().listMeshes()[drawing.mesh] : undefined;
		if (!opened || !source) return null;
		const tint = colourFactor(colour, opacity);
		const isTinted = isOwn || tint.some((v) => v !== 1);
		// What nothing tints is copied once, however many parts show it.
		if (!isTinted) return { mesh: opened.resolve(source) as Mesh, centre: centreOf(source), materials: [] };
		const mesh = this.document
			.createMesh(name)
			.setWeights([...source.getWeights()])
			.setExtras(source.getExtras());
		const materials = new Map<Material | null, Material>();
		for (const own of source.listPrimitives()) {
			const was = own.getMaterial();
			const material = materials.get(was) ?? this.tinted(opened.resolve, was, tint, isOwn);
			materials.set(was, material);
			const resolve: Resolve = (property) => (property === was ? material : opened.resolve(property));
			const primitive = this.document.createPrimitive().copy(own, resolve as never);
			if (isOwn) this.shade(primitive, was);
			mesh.addPrimitive(primitive.setMaterial(material));
		}
		return { mesh, centre: centreOf(source), materials: [...materials.values()] };
	}

	/** Moves the factor of what its material was into the colours of its corners, so that the material's own is free. */
	private shade(primitive: Primitive, was: Material | null): void {
		const factor = was?.getBaseColorFactor() ?? [1, 1, 1, 1];
		if (factor.every((v) => v === 1)) return;
		const before = primitive.getAttribute('COLOR_0');
		primitive.setAttribute('COLOR_0', shadedBy(this.document, this.buffer, primitive, factor));
		if (before?.listParents().every(({ propertyType }) => propertyType === PropertyType.ROOT))
			before.dispose();
	}

	private tinted(resolve: Resolve, was: Material | null, tint: readonly number[], isOwn: boolean): Material {
		const material = this.document.createMaterial();
		if (was) material.copy(was, resolve as never);
		const factor = material.getBaseColorFactor().map((v, k) => (isOwn ? 1 : v) * tint[k]);
		const fades = isOwn || tint[3] < 1;
		if (fades && material.getAlphaMode() === 'OPAQUE') material.setAlphaMode('BLEND');
		return material.setBaseColorFactor(factor as [number, number, number, number]);
	}
}
