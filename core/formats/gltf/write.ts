/** Writes clips as animations of a binary glTF 2.0 file through @gltf-transform/core. */
import type { Accessor, Animation, AnimationChannel } from '@gltf-transform/core';

import { ticksToSeconds } from '../../../player/time';
import { cuesOfClip, type Clip, type Doc, type Part } from '../../document/types';
import type { Sampler } from '../../fit/sampler';
import type { Prepared, PreparedClip, Switches } from '../../tracks/ship';
import { switchOf, type Track } from '../../tracks/track';
import { AnimationPointer } from './pointer';
import { newIO } from './io';
import { SceneWriter } from './scene';

const TYPES: Readonly<Record<number, 'SCALAR' | 'VEC3' | 'VEC4'>> = { 1: 'SCALAR', 3: 'VEC3', 4: 'VEC4' };

class AnimationWriter {
	private readonly inputs = new Map<string, Accessor>();

	constructor(private readonly scene: SceneWriter) {}

	/** Key times, shared between samplers that have the same. */
	private input(times: Float32Array): Accessor {
		const key = Array.from(times).join(' ');
		const known = this.inputs.get(key);
		if (known) return known;
		const accessor = this.scene.document
			.createAccessor()
			.setType('SCALAR')
			.setArray(times as Float32Array<ArrayBuffer>)
			.setBuffer(this.scene.buffer);
		this.inputs.set(key, accessor);
		return accessor;
	}

	addTrack(animation: Animation, track: Track, sampler: Sampler): void {
		const { document, buffer } = this.scene;
		const output = document
			.createAccessor()
			.setType(TYPES[sampler.size])
			.setArray(sampler.values as Float32Array<ArrayBuffer>)
			.setBuffer(buffer);
		const gltfSampler = document
			.createAnimationSampler()
			.setInterpolation(sampler.interpolation)
			.setInput(this.input(sampler.times))
			.setOutput(output);
		const channel = document.createAnimationChannel().setSampler(gltfSampler);
		this.aim(channel, track);
		animation.addSampler(gltfSampler).addChannel(channel);
	}

	/** Leads a channel to what its track moves. */
	private aim(channel: AnimationChannel, { part: { id }, path }: Track): void {
		const { document, nodes, drawings, numbers, surfaces } = this.scene;
		if (path === 'translation' || path === 'rotation' || path === 'scale')
			channel.setTargetNode(nodes.get(id)!).setTargetPath(path);
		else if (path === 'size') channel.setTargetNode(drawings.get(id)!).setTargetPath('scale');
		else if (path === 'colour' || path === 'stroke' || path === 'fieldOfView')
			document
				.createExtension(AnimationPointer)
				.lead(
					channel,
					path === 'fieldOfView'
						? { camera: nodes.get(id)!.getCamera()! }
						: { material: surfaces.get(`${id} ${path}`)! },
				);
		else channel.setTargetNode(numbers.get(`${id} ${path}`)!).setTargetPath('translation');
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

function extrasOf(doc: Doc, clip: Clip, nodeNames: ReadonlyMap<string, string>): Record<string, unknown> {
	const cues = cuesOfClip(doc, clip.id).map(({ name, t, payload }) => ({
		name,
		time: ticksToSeconds(t),
		payload,
	}));
	const accumulates = Object.values(doc.channels)
		.filter((channel) => channel.clip === clip.id && channel.accumulates)
		.map(({ part, property, component }) => ({ part: nodeNames.get(part), path: property, component }))
		.sort((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1));
	const { mode, count, pause } = clip.loop;
	return { hillock: { loop: { mode, count, pause: ticksToSeconds(pause) }, accumulates, cues } };
}

/** What of the parts themselves a file of plain meshes does not have. */
function plainerParts(tree: readonly Part[]): string[] {
	return tree.flatMap(({ name, drawing }) => {
		const notes: string[] = [];
		if (drawing.kind === 'model') notes.push(`${name}: its model is a box of the same size`);
		if (drawing.kind === 'image' || drawing.kind === 'label')
			notes.push(`${name}: its ${drawing.kind} is a plain card`);
		if (drawing.reveal) notes.push(`${name}: it is revealed in part, here whole`);
		return notes;
	});
}

/** Parts that some clip switches on and off. */
function hiddenParts({ parts, clips }: Prepared): string[] {
	return parts
		.filter(({ id }) => clips.some(({ compiled }) => switchOf(compiled, id)))
		.map(({ name }) => `${name}: hidden by a scale of 0, since glTF's core has no switch`);
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
	const { clip, encoded, name } = own;
	if (encoded.length === 0) return;
	const { length, loop } = clip;
	const animation = scene.document.createAnimation(name);
	animation.setExtras(extrasOf(prepared.doc, clip, prepared.partNames));
	const seconds = Math.fround(ticksToSeconds(length));
	const reaches = encoded.some(({ sampler }) => sampler.times.at(-1) === seconds);
	encoded.forEach(({ track, sampler: fitted }, i) => {
		let sampler = !reaches && i === 0 ? spanning(fitted, seconds) : fitted;
		if (loop.pause > 0 && loop.mode !== 'once' && sampler.times.length > 1)
			sampler = withPause(sampler, Math.fround(ticksToSeconds(length + loop.pause)));
		writer.addTrack(animation, track, sampler);
	});
}

/** The parts as nodes and one animation a clip. */
export async function writeGltf(
	prepared: Prepared,
	{ curvesOnly = false }: Switches,
): Promise<{ bytes: Uint8Array; plainer: string[] }> {
	const scene = new SceneWriter(prepared);
	scene.scene(!curvesOnly);
	const writer = new AnimationWriter(scene);
	for (const own of prepared.clips) writeClip(writer, scene, prepared, own);
	// A file without any numbers has no buffer: an empty one is refused by readers.
	if (scene.document.getRoot().listAccessors().length === 0) scene.buffer.dispose();
	return {
		bytes: await newIO().writeBinary(scene.document),
		plainer: [
			...(curvesOnly ? [] : plainerParts(prepared.parts)),
			...stretchedParts(prepared),
			...hiddenParts(prepared),
		],
	};
}
