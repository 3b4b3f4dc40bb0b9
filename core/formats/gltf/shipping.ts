/** glTF as a way for clips to leave. */
import { WebIO } from '@gltf-transform/core';
import validator from 'gltf-validator';
import type { Sampler } from '../../fit/sampler';
import { rotationFactors, translationFactors } from '../../pose/space';
import type { Shipping } from '../../tracks/ship';
import { TRACK_PATHS } from '../../tracks/track';
import { nodeSamplers } from './samplers';
import { writeGltf } from './write';

export const gltfShipping: Shipping = {
	terms: ({ project: { space } }) => ({
		paths: TRACK_PATHS,
		factors: {
			translation: translationFactors(space),
			rotation: rotationFactors(space),
			scale: [1, 1, 1],
		},
		hidesByScale: true,
		whyNot: (property) =>
			property === 'weight' ? 'its model is not in the file' : "glTF's core animates no such thing",
	}),
	write: writeGltf,
	async readBack(bytes, { clips, partNames }) {
		const document = await new WebIO().readBinary(bytes);
		const clipOf = new Map(clips.map(({ clip, name }) => [name, clip.id]));
		const partOf = new Map([...partNames].map(([id, name]) => [name, id]));
		return new Map(
			nodeSamplers(document).map(({ animation, node, path, sampler }): [string, Sampler] => [
				`${clipOf.get(animation)}/${partOf.get(node.getName())}/${path}`,
				sampler,
			]),
		);
	},
	async problems(bytes) {
		const { issues } = await validator.validateBytes(bytes);
		return issues.messages
			.filter(({ severity }) => severity === 0)
			.map(({ code, message, pointer }) => `${code} at ${pointer ?? '/'}: ${message}`);
	},
};
