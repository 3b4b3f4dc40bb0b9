/** The animation samplers of a glTF document, as float32 readers see them. */
import type { Accessor, Animation, AnimationSampler, Document, Node as GltfNode } from '@gltf-transform/core';
import type { Interpolation, Sampler } from '../../fit/sampler';
import { AnimationPointer, type Pointed } from './pointer';

export interface NodeSampler {
	animation: string;
	node: GltfNode;
	path: string;
	sampler: Sampler;
}
/** A sampler that moves what no node has. */
export interface PointedSampler {
	animation: string;
	to: Pointed;
	sampler: Sampler;
}

/** Numbers of an accessor, normalised integers turned to floats. */
function floats(accessor: Accessor): Float32Array {
	const size = accessor.getElementSize();
	const out = new Float32Array(accessor.getCount() * size);
	const element: number[] = [];
	for (let i = 0; i < accessor.getCount(); i++) out.set(accessor.getElement(i, element), i * size);
	return out;
}

function samplerOf(sampler: AnimationSampler | null, path: string | null): Sampler | null {
	const input = sampler?.getInput();
	const output = sampler?.getOutput();
	if (!sampler || !input || !output) return null;
	const interpolation = sampler.getInterpolation() as Interpolation;
	const plain = path === 'weights';
	// Weights are plain numbers one after the other, as many a key as the mesh has targets.
	const rows = input.getCount() * (interpolation === 'CUBICSPLINE' ? 3 : 1);
	const size = plain ? Math.floor(output.getCount() / Math.max(1, rows)) : output.getElementSize();
	return { interpolation, size, plain, times: floats(input), values: floats(output) };
}

/** The samplers of one animation, or of all. */
export function nodeSamplers(document: Document, only?: Animation): NodeSampler[] {
	const animations = only ? [only] : document.getRoot().listAnimations();
	return animations.flatMap((animation) =>
		animation.listChannels().flatMap((channel) => {
			const node = channel.getTargetNode();
			const path = channel.getTargetPath();
			const sampler = samplerOf(channel.getSampler(), path);
			return node && path && sampler ? [{ animation: animation.getName(), node, path, sampler }] : [];
		}),
	);
}

/** The samplers of one animation, or of all, that pointers lead elsewhere than to nodes. */
export function pointedSamplers(document: Document, only?: Animation): PointedSampler[] {
	const pointers = document.createExtension(AnimationPointer);
	const animations = only ? [only] : document.getRoot().listAnimations();
	return animations.flatMap((animation) =>
		animation.listChannels().flatMap((channel) => {
			const to = pointers.leadOf(channel);
			const sampler = samplerOf(channel.getSampler(), null);
			if (!to || !sampler) return [];
			return [{ animation: animation.getName(), to, sampler: { ...sampler, plain: true } }];
		}),
	);
}
