/** The animation samplers of a glTF document, as float32 readers see them. */
import type { AnimationChannel, Document } from '@gltf-transform/core';
import type { Interpolation, Sampler } from '../../fit/sampler';

export interface NodeSampler {
	animation: string;
	node: string;
	path: string;
	sampler: Sampler;
}

/** Numbers of an accessor, normalised integers turned to floats. */
function floats(accessor: { getCount(): number; getElementSize(): number; getElement(i: number, out: number[]): number[] }): Float32Array {
	const size = accessor.getElementSize();
	const out = new Float32Array(accessor.getCount() * size);
	const element: number[] = [];
	for (let i = 0; i < accessor.getCount(); i++) out.set(accessor.getElement(i, element), i * size);
	return out;
}

function samplerOf(channel: AnimationChannel): Sampler | null {
	const sampler = channel.getSampler();
	const input = sampler?.getInput();
	const output = sampler?.getOutput();
	if (!sampler || !input || !output) return null;
	return {
		interpolation: sampler.getInterpolation() as Interpolation,
		size: output.getElementSize(),
		times: floats(input),
		values: floats(output),
	};
}

export function nodeSamplers(document: Document): NodeSampler[] {
	return document
		.getRoot()
		.listAnimations()
		.flatMap((animation) =>
			animation.listChannels().flatMap((channel) => {
				const node = channel.getTargetNode();
				const path = channel.getTargetPath();
				const sampler = samplerOf(channel);
				return node && path && sampler
					? [{ animation: animation.getName(), node: node.getName(), path, sampler }]
					: [];
			}),
		);
}
