/** A binary glTF file as three.js plays it. */
import { AnimationMixer, LoopOnce, PropertyBinding, type Object3D } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import type { CompiledClip } from '$core/clip/compile';
import { partTree } from '$core/clip/compile';
import type { Doc } from '$core/document/types';
import { rotationFactors, translationFactors, type Space } from '$core/pose/space';
import { uniqueNames } from '$core/tracks/ship';
import type { Target } from '$player/layout';
import type { ReadClip, ReadFile } from './reader';

const THREE_PATHS: Readonly<Record<string, string>> = {
	translation: 'position',
	rotation: 'quaternion',
	scale: 'scale',
	visible: 'scale',
};

/** Writes a target as its node has it, in the project's units. */
function write(node: Object3D, { path, at }: Target, space: Space, pose: Float64Array): void {
	const { position, quaternion, scale } = node;
	const put = (values: readonly number[]) => values.forEach((v, k) => (pose[at + k] = v));
	if (path === 'translation') {
		const factors = translationFactors(space);
		put(position.toArray().map((v, k) => v / factors[k]));
	} else if (path === 'rotation') {
		const factors = rotationFactors(space);
		put(quaternion.toArray().map((v, k) => (k < 3 ? v * factors[k] : v)));
	} else if (path === 'scale') put(scale.toArray());
	else if (path === 'visible') put([scale.lengthSq() > 0 ? 1 : 0]);
}

export async function openGltf(
	file: ArrayBuffer,
	doc: Doc,
	clips: readonly CompiledClip[],
): Promise<ReadFile> {
	const { scene, animations } = await new GLTFLoader().parseAsync(file, '');
	const byName = new Map<string, Object3D>();
	scene.traverse((node) => byName.set((node.userData.name as string | undefined) ?? node.name, node));
	const nodes = new Map<string, Object3D>();
	for (const [part, name] of uniqueNames(partTree(doc).parts)) {
		const node = byName.get(name);
		if (node) nodes.set(part, node);
	}
	const clipNames = uniqueNames(clips.map(({ clip }) => clip));
	const mixer = new AnimationMixer(scene);
	const { space } = doc.project;

	return {
		readBy: 'three.js',
		// It follows no pointers.
		skips: ['colour', 'opacity', 'size', 'fieldOfView'],
		clipOf({ clip, layout }): ReadClip {
			const animation = animations.find(({ name }) => name === clipNames.get(clip.id));
			return {
				read(seconds, pose) {
					mixer.stopAllAction();
					if (animation) {
						const action = mixer.clipAction(animation);
						action.setLoop(LoopOnce, 1);
						action.clampWhenFinished = true;
						action.play();
						mixer.setTime(seconds);
					}
					for (const target of layout.targets) {
						const node = nodes.get(target.part);
						if (node) write(node, target, space, pose);
					}
				},
				keysOf(part, path) {
					const node = nodes.get(part);
					const name = `${PropertyBinding.sanitizeNodeName(node?.name ?? '')}.${THREE_PATHS[path]}`;
					return [...(animation?.tracks.find((track) => track.name === name)?.times ?? [])];
				},
			};
		},
		close() {
			mixer.stopAllAction();
			mixer.uncacheRoot(scene);
		},
	};
}
