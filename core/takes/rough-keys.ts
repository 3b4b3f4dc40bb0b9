/** Keys of what was recorded, for showing it before it is cleaned. */
import type { Key } from '../curve/types';

/** Straight keys at some of the samples, `apart` ticks from each other at least: a list for each stretch without a gap. */
export function roughKeys(times: ArrayLike<number>, column: ArrayLike<number>, apart: number): Key[][] {
	const stretches: Key[][] = [];
	let keys: Key[] = [];
	for (let i = 0; i < times.length; i++) {
		const [t, v] = [times[i], column[i]];
		if (Number.isNaN(v)) keys = [];
		else {
			if (keys.length === 0) stretches.push(keys);
			const isLast = i === times.length - 1;
			if (isLast || keys.length === 0 || t - keys[keys.length - 1].t >= apart)
				keys.push({ t, v, shape: { kind: 'linear' } });
		}
	}
	return stretches;
}
