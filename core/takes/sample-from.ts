/** The first sample at a tick or after it; as many as there are where none is. Times rise. */
export function sampleFrom(times: ArrayLike<number>, tick: number): number {
	let [low, high] = [0, times.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if (times[middle] < tick) low = middle + 1;
		else high = middle;
	}
	return low;
}
