/** Keys of a sampler as a fit puts them one after the other, and which of their numbers are exact. */
import type { Interpolation, Sampler } from './sampler';

export class Keys {
	private readonly times: number[] = [];
	private readonly values: number[] = [];
	private readonly exact: boolean[] = [];

	constructor(
		private readonly size: number,
		private readonly interpolation: Interpolation,
	) {}

	get count(): number {
		return this.times.length;
	}

	/** Puts a key; `exact` says of each component whether its value is the source's own, null that all are. */
	put(time: number, value: ArrayLike<number>, exact: readonly boolean[] | null): void {
		this.times.push(time);
		for (let k = 0; k < this.size; k++) {
			this.values.push(value[k]);
			this.exact.push(exact === null || exact[k]);
		}
	}

	/** Puts a cubic key: tangents a second. */
	putCubic(
		time: number,
		into: ArrayLike<number>,
		value: ArrayLike<number>,
		out: ArrayLike<number>,
		exact: readonly boolean[] | null,
	): void {
		this.times.push(time);
		const { size, values } = this;
		for (let k = 0; k < size; k++) values.push(into[k]);
		for (let k = 0; k < size; k++) values.push(value[k]);
		for (let k = 0; k < size; k++) values.push(out[k]);
		for (let k = 0; k < size; k++) this.exact.push(exact === null || exact[k]);
	}

	sampler(): Sampler {
		const { interpolation, size } = this;
		return {
			interpolation,
			size,
			times: Float32Array.from(this.times),
			values: Float32Array.from(this.values),
			exact: this.exact,
		};
	}
}
