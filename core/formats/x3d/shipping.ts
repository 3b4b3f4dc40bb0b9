/** X3D as a way for clips to leave. */
import { strFromU8 } from 'fflate';
import { ticksToSeconds } from '../../../player/time';
import type { Sampler } from '../../fit/sampler';
import { rotationFactors, translationFactors } from '../../pose/space';
import { MOST_ROUNDS } from '../../tracks/rounds';
import type { Prepared, Shipping } from '../../tracks/ship';
import { TRACK_PATHS } from '../../tracks/track';
import { numbersIn, readXml, type Element } from '../xml';
import { defsOf } from './defs';
import { interpolatorSampler, isInterpolator, nodesOf } from './interpolators';
import { x3dTracksOf } from './own-tracks';
import { writeX3d } from './write';

/** The scene of a file that was written. Throws where it cannot be read. */
function sceneOf(bytes: Uint8Array): Element {
	const read = readXml(strFromU8(bytes), 'X3D');
	if (!read.ok) throw new RangeError(read.problems[0].message);
	return read.value;
}

function lastOf({ clip, end }: Prepared['clips'][number]): number {
	return ticksToSeconds(end + (clip.loop.mode !== 'once' && clip.loop.count === null ? clip.loop.pause : 0));
}

export const x3dShipping: Shipping = {
	terms({ project: { space } }) {
		return {
			paths: TRACK_PATHS,
			factors: { translation: translationFactors(space), rotation: rotationFactors(space), scale: [1, 1, 1] },
			hidesByScale: true,
			encoding: { kind: 'linear' },
			// A time sensor goes round for ever or once, and never back.
			rounds: ({ loop: { mode, count } }) => Math.min(MOST_ROUNDS, count ?? (mode === 'alternate' ? 2 : 1)),
			ownTracks: x3dTracksOf,
			whyNot: () => 'X3D has nothing that could be moved so',
		};
	},
	write: writeX3d,
	async readBack({ bytes }, prepared) {
		const defs = defsOf(prepared);
		const nodes = new Map(nodesOf(sceneOf(bytes)).map((node) => [node.attributes.DEF ?? '', node]));
		return new Map<string, Sampler>(
			prepared.clips.flatMap((own) =>
				own.encoded.flatMap(({ track }) => {
					const node = nodes.get(defs.track(track.id));
					return node && isInterpolator(node)
						? [[track.id, interpolatorSampler(node, lastOf(own))] as const]
						: [];
				}),
			),
		);
	},
	async problems({ bytes }) {
		const nodes = nodesOf(sceneOf(bytes));
		const defs = nodes.flatMap(({ attributes: { DEF } }) => (DEF === undefined ? [] : [DEF]));
		const known = new Set(defs);
		const routes = nodes
			.filter(({ tag }) => tag === 'ROUTE')
			.flatMap(({ attributes: own }) => [own.fromNode, own.toNode]);
		return [
			...(known.size < defs.length ? ['two nodes have one name'] : []),
			...routes.filter((name) => !known.has(name)).map((name) => `a route leads to “${name}”, which is none`),
			...nodes
				.filter(isInterpolator)
				.filter(({ attributes: { key = '' } }) =>
					numbersIn(key).some((v, i, all) => v < (all[i - 1] ?? 0) || v > 1),
				)
				.map(({ attributes: { DEF } }) => `the keys of ${DEF} are not in order`),
		];
	},
};
