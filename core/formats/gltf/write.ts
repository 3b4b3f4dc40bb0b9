/** Writes clips as animations of a binary glTF 2.0 file through @gltf-transform/core. */
import type { Accessor, Animation, AnimationChannel, Node as GltfNode } from '@gltf-transform/core';

import { ticksToSeconds } from '../../../player/time';
import type { Part } from '../../document/types';
import type { Sampler } from '../../fit/sampler';
import type { Prepared, PreparedClip, ShipOptions, Written } from '../../tracks/ship';
import type { Track } from '../../tracks/track';
import { gltfChoices } from './choices';
import { AnimationPointer, type Pointed } from './pointer';
import { writeFiles } from './io';
import { extrasOf, motionFile } from './motion-file';
import { pictureType } from './meshes';
import { SceneWriter } from './scene';

const TYPES: Readonly<Record<number, 'SCALAR' | 'VEC3' | 'VEC4'>> = { 1: 'SCALAR', 3: 'VEC3', 4: 'VEC4' };

class AnimationWriter {
	private readonly accessors = new Map<string, Accessor>();

	constructor(private readonly scene: SceneWriter) {}

	/** Numbers of key times or values, shared between samplers that have the same. */
	private accessor(type: 'SCALAR' | 'VEC3' | 'VEC4', array: Float32Array | Uint8Array): Accessor {
		const key = `${type} ${array.BYTES_PER_ELEMENT} ${array.join(' ')}`;
		const known = this.accessors.get(key);
		if (known) return known;
		const accessor = this.scene.document
			.createAccessor()
			.setType(type)
			.setArray(array as Float32Array<ArrayBuffer>)
			.setBuffer(this.scene.buffer);
		this.accessors.set(key, accessor);
		return accessor;
	}

	addTrack(animation: Animation, track: Track, sampler: Sampler): void {
		const { document } = this.scene;
		const { path } = track;
		// A switch is a byte, whose every key holds.
		const isSwitch = path === 'visible';
		const values = path === 'weights' ? this.weights(track, sampler) : sampler.values;
		const output = this.accessor(
			path === 'weights' ? 'SCALAR' : TYPES[sampler.size],
			isSwitch ? Uint8Array.from(values) : values,
		);
		const gltfSampler = document
			.createAnimationSampler()
			.setInterpolation(isSwitch ? 'STEP' : sampler.interpolation)
			.setInput(this.accessor('SCALAR', sampler.times))
			.setOutput(output);
		animation.addSampler(gltfSampler);
		for (const aim of this.aimsOf(track)) {
			const channel = document.createAnimationChannel().setSampler(gltfSampler);
			aim(channel);
			animation.addChannel(channel);
		}
	}

	/** Weights of all targets that the mesh has: those that no channel has keep what they are. */
	private weights({ part: { id } }: Track, { size, values }: Sampler): Float32Array {
		const all = this.scene.morphed.get(id)!.getWeights();
		const count = values.length / size;
		return Float32Array.from({ length: count * all.length }, (_, i) => {
			const [row, k] = [Math.floor(i / all.length), i % all.length];
			return k < size ? values[row * size + k] : all[k];
		});
	}

	/** What leads channels to what a track moves: one, or of a model with several materials one each. */
	private aimsOf({ part: { id }, path }: Track): ((channel: AnimationChannel) => void)[] {
		const { nodes, others, morphed, materials, document } = this.scene;
		const node = nodes.get(id)!;
		const to = (target: GltfNode, own: 'translation' | 'rotation' | 'scale' | 'weights') => [
			(channel: AnimationChannel) => void channel.setTargetNode(target).setTargetPath(own),
		];
		const led = (all: readonly Pointed[]) =>
			all.map(
				(own) => (channel: AnimationChannel) => document.createExtension(AnimationPointer).lead(channel, own),
			);
		switch (path) {
			case 'translation':
			case 'rotation':
			case 'scale':
				return to(node, path);
			case 'weights':
				return to(morphed.get(id)!, path);
			case 'size':
				return to(others.get(`${id} size`)!, 'scale');
			case 'visible':
				return led([{ node }]);
			case 'fieldOfView':
				return led([{ camera: node.getCamera()! }]);
			case 'colour':
			case 'stroke':
				return led((materials.own.get(`${id} ${path}`) ?? []).map((material) => ({ material })));
			default:
				return to(others.get(`${id} ${path}`)!, 'translation');
		}
	}
}

/** A constant track that spans the clip, since glTF knows no other length than that of its keys. */
function spanning(sampler: Sampler, end: number): Sampler {
	return {
		interpolation: 'STEP',
		size: sampler.size,
		times: Float32Array.of(0, end),
		values: Float32Array.of(...sampler.values, ...sampler.values),
	};
}

/** A key at the end of a pause after the clip, the last value held. */
function withPause(sampler: Sampler, end: number): Sampler {
	const { interpolation, size } = sampler;
	const stride = interpolation === 'CUBICSPLINE' ? 3 * size : size;
	const last = sampler.values.slice(-stride);
	if (interpolation === 'CUBICSPLINE') last.fill(0, 0, size).fill(0, 2 * size);
	const values = Float32Array.of(...sampler.values, ...last);
	if (interpolation === 'CUBICSPLINE') values.fill(0, values.length - stride - size, values.length - stride);
	return { interpolation, size, times: Float32Array.of(...sampler.times, end), values };
}

/** What of the parts themselves a file of plain meshes does not have. */
function plainerParts(tree: readonly Part[], assets: ReadonlyMap<string, Uint8Array>): string[] {
	return tree.flatMap(({ name, drawing }) => {
		const notes: string[] = [];
		if (drawing.kind === 'model' && !assets.has(drawing.asset))
			notes.push(`${name}: its model is a box of the same size, since its file is not at hand`);
		if (drawing.kind === 'image' && !pictureType(assets.get(drawing.asset) ?? new Uint8Array()))
			notes.push(`${name}: its picture is a plain card: glTF has PNG and JPEG`);
		if (drawing.kind === 'label') notes.push(`${name}: its label is a plain card`);
		if (drawing.reveal) notes.push(`${name}: it is revealed in part, here whole`);
		return notes;
	});
}

/** Parts whose sizes are told by the scale of what they are drawn as. */
function stretchedParts({ parts, clips }: Prepared): string[] {
	const sized = new Set(
		clips.flatMap(({ encoded }) =>
			encoded.flatMap(({ track }) => (track.path === 'size' ? [track.part.id] : [])),
		),
	);
	return parts.flatMap(({ id, name, drawing }) =>
		sized.has(id) && drawing.kind === 'card' && drawing.radius > 0
			? [`${name}: its round corners stretch with its size`]
			: [],
	);
}

/** One animation a clip; a clip that moves nothing has none. */
function writeClip(writer: AnimationWriter, scene: SceneWriter, prepared: Prepared, own: PreparedClip): void {
	const { clip, encoded, name, end } = own;
	if (encoded.length === 0) return;
	const { loop } = clip;
	const animation = scene.document.createAnimation(name);
	const extras = extrasOf(prepared, own);
	if (extras) animation.setExtras(extras);
	const seconds = Math.fround(ticksToSeconds(end));
	const reaches = encoded.some(({ sampler }) => sampler.times.at(-1) === seconds);
	encoded.forEach(({ track, sampler: fitted }, i) => {
		let sampler = !reaches && i === 0 ? spanning(fitted, seconds) : fitted;
		if (loop.pause > 0 && loop.mode !== 'once' && sampler.times.length > 1)
			sampler = withPause(sampler, Math.fround(ticksToSeconds(end + loop.pause)));
		writer.addTrack(animation, track, sampler);
	});
}

/** The parts as nodes and one animation a clip. */
export async function writeGltf(
	prepared: Prepared,
	asked: ShipOptions,
): Promise<Written & { plainer: string[] }> {
	const choices = gltfChoices(prepared.doc, asked);
	const assets = asked.assets ?? new Map<string, Uint8Array>();
	const scene = new SceneWriter(prepared, choices, assets);
	await scene.write();
	const writer = new AnimationWriter(scene);
	for (const own of prepared.clips) writeClip(writer, scene, prepared, own);
	// A file without any numbers has no buffer: an empty one is refused by readers.
	if (scene.document.getRoot().listAccessors().length === 0) scene.buffer.dispose();
	const name = asked.name ?? 'clips';
	const { beside = [], ...file } = await writeFiles(scene.document, choices, name);
	return {
		...file,
		beside: choices.hasMotionFile ? [...beside, motionFile(prepared, name)] : beside,
		plainer: [
			...(choices.withDrawings ? plainerParts(prepared.parts, assets) : []),
			...stretchedParts(prepared),
		],
	};
}
