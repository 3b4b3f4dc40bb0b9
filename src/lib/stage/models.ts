/** Meshes of glTF files that a project keeps, each file read once. */
import {
	Box3,
	Group,
	type Mesh,
	Vector3,
	type BufferAttribute,
	type MeshStandardMaterial,
	type Object3D,
} from 'three';
import type { GLTF } from 'three/addons/loaders/GLTFLoader.js';

const MOST_METAL = 0.2;

const files = new Map<string, Promise<GLTF>>();

/** Reads a file; a failed one is tried again the next time. */
function fileAt(path: string): Promise<GLTF> {
	const known = files.get(path);
	if (known) return known;
	// The loader is fetched with the first model.
	const read = import('three/addons/loaders/GLTFLoader.js').then(({ GLTFLoader }) =>
		new GLTFLoader().loadAsync(path),
	);
	read.catch(() => files.delete(path));
	files.set(path, read);
	return read;
}

/**
 * What is drawn of a mesh alone: the loader hangs the nodes below a mesh's node on the mesh itself, and gives it that node's
 * place.
 */
function primitivesOf({ parser }: GLTF, made: Object3D): Mesh[] {
	const own = made.children.filter((child) => parser.associations.get(child)?.nodes === undefined);
	// Lines and points have a geometry and a material as well.
	return [made, ...own].filter((object): object is Mesh => 'geometry' in object);
}

/** A mesh of a file by its index there, about the middle of its bounds; materials are its own. */
export async function modelMesh(path: string, index: number): Promise<Object3D> {
	const file = await fileAt(path);
	const made = (await file.parser.getDependency('mesh', index)) as Object3D;
	const bounds = new Box3();
	const copies = primitivesOf(file, made).map((own) => {
		const copy = own.clone(false);
		copy.position.set(0, 0, 0);
		copy.quaternion.identity();
		copy.scale.set(1, 1, 1);
		// Without what morph targets add: so the file says it too.
		bounds.union(new Box3().setFromBufferAttribute(own.geometry.getAttribute('position') as BufferAttribute));
		const material = (own.material as MeshStandardMaterial).clone();
		// There is nothing around that metal could mirror: it would be black.
		if ('metalness' in material) material.metalness = Math.min(material.metalness, MOST_METAL);
		copy.material = material;
		// Each part has weights of its own.
		if (own.morphTargetInfluences) copy.morphTargetInfluences = [...own.morphTargetInfluences];
		return copy;
	});
	const centre = bounds.getCenter(new Vector3());
	for (const copy of copies) copy.position.sub(centre);
	return new Group().add(...copies);
}
