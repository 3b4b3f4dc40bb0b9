/** A glTF animation sampler in memory and its value as a float32 reader computes it. */

import { rotates, type RowKind } from './source';

export const INTERPOLATIONS = ['STEP', 'LINEAR', 'CUBICSPLINE'] as const;
export type Interpolation = (typeof INTERPOLATIONS)[number];

/**
 * Times in seconds, strictly increasing; `size` numbers a value. CUBICSPLINE values are triples as in glTF 2.0:
 * in-tangent, value, out-tangent, tangents a second.
 */
export interface Sampler extends RowKind {
	interpolation: Interpolation;
	times: Float32Array;
	values: Float32Array;
	/** Of each key's components, whether they are the source's own value: these are not rounded. */
	exact?: readonly boolean[];
}

export function samplerBytes(sampler: Sampler): number {
	return 4 * (sampler.times.length + sampler.values.length);
}

function normalise(out: Float32Array): void {
	const length = Math.sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2] + out[3] * out[3]) || 1;
	for (let i = 0; i < 4; i++) out[i] /= length;
}

/** Index of the last key at or before `seconds` (0 before the first); `hint` and the key after it are tried first. */
function keyBefore(times: Float32Array, seconds: number, hint: number): number {
	const count = times.length;
	if (hint < count && times[hint] <= seconds) {
		if (hint + 1 >= count || seconds < times[hint + 1]) return hint;
		if (hint + 2 >= count || seconds < times[hint + 2]) return hint + 1;
	}
	let low = 0;
	let high = count;
	while (high - low > 1) {
		const middle = (low + high) >> 1;
		if (times[middle] <= seconds) low = middle;
		else high = middle;
	}
	return low;
}

/** Spherical linear interpolation between two quaternions that lie in one array. */
function slerpWithin(values: Float32Array, a: number, b: number, u: number, out: Float32Array): void {
	const dot =
		values[a] * values[b] +
		values[a + 1] * values[b + 1] +
		values[a + 2] * values[b + 2] +
		values[a + 3] * values[b + 3];
	const sign = dot < 0 ? -1 : 1;
	const cosine = Math.min(1, Math.abs(dot));
	let wa = 1 - u;
	let wb = u * sign;
	if (cosine < 0.9999999) {
		const angle = Math.acos(cosine);
		const sine = Math.sin(angle);
		wa = Math.sin(angle * (1 - u)) / sine;
		wb = (sign * Math.sin(angle * u)) / sine;
	}
	for (let i = 0; i < 4; i++) out[i] = wa * values[a + i] + wb * values[b + i];
}

/**
 * The value at `seconds`, held before the first and after the last key, written into `out`. Gives the index of the
 * key before, to be the hint of the next call. Allocates nothing.
 * Source: glTF 2.0, appendix C (step, linear, spherical linear and cubic spline interpolation).
 */
export function sampleAt(sampler: Sampler, seconds: number, out: Float32Array, hint = 0): number {
	const { times, values, size, interpolation } = sampler;
	const cubic = interpolation === 'CUBICSPLINE';
	const stride = cubic ? 3 * size : size;
	const key = keyBefore(times, seconds, hint);
	const at = key * stride + (cubic ? size : 0);
	if (key === times.length - 1 || seconds <= times[0] || interpolation === 'STEP') {
		for (let i = 0; i < size; i++) out[i] = values[at + i];
		return key;
	}
	const next = at + stride;
	const duration = times[key + 1] - times[key];
	const u = (seconds - times[key]) / duration;
	if (!cubic) {
		if (rotates(sampler)) slerpWithin(values, at, next, u, out);
		else for (let i = 0; i < size; i++) out[i] = values[at + i] + (values[next + i] - values[at + i]) * u;
		return key;
	}
	const u2 = u * u;
	const u3 = u2 * u;
	const h0 = 2 * u3 - 3 * u2 + 1;
	const h1 = duration * (u3 - 2 * u2 + u);
	const h2 = 3 * u2 - 2 * u3;
	const h3 = duration * (u3 - u2);
	for (let i = 0; i < size; i++) {
		out[i] =
			h0 * values[at + i] + h1 * values[at + size + i] + h2 * values[next + i] + h3 * values[next - size + i];
	}
	if (rotates(sampler)) normalise(out);
	return key;
}

const scratch = new Float32Array(1);
const bits = new Uint32Array(scratch.buffer);

/** The neighbouring float32 below a positive time (0 stays 0). */
export function float32Before(time: number): number {
	scratch[0] = time;
	if (scratch[0] <= 0) return 0;
	bits[0] -= 1;
	return scratch[0];
}
