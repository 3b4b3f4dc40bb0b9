/** Keys of what a file says by samples. */
import type { Shape } from '../../../player/easing/shape';
import type { Key } from '../../curve/types';

export const LINEAR: Shape = { kind: 'linear' };
const HOLD: Shape = { kind: 'hold' };
/** How far a sample may be off the line between its neighbours, as a share of all that it goes over, to be left out. */
const ON_LINE = 1e-7;

/** Straight keys at the samples where they bend, times in ticks; within a share of the range of what they leave out. */
export function straightKeys(times: ArrayLike<number>, values: ArrayLike<number>, within = ON_LINE): Key[] {
	let [low, high] = [Infinity, -Infinity];
	for (let i = 0; i < values.length; i++) {
		low = Math.min(low, values[i]);
		high = Math.max(high, values[i]);
	}
	const room = within * (high - low);
	const kept = [0];
	/** Slopes from the last key that come near enough to every sample since. */
	let [least, most] = [-Infinity, Infinity];
	for (let i = 1; i + 1 < values.length; i++) {
		const from = kept.at(-1)!;
		const slopeTo = (sample: number, by = 0) =>
			(values[sample] + by - values[from]) / (times[sample] - times[from]);
		least = Math.max(least, slopeTo(i, -room));
		most = Math.min(most, slopeTo(i, room));
		const slope = slopeTo(i + 1);
		if (slope >= least && slope <= most) continue;
		kept.push(i);
		[least, most] = [-Infinity, Infinity];
	}
	if (values.length > 1) kept.push(values.length - 1);
	return kept.map((i) => ({ t: times[i], v: values[i], shape: LINEAR }));
}

/** A switch is held from where it changes. */
export function switchKeys(times: ArrayLike<number>, values: readonly number[]): Key[] {
	return values.flatMap((v, i): Key[] => {
		const on = Number(v >= 0.5);
		return i === 0 || on !== Number(values[i - 1] >= 0.5) ? [{ t: times[i], v: on, shape: HOLD }] : [];
	});
}
