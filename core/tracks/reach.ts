import type { Source } from '../fit/source';

/** Range of the widest of some numbers over a clip, and the largest of them. */
export function reachOf(
	read: (t: number, out: Float64Array) => void,
	size: number,
	{ end, pieces }: Pick<Source, 'end' | 'pieces'>,
): { range: number; largest: number } {
	const values = new Float64Array(size);
	const low = new Float64Array(size).fill(Infinity);
	const high = new Float64Array(size).fill(-Infinity);
	const grid = Array.from({ length: 257 }, (_, i) => (end * i) / 256);
	for (const t of [...grid, ...pieces.map((p) => p.t)]) {
		read(t, values);
		values.forEach((v, i) => {
			low[i] = Math.min(low[i], v);
			high[i] = Math.max(high[i], v);
		});
	}
	return {
		range: Math.max(...high.map((h, i) => h - low[i])),
		largest: Math.max(...high.map(Math.abs), ...low.map(Math.abs)),
	};
}
