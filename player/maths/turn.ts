/** Turns as rotation vectors, of quaternions that lie in poses. Allocates nothing. */
import { RADIANS } from './quaternion';

/** The rotation vector that was worked out last, in degrees. */
export const turnVector = new Float64Array(3);
const other = new Float64Array(4);
const product = new Float64Array(4);

/** The product a · b of two quaternions, written into `out`, which may be either. */
function multiplyInto(
	a: Float64Array,
	aAt: number,
	b: Float64Array,
	bAt: number,
	out: Float64Array,
	at: number,
): void {
	const ax = a[aAt];
	const ay = a[aAt + 1];
	const az = a[aAt + 2];
	const aw = a[aAt + 3];
	const bx = b[bAt];
	const by = b[bAt + 1];
	const bz = b[bAt + 2];
	const bw = b[bAt + 3];
	out[at] = aw * bx + ax * bw + ay * bz - az * by;
	out[at + 1] = aw * by - ax * bz + ay * bw + az * bx;
	out[at + 2] = aw * bz + ax * by - ay * bx + az * bw;
	out[at + 3] = aw * bw - ax * bx - ay * by - az * bz;
}

/**
 * Works out the turn that leads from b to a, the short way: in the axes about them, or `inside` in those of b itself.
 */
export function between(a: Float64Array, b: Float64Array, at: number, inside = false): void {
	for (let k = 0; k < 3; k++) other[k] = -b[at + k];
	other[3] = b[at + 3];
	if (inside) multiplyInto(other, 0, a, at, product, 0);
	else multiplyInto(a, at, other, 0, product, 0);
	const x = product[0];
	const y = product[1];
	const z = product[2];
	const w = product[3];
	const sine = Math.sqrt(x * x + y * y + z * z);
	const sign = w < 0 ? -1 : 1;
	const factor = sine < 1e-12 ? 0 : (sign * 2 * Math.atan2(sine, sign * w)) / RADIANS / sine;
	for (let k = 0; k < 3; k++) turnVector[k] = product[k] * factor;
}

/** Turns the quaternion of a pose on by the vector, in the axes about it or in its own. */
export function turnBy(pose: Float64Array, at: number, inside = false): void {
	const x = turnVector[0];
	const y = turnVector[1];
	const z = turnVector[2];
	// Math.hypot would allocate.
	const angle = Math.sqrt(x * x + y * y + z * z);
	if (angle < 1e-12) return;
	const half = (angle * RADIANS) / 2;
	for (let k = 0; k < 3; k++) other[k] = (turnVector[k] * Math.sin(half)) / angle;
	other[3] = Math.cos(half);
	if (inside) multiplyInto(pose, at, other, 0, pose, at);
	else multiplyInto(other, 0, pose, at, pose, at);
}
