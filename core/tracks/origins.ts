/** How far the origins of parts are off in the world, as a file plays them. */
import { evaluateRound } from '../../player/motion';
import { ticksToSeconds } from '../../player/time';
import type { Quaternion } from '../../player/maths/quaternion';
import type { CompiledClip } from '../clip/compile';
import { orientationIn, vectorIn } from '../clip/layout';
import { sampleAt, type Sampler } from '../fit/sampler';
import { compose, multiplyMatrices, type Matrix } from '../pose/matrix';
import type { OriginError } from './report';
import type { Terms, TrackPath } from './track';

const LOOKS = 240;

/** The farthest that an origin is off over a clip; null where none is off at all. */
export function worstOrigin(
	compiled: CompiledClip,
	terms: Terms,
	samplerOf: (part: string, path: TrackPath) => Sampler | undefined,
): OriginError | null {
	const { clip, parts, layout } = compiled;
	const { translation: factors, rotation: turns } = terms.factors;
	const pose = layout.rest.slice();
	const buffer = new Float32Array(4);
	let worst: OriginError | null = null;
	for (let i = 0; i <= LOOKS; i++) {
		// Off the frame grid on purpose: keys often stand on it.
		const ticks = Math.min(clip.length, (clip.length * (i + 0.37)) / LOOKS);
		const seconds = ticksToSeconds(ticks);
		evaluateRound(compiled, ticks, 0, pose);
		const truth: Matrix[] = [];
		const read: Matrix[] = [];
		for (const [index, part] of parts.entries()) {
			const posed = { layout, pose };
			const [x, y, z, w] = orientationIn(posed, part);
			const own = {
				translation: vectorIn(posed, part, 'translation').map((v, k) => v * factors[k]),
				rotation: [x * turns[0], y * turns[1], z * turns[2], w],
				scale: vectorIn(posed, part, 'scale') as readonly number[],
			};
			const sampled = (path: TrackPath): readonly number[] => {
				const sampler = samplerOf(part.id, path);
				if (!sampler) return own[path];
				sampleAt(sampler, seconds, buffer);
				return Array.from(buffer.subarray(0, own[path].length));
			};
			const parent = part.parent === null ? -1 : compiled.indexOfPart.get(part.parent)!;
			const place = (of: (path: TrackPath) => readonly number[], world: Matrix[]) => {
				const local = compose(of('translation'), of('rotation') as Quaternion, of('scale'));
				world.push(parent < 0 ? local : multiplyMatrices(world[parent], local));
			};
			place((path) => own[path], truth);
			place(sampled, read);
			const [a, b] = [truth[index], read[index]];
			const error = Math.hypot(a[12] - b[12], a[13] - b[13], a[14] - b[14]) / Math.abs(factors[0]);
			if (error > (worst?.error ?? 0)) worst = { part: part.name, clip: clip.name, error, seconds };
		}
	}
	return worst;
}
