/** The loudness of a sound over time, as something to move by. */

/** Levels a second. */
export const LEVEL_RATE = 60;
/** Shares of its height that it keeps a step after it was loud: quick to rise, slow to fall. */
const FALL = 0.86;

/**
 * Root mean square of the samples about each sixtieth of a second, falling slowly, with 1 at the loudest place; silence is 0
 * all along.
 */
export function soundLevel(samples: ArrayLike<number>, sampleRate: number): Float64Array {
	const step = sampleRate / LEVEL_RATE;
	const count = Math.max(1, Math.floor(samples.length / step) + 1);
	const levels = new Float64Array(count);
	let [loudest, held] = [0, 0];
	for (let i = 0; i < count; i++) {
		const from = Math.max(0, Math.floor((i - 0.5) * step));
		const to = Math.min(samples.length, Math.ceil((i + 0.5) * step));
		let sum = 0;
		for (let k = from; k < to; k++) sum += samples[k] * samples[k];
		held = Math.max(FALL * held, Math.sqrt(sum / Math.max(1, to - from)));
		levels[i] = held;
		loudest = Math.max(loudest, held);
	}
	return loudest > 0 ? levels.map((v) => v / loudest) : levels;
}
