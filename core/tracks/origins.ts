/** How far the origins of parts are off in the world, as a file plays them. */
import { evaluateRound } from '../../player/motion';
import { ticksToSeconds } from '../../player/time';
import type { Quaternion } from '../../player/maths/quaternion';
import type { Vec3 } from '../../player/maths/vector';
import type { CompiledClip } from '../clip/compile';
import { orientationIn, vectorIn, type Posed } from '../clip/layout';
import type { Part } from '../document/types';
import { sampleAt, type Sampler } from '../fit/sampler';
import { compose, multiplyMatrices, type Matrix } from '../pose/matrix';
import { OriginWatch, type OriginErrors } from './origin-errors';
import type { Switch } from './switch';
import { hidingOf, TRACK_PATHS, type Terms, type TrackPath } from './track';
import { travelOf } from './travel';

const LOOKS = 240;

/** One part as its truth and as the file has it, each in the world at some time. */
interface Pair {
	part: Part;
	/** Of its parent, or −1. */
	parent: number;
	samplers: Partial<Record<TrackPath, Sampler>>;
	/** Whether a track moves it; others keep what they are within their parent. */
	moves: boolean;
	truth: Matrix;
	read: Matrix;
	hiding: Switch | null;
	/** Whether it is switched off, or what it hangs on is: nobody sees where it is then. */
	isOff: boolean;
	/** What the file leaves out of where it is, a round. */
	travel: Vec3 | null;
	/** Within its parent, while nothing moves it. */
	still: Matrix;
}

const buffer = new Float32Array(4);

/** Translation, rotation or scale of a part in the format's terms, from a pose. */
function valueIn(posed: Posed, part: Part, path: TrackPath, { factors }: Terms): readonly number[] {
	if (path === 'scale') return vectorIn(posed, part, 'scale');
	if (path === 'translation')
		return vectorIn(posed, part, 'translation').map((v, k) => v * factors.translation[k]);
	const [x, y, z, w] = orientationIn(posed, part);
	const turns = factors.rotation;
	return [x * turns[0], y * turns[1], z * turns[2], w];
}

function matrixOf(of: (path: TrackPath) => readonly number[]): Matrix {
	return compose(of('translation'), of('rotation') as Quaternion, of('scale'));
}

function pairsOf(
	compiled: CompiledClip,
	terms: Terms,
	samplerOf: (part: string, path: TrackPath) => Sampler | undefined,
): Pair[] {
	const { parts, indexOfPart, layout } = compiled;
	const atRest = { layout, pose: layout.rest };
	return parts.map((part) => {
		const samplers = Object.fromEntries(TRACK_PATHS.map((path) => [path, samplerOf(part.id, path)]));
		const still = matrixOf((path) => valueIn(atRest, part, path, terms));
		return {
			part,
			parent: part.parent === null ? -1 : indexOfPart.get(part.parent)!,
			samplers,
			moves: Object.values(samplers).some((sampler) => sampler !== undefined),
			truth: still,
			read: still,
			hiding: hidingOf(compiled, part, terms),
			isOff: false,
			travel: terms.inPlace ? travelOf(compiled, part) : null,
			still,
		};
	});
}

interface Moment {
	pairs: readonly Pair[];
	posed: Posed;
	terms: Terms;
	ticks: number;
	/** Of the clip. */
	length: number;
}

function placeAt(pair: Pair, { pairs, posed, terms, ticks, length }: Moment): void {
	const { part, samplers, moves, still, hiding, travel } = pair;
	const seconds = ticksToSeconds(ticks);
	const own = (path: TrackPath) => {
		const value = valueIn(posed, part, path, terms);
		if (path !== 'translation' || !travel) return value;
		return value.map((v, k) => v - (travel[k] * terms.factors.translation[k] * ticks) / length);
	};
	const sampled = (path: TrackPath): readonly number[] => {
		const sampler = samplers[path];
		if (!sampler) return own(path);
		sampleAt(sampler, seconds, buffer);
		return Array.from(buffer.subarray(0, path === 'rotation' ? 4 : 3));
	};
	const parent = pair.parent < 0 ? null : pairs[pair.parent];
	pair.isOff = parent?.isOff || (hiding !== null && !hiding.isOn(ticks));
	const truth = moves ? matrixOf(own) : still;
	const read = moves ? matrixOf(sampled) : still;
	pair.truth = parent ? multiplyMatrices(parent.truth, truth) : truth;
	pair.read = parent ? multiplyMatrices(parent.read, read) : read;
}

/** How far origins are off over a clip. */
export function originErrors(
	compiled: CompiledClip,
	terms: Terms,
	samplerOf: (part: string, path: TrackPath) => Sampler | undefined,
): OriginErrors {
	const { clip, layout } = compiled;
	const pairs = pairsOf(compiled, terms, samplerOf);
	const posed = { layout, pose: layout.rest.slice() };
	const watch = new OriginWatch(clip.name, Math.abs(terms.factors.translation[0]));
	for (let i = 0; i <= LOOKS; i++) {
		// Off the frame grid on purpose: keys often stand on it.
		const ticks = Math.min(clip.length, (clip.length * (i + 0.37)) / LOOKS);
		evaluateRound(compiled, ticks, 0, posed.pose);
		for (const pair of pairs) {
			placeAt(pair, { pairs, posed, terms, ticks, length: clip.length });
			if (!pair.isOff) watch.look(pair.part, ticksToSeconds(ticks), pair.truth, pair.read);
		}
	}
	return watch.found;
}
