/** Reads a written file back and measures it against the document, path by path and as world positions. */
import { WebIO } from '@gltf-transform/core';
import { compileClip } from '../../clip/compile';
import { orientationIn, vectorIn } from '../../clip/layout';
import { evaluateRound } from '../../../player/motion';
import { partsInTree, type Clip, type Doc } from '../../document/types';
import { measure } from '../../fit/measure';
import { sampleAt, type Sampler } from '../../fit/sampler';
import { compose, multiplyMatrices, type Matrix } from '../../pose/matrix';
import type { Quaternion } from '../../../player/maths/quaternion';
import { rotationFactors, translationFactors } from '../../pose/space';
import { ticksToSeconds } from '../../../player/time';
import { pathSource, type PathName } from './path';
import { nodeSamplers } from './samplers';
import { boundOf, DEFAULT_BOUNDS, type Bounds, type GltfExport } from './write';

export interface Verified {
	/** Paths whose error as read back is over their bound. */
	violations: { clip: string; part: string; path: PathName; error: number; bound: number }[];
	/** Largest error over its bound, of all paths whose errors are guaranteed: at most 1 when all is kept. */
	worstShare: number;
	/** Paths of formulas: their errors are the largest of very many places, and may be larger between them. */
	measuredOnly: number;
	/** How far a part's origin is off in the world, at most, in the project's units. */
	origin: { part: string; clip: string; error: number; seconds: number } | null;
}

const ORIGIN_SAMPLES = 240;

/** Measures the file against the clips it was written from. */
export async function verifyGltf(
	doc: Doc,
	clips: readonly Clip[],
	written: Pick<GltfExport, 'clips' | 'bytes'>,
	bounds: Bounds = DEFAULT_BOUNDS,
): Promise<Verified> {
	const document = await new WebIO().readBinary(written.bytes);
	const samplers = new Map(
		nodeSamplers(document).map((s) => [`${s.animation}\n${s.node.getName()}\n${s.path}`, s.sampler]),
	);
	const animations = document
		.getRoot()
		.listAnimations()
		.map((animation) => animation.getName());
	const tree = partsInTree(doc).map((entry) => entry.part);
	const result: Verified = { violations: [], worstShare: 0, measuredOnly: 0, origin: null };
	let animationIndex = 0;
	for (const [i, clip] of clips.entries()) {
		const report = written.clips[i];
		if (report.paths.length === 0) continue;
		const animation = animations[animationIndex++];
		const compiled = compileClip(doc, clip);
		// Nodes are written in tree order under the names of the report, so parts and reports go in step.
		const nodeOf = new Map<string, string>();
		let row = 0;
		for (const part of tree)
			for (const name of ['translation', 'rotation', 'scale'] as const) {
				const path = pathSource(doc, compiled, part, name);
				if (!path) continue;
				const node = report.paths[row++].part;
				nodeOf.set(part.id, node);
				const sampler = samplers.get(`${animation}\n${node}\n${name}`);
				const { bound, toProject } = boundOf(path, doc.project.space, bounds);
				const { error } = sampler ? measure(path.source, sampler, bound) : { error: Infinity };
				if (path.guaranteed) result.worstShare = Math.max(result.worstShare, error / bound);
				else result.measuredOnly++;
				if (!(error <= bound)) {
					result.violations.push({
						clip: clip.name,
						part: part.name,
						path: name,
						error: error * toProject,
						bound: bound * toProject,
					});
				}
			}
		measureOrigins(
			doc,
			clip,
			(partId, path) => samplers.get(`${animation}\n${nodeOf.get(partId)}\n${path}`),
			result,
		);
	}
	return result;
}

function measureOrigins(
	doc: Doc,
	clip: Clip,
	samplerOf: (partId: string, path: PathName) => Sampler | undefined,
	result: Verified,
): void {
	const compiled = compileClip(doc, clip);
	const { space } = doc.project;
	const factors = translationFactors(space);
	const turns = rotationFactors(space);
	const pose = compiled.layout.rest.slice();
	const buffer = new Float32Array(4);
	for (let i = 0; i <= ORIGIN_SAMPLES; i++) {
		// Off the frame grid on purpose: keys often stand on it.
		const ticks = Math.min(clip.length, (clip.length * (i + 0.37)) / ORIGIN_SAMPLES);
		const seconds = ticksToSeconds(ticks);
		evaluateRound(compiled, ticks, 0, pose);
		const truth: Matrix[] = [];
		const read: Matrix[] = [];
		compiled.parts.forEach((part, index) => {
			const posed = { layout: compiled.layout, pose };
			const [x, y, z, w] = orientationIn(posed, part);
			const own = {
				translation: vectorIn(posed, part, 'translation').map((v, k) => v * factors[k]),
				rotation: [x * turns[0], y * turns[1], z * turns[2], w] as Quaternion,
				scale: vectorIn(posed, part, 'scale'),
			};
			const sampled = (path: PathName, size: number): readonly number[] => {
				const sampler = samplerOf(part.id, path);
				if (!sampler) return own[path];
				sampleAt(sampler, seconds, buffer);
				return Array.from(buffer.subarray(0, size));
			};
			const parent = part.parent === null ? -1 : compiled.indexOfPart.get(part.parent)!;
			const place = (local: Matrix, world: Matrix[]) =>
				world.push(parent < 0 ? local : multiplyMatrices(world[parent], local));
			place(compose(own.translation, own.rotation, own.scale), truth);
			place(
				compose(sampled('translation', 3), sampled('rotation', 4) as Quaternion, sampled('scale', 3)),
				read,
			);
			const a = truth[index];
			const b = read[index];
			const error = Math.hypot(a[12] - b[12], a[13] - b[13], a[14] - b[14]) / Math.abs(factors[0]);
			if (error > (result.origin?.error ?? 0)) {
				result.origin = { part: part.name, clip: clip.name, error, seconds };
			}
		});
	}
}
