/** glTF as a way for clips to leave. */
import validator from 'gltf-validator';
import type { Property } from '../../document/types';
import type { Sampler } from '../../fit/sampler';
import { rotationFactors, translationFactors } from '../../pose/space';
import type { Prepared, Shipping } from '../../tracks/ship';
import { TRACK_PATHS } from '../../tracks/track';
import { newIO } from './io';
import { ownNames } from './names';
import { ownTracksOf } from './own-tracks';
import { nodeSamplers, pointedSamplers } from './samplers';

import { writeGltf } from './write';

/** What drawings have. */
const LOOKS: readonly Property[] = ['colour', 'opacity', 'size'];

/** What the nodes, materials and cameras of a file are of: `part/path` by their names and what moves of them. */
function namesOf(prepared: Prepared) {
	const { parts, partNames } = prepared;
	const own = ownNames(prepared);
	const nodes = new Map<string, string>();
	const pointed = new Map<string, string>();
	for (const { id, numbers = [] } of parts) {
		for (const path of TRACK_PATHS) nodes.set(`${partNames.get(id)}/${path}`, `${id}/${path}`);
		nodes.set(`${own.get(`${id} size`)}/scale`, `${id}/size`);
		for (const { key } of numbers)
			nodes.set(`${own.get(`${id} number ${key}`)}/translation`, `${id}/number ${key}`);
		for (const surface of ['colour', 'stroke'])
			pointed.set(`${own.get(`${id} ${surface}`)}/material`, `${id}/${surface}`);
		pointed.set(`${partNames.get(id)}/camera`, `${id}/fieldOfView`);
	}
	return { nodes, pointed };
}

export const gltfShipping: Shipping = {
	terms: ({ project: { space } }, { curvesOnly = false } = {}) => ({
		paths: TRACK_PATHS,
		factors: {
			translation: translationFactors(space),
			rotation: rotationFactors(space),
			scale: [1, 1, 1],
		},
		hidesByScale: true,
		ownTracks: (compiled, part) => ownTracksOf(compiled, part, !curvesOnly),
		whyNot: (property) =>
			property === 'weight'
				? 'its model is not in the file'
				: curvesOnly && LOOKS.includes(property)
					? 'a file of curves only has no drawings'
					: 'glTF has nothing that could be moved so',
	}),
	write: writeGltf,
	async readBack(bytes, prepared) {
		const document = await newIO().readBinary(bytes);
		const clipOf = new Map(prepared.clips.map(({ clip, name }) => [name, clip.id]));
		const { nodes, pointed } = namesOf(prepared);
		const placed = nodeSamplers(document).flatMap(({ animation, node, path, sampler }) => {
			const own = nodes.get(`${node.getName()}/${path}`);
			return own ? [[`${clipOf.get(animation)}/${own}`, sampler] as const] : [];
		});
		const looks = pointedSamplers(document).flatMap(({ animation, to, sampler }) => {
			const name = 'material' in to ? to.material.getName() : to.camera.getName();
			const own = pointed.get(`${name}/${'material' in to ? 'material' : 'camera'}`);
			return own ? [[`${clipOf.get(animation)}/${own}`, sampler] as const] : [];
		});
		return new Map<string, Sampler>([...placed, ...looks]);
	},
	async problems(bytes) {
		const { issues } = await validator.validateBytes(bytes);
		return issues.messages
			.filter(({ severity }) => severity === 0)
			.map(({ code, message, pointer }) => `${code} at ${pointer ?? '/'}: ${message}`);
	},
};
