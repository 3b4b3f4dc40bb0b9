/** Meshes of glTF files that a project keeps, each file read once. */
import { Group, Mesh, type MeshStandardMaterial, type Object3D } from 'three';
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

/** A mesh of a file by its index there, free to be moved; materials are its own. */
export async function modelMesh(path: string, index: number): Promise<Object3D> {
	const { parser } = await fileAt(path);
	const made = (await parser.getDependency('mesh', index)) as Object3D;
	const copy = made.clone(true);
	// A mesh of a node keeps that node's place, which the part has itself.
	copy.position.set(0, 0, 0);
	copy.quaternion.identity();
	copy.scale.set(1, 1, 1);
	copy.traverse((object) => {
		if (!(object instanceof Mesh)) return;
		const material = (object.material as MeshStandardMaterial).clone();
		// There is nothing around that metal could mirror: it would be black.
		if ('metalness' in material) material.metalness = Math.min(material.metalness, MOST_METAL);
		object.material = material;
		// Each part has weights of its own.
		if (object.morphTargetInfluences) object.morphTargetInfluences = [...object.morphTargetInfluences];
	});
	return new Group().add(copy);
}
