/** A binary glTF file as three.js plays it. */
import { strFromU8, unzipSync } from 'fflate';
import { AnimationMixer, LoopOnce, PropertyBinding, type AnimationClip, type Object3D } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import type { CompiledClip } from '$core/clip/compile';
import { partTree } from '$core/clip/compile';
import type { Doc } from '$core/document/types';
import { gltfChoices } from '$core/formats/gltf/choices';
import { rotationFactors } from '$core/pose/space';
import { uniqueNames, type Choices } from '$core/tracks/ship';
import type { Vec3 } from '$player/maths/vector';
import type { Target } from '$player/layout';
import type { ReadClip, ReadFile } from './reader';

const THREE_PATHS: Readonly<Record<string, string>> = {
	translation: 'position',
	rotation: 'quaternion',
	scale: 'scale',
	visible: 'scale',
};

/** Paths that pointers lead to. */
const POINTED = ['colour', 'opacity', 'size', 'fieldOfView'];

/** How a file's places are those of a project. */
interface Place {
	factors: Vec3;
	turns: Vec3;
	carried: boolean;
}

/** Writes a target as its node has it, in the project's units. */
function write(
	node: Object3D,
	{ path, at }: Target,
	{ factors, turns, carried }: Place,
	pose: Float64Array,
): void {
	const { position, quaternion, scale, parent } = node;
	const put = (values: readonly number[]) => values.forEach((v, k) => (pose[at + k] = v));
	if (path === 'translation') {
		const above = carried && parent?.name.endsWith('travel') ? parent.position.toArray() : [0, 0, 0];
		put(position.toArray().map((v, k) => (v + above[k]) / factors[k]));
	} else if (path === 'rotation') put(quaternion.toArray().map((v, k) => (k < 3 ? v * turns[k] : v)));
	else if (path === 'scale') put(scale.toArray());
	else if (path === 'visible') put([scale.lengthSq() > 0 ? 1 : 0]);
}

/** Finds the nodes of parts by their names. */
function openScene({ scene, animations }: Opened, names: ReadonlyMap<string, string>) {
	const byName = new Map<string, Object3D>();
	scene.traverse((node) => byName.set((node.userData.name as string | undefined) ?? node.name, node));
	const nodes = new Map<string, Object3D>();
	for (const [part, name] of names) {
		const node = byName.get(name);
		if (node) nodes.set(part, node);
	}
	return { scene, animations, nodes, mixer: new AnimationMixer(scene) };
}

interface Opened {
	scene: Object3D;
	animations: AnimationClip[];
}

/** Text that names a file beside it, with that file in it. */
function embedded(text: string, files: ReadonlyMap<string, Uint8Array>): string {
	const json = JSON.parse(text) as { buffers?: { uri?: string }[] };
	for (const buffer of json.buffers ?? []) {
		const own = files.get(decodeURIComponent(buffer.uri ?? ''));
		if (own)
			buffer.uri = URL.createObjectURL(
				new Blob([own as Uint8Array<ArrayBuffer>], { type: 'application/octet-stream' }),
			);
	}
	return JSON.stringify(json);
}

/** All glTF files of what was written: one, or those of a zip. */
async function filesOf(file: ArrayBuffer): Promise<Opened[]> {
	const bytes = new Uint8Array(file);
	const loader = new GLTFLoader();
	if (bytes[0] !== 0x50 || bytes[1] !== 0x4b) return [await loader.parseAsync(file, '')];
	const entries = new Map(Object.entries(unzipSync(bytes)));
	const opened: Opened[] = [];
	for (const [name, content] of entries) {
		if (name.endsWith('.gltf'))
			opened.push(await loader.parseAsync(embedded(strFromU8(content), entries), ''));
		else if (name.endsWith('.glb')) opened.push(await loader.parseAsync(content.slice().buffer, ''));
	}
	return opened;
}

type Scene = ReturnType<typeof openScene>;

/** Puts a scene at a time of one of its clips. */
function seek({ mixer }: Scene, animation: AnimationClip | undefined, seconds: number): void {
	mixer.stopAllAction();
	if (!animation) return;
	const action = mixer.clipAction(animation);
	action.setLoop(LoopOnce, 1);
	action.clampWhenFinished = true;
	action.play();
	mixer.setTime(seconds);
}

export async function openGltf(
	file: ArrayBuffer,
	doc: Doc,
	clips: readonly CompiledClip[],
	choices: Choices,
): Promise<ReadFile> {
	const { factors, travel, hidesByScale } = gltfChoices(doc, choices);
	const names = uniqueNames(partTree(doc).parts);
	const clipNames = uniqueNames(clips.map(({ clip }) => clip));
	const opened = (await filesOf(file)).map((own) => openScene(own, names));
	const place: Place = {
		factors,
		turns: rotationFactors(doc.project.space),
		// What carries a part stands above it.
		carried: travel === 'above',
	};
	return {
		readBy: 'three.js',
		// It follows no pointers.
		skips: [...POINTED, ...(hidesByScale ? [] : ['visible'])],
		clipOf({ clip, layout }): ReadClip {
			// Of a clip that is alone in its file the name is its own, whatever the others are called.
			const wanted = opened.length > 1 ? clip.name : clipNames.get(clip.id);
			const named = ({ name }: AnimationClip) => name === wanted;
			const own = opened.length > 1 ? opened.find(({ animations }) => animations.some(named)) : opened[0];
			const animation = own?.animations.find(named);
			return {
				read(seconds, pose) {
					if (!own) return;
					seek(own, animation, seconds);
					for (const target of layout.targets) {
						const node = own.nodes.get(target.part);
						if (node) write(node, target, place, pose);
					}
				},
				keysOf(part, path) {
					const node = own?.nodes.get(part);
					const name = `${PropertyBinding.sanitizeNodeName(node?.name ?? '')}.${THREE_PATHS[path]}`;
					return [...(animation?.tracks.find((track) => track.name === name)?.times ?? [])];
				},
			};
		},
		close() {
			for (const { mixer, scene } of opened) {
				mixer.stopAllAction();
				mixer.uncacheRoot(scene);
			}
		},
	};
}
