/** glTF as a way for clips to leave. */
import validator from 'gltf-validator';
import type { Part, Property } from '../../document/types';
import type { Sampler } from '../../fit/sampler';
import { rotationFactors } from '../../pose/space';
import type { Prepared, Shipping } from '../../tracks/ship';
import { TRACK_PATHS } from '../../tracks/track';
import { gltfChoices } from './choices';
import { readWritten } from './io';
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
		nodes.set(`${own.get(`${id} travel`)}/translation`, `${id}/travel`);
		for (const node of [partNames.get(id), own.get(`${id} size`), own.get(`${id} model`)])
			nodes.set(`${node}/weights`, `${id}/weights`);
		for (const { key } of numbers)
			nodes.set(`${own.get(`${id} number ${key}`)}/translation`, `${id}/number ${key}`);
		for (const surface of ['colour', 'stroke'])
			pointed.set(`${own.get(`${id} ${surface}`)}/material`, `${id}/${surface}`);
		pointed.set(`${partNames.get(id)}/camera`, `${id}/fieldOfView`);
		pointed.set(`${partNames.get(id)}/node`, `${id}/visible`);
	}
	return { nodes, pointed };
}

/** Of the weights of all that a mesh has, those that a part has: its first. */
function ofTargets(sampler: Sampler, path: string, { drawing }: Part): Sampler {
	if (path !== 'weights' || drawing.kind !== 'model') return sampler;
	const { size, values } = sampler;
	const own = drawing.weights.length;
	const kept = Float32Array.from(values.filter((_, i) => i % size < own));
	return { ...sampler, size: own, values: kept };
}

export const gltfShipping: Shipping = {
	terms(doc, asked = {}) {
		const choices = gltfChoices(doc, asked);
		const { factors, travel, encoding, rounds, hidesByScale, fadesByScale, withDrawings } = choices;
		return {
			paths: TRACK_PATHS,
			factors: { translation: factors, rotation: rotationFactors(doc.project.space), scale: [1, 1, 1] },
			hidesByScale,
			fadesByScale,
			inPlace: travel !== 'kept',
			encoding,
			rounds: () => rounds,
			ownTracks: (compiled, part) => {
				const { drawing } = part;
				const hasModel = drawing.kind === 'model' && (asked.assets?.has(drawing.asset) ?? false);
				return ownTracksOf(compiled, part, choices, hasModel);
			},
			whyNot: (property) =>
				property === 'weight'
					? withDrawings
						? 'its model is not at hand'
						: 'a file of curves only has no meshes'
					: !withDrawings && LOOKS.includes(property)
						? 'a file of curves only has no drawings'
						: 'glTF has nothing that could be moved so',
		};
	},
	write: writeGltf,
	async readBack(written, prepared) {
		const document = await readWritten(written);
		const clipOf = new Map(prepared.clips.map(({ clip, name }) => [name, clip.id]));
		const { nodes, pointed } = namesOf(prepared);
		const placed = nodeSamplers(document).flatMap(({ animation, node, path, sampler }) => {
			const own = nodes.get(`${node.getName()}/${path}`);
			if (!own) return [];
			const part = prepared.doc.parts[own.split('/')[0]];
			return [[`${clipOf.get(animation)}/${own}`, ofTargets(sampler, path, part)] as const];
		});
		const looks = pointedSamplers(document).flatMap(({ animation, to, sampler }) => {
			const [[kind, property]] = Object.entries(to);
			const own = pointed.get(`${property.getName()}/${kind}`);
			return own ? [[`${clipOf.get(animation)}/${own}`, sampler] as const] : [];
		});
		return new Map<string, Sampler>([...placed, ...looks]);
	},
	async problems({ bytes, beside = [] }) {
		const { issues } = await validator.validateBytes(bytes, {
			externalResourceFunction: async (uri) =>
				beside.find(({ name }) => encodeURIComponent(name) === uri || name === uri)!.bytes,
		});
		return issues.messages
			.filter(({ severity }) => severity === 0)
			.map(({ code, message, pointer }) => `${code} at ${pointer ?? '/'}: ${message}`);
	},
};
