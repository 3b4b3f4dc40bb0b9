/** What of a clip's poses a file is held to: when it is looked at, and how far each target may be off. */
import { evaluateRound } from '../../player/motion';
import { ticksToSeconds } from '../../player/time';
import type { CompiledClip } from '../clip/compile';
import { piecesOver } from '../clip/trace';
import { wantedBound, type Bounds } from './bounds';

/** Times a second at which a file is compared with its clips, beside all keys. */
const LOOKS = 480;
/** A bound that no file needs to go below: a share of the largest value, and degrees. */
const LEAST_SHARE = 2 ** -21;
const LEAST_TURN = 4e-5;

/** Times at which a clip is looked at, in ticks. */
export function looksOf(compiled: CompiledClip): Float64Array {
	const { clip, channels, vectors } = compiled;
	const marks = [...channels, ...vectors].flatMap(({ channel }) =>
		piecesOver(channel, clip.length).flatMap(({ t }) => [t - 0.01, t, t + 0.01]),
	);
	const count = Math.ceil(ticksToSeconds(clip.length) * LOOKS) || 1;
	const grid = Array.from({ length: count + 1 }, (_, i) => (clip.length * i) / count);
	const all = [...marks, ...grid].filter((t) => t >= 0 && t <= clip.length);
	return Float64Array.from(new Set(all)).sort();
}

/** Of each target the range of its widest number over a clip, and its largest. */
function reachOf(compiled: CompiledClip, looks: Float64Array): { range: number; largest: number }[] {
	const { layout } = compiled;
	const pose = layout.rest.slice();
	const low = layout.rest.slice().fill(Infinity);
	const high = low.slice().fill(-Infinity);
	for (const t of looks) {
		evaluateRound(compiled, t, 0, pose);
		for (let k = 0; k < pose.length; k++) {
			low[k] = Math.min(low[k], pose[k]);
			high[k] = Math.max(high[k], pose[k]);
		}
	}
	return layout.targets.map(({ at, size }) => {
		let [range, largest] = [0, 0];
		for (let k = at; k < at + size; k++) {
			range = Math.max(range, high[k] - low[k]);
			largest = Math.max(largest, Math.abs(high[k]), Math.abs(low[k]));
		}
		return { range, largest };
	});
}

/** The bound of each target, in its own units. */
export function boundsIn(compiled: CompiledClip, looks: Float64Array, bounds: Bounds): number[] {
	const reach = reachOf(compiled, looks);
	return compiled.layout.targets.map(({ part, path, kind }, i) => {
		if (kind === 'rotation' || kind === 'angles')
			return Math.max(wantedBound(bounds, part, 'rotation', 180), LEAST_TURN);
		const { range, largest } = reach[i];
		return Math.max(wantedBound(bounds, part, path, range), LEAST_SHARE * largest, 1e-12);
	});
}
