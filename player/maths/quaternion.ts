/** Unit quaternions as [x, y, z, w] and Euler angles in degrees, intrinsic, in all six orders. */
import type { Vec3 } from './vector';

export const EULER_ORDERS = ['XYZ', 'XZY', 'YXZ', 'YZX', 'ZXY', 'ZYX'] as const;
/** Order of intrinsic rotations. */
export type EulerOrder = (typeof EULER_ORDERS)[number];

export type Quaternion = [number, number, number, number];

export const RADIANS = Math.PI / 180;
export const DEGREES = 180 / Math.PI;

export function multiply(a: Quaternion, b: Quaternion): Quaternion {
	const [ax, ay, az, aw] = a;
	const [bx, by, bz, bw] = b;
	return [
		aw * bx + ax * bw + ay * bz - az * by,
		aw * by - ax * bz + ay * bw + az * bx,
		aw * bz + ax * by - ay * bx + az * bw,
		aw * bw - ax * bx - ay * by - az * bz,
	];
}

/** The turn back. */
export function conjugate([x, y, z, w]: Quaternion): Quaternion {
	return [-x, -y, -z, w];
}

/** The rotation vector (axis times angle) in degrees of a unit quaternion, the short way. */
export function rotationVector([x, y, z, w]: Quaternion): Vec3 {
	const sine = Math.hypot(x, y, z);
	if (sine < 1e-12) return [0, 0, 0];
	const sign = w < 0 ? -1 : 1;
	const factor = (sign * 2 * Math.atan2(sine, sign * w) * DEGREES) / sine;
	return [x * factor, y * factor, z * factor];
}

/** A turn about one axis (0, 1, 2 for x, y, z) by degrees. */
export function axisTurn(axis: number, degrees: number): Quaternion {
	const half = (degrees * RADIANS) / 2;
	const q: Quaternion = [0, 0, 0, Math.cos(half)];
	q[axis] = Math.sin(half);
	return q;
}

const AXIS_INDEX: Record<string, number> = { X: 0, Y: 1, Z: 2 };

/** Quaternion of intrinsic Euler angles in degrees: for XYZ, the product of the turns about x, y and z in that order. */
export function fromEuler(euler: ArrayLike<number>, order: EulerOrder): Quaternion {
	const [i, j, k] = [AXIS_INDEX[order[0]], AXIS_INDEX[order[1]], AXIS_INDEX[order[2]]];
	return multiply(multiply(axisTurn(i, euler[i]), axisTurn(j, euler[j])), axisTurn(k, euler[k]));
}

/** Signs of the second terms of x, y, z, w in the product of three axis turns: all that differs between the orders. */
const ORDER_SIGNS: Record<EulerOrder, readonly [number, number, number, number]> = {
	XYZ: [1, -1, 1, -1],
	YXZ: [1, -1, -1, 1],
	ZXY: [-1, 1, 1, -1],
	ZYX: [-1, 1, -1, 1],
	YZX: [1, 1, -1, -1],
	XZY: [-1, -1, 1, 1],
};

/**
 * `fromEuler` for inner loops: angles x, y, z in degrees, the quaternion written into `out` at `at`. Allocates nothing.
 */
export function eulerInto(
	x: number,
	y: number,
	z: number,
	order: EulerOrder,
	out: Float64Array,
	at = 0,
): void {
	const half = RADIANS / 2;
	// Most parts turn about one axis only.
	const sx = x === 0 ? 0 : Math.sin(x * half);
	const cx = x === 0 ? 1 : Math.cos(x * half);
	const sy = y === 0 ? 0 : Math.sin(y * half);
	const cy = y === 0 ? 1 : Math.cos(y * half);
	const sz = z === 0 ? 0 : Math.sin(z * half);
	const cz = z === 0 ? 1 : Math.cos(z * half);
	const signs = ORDER_SIGNS[order];
	out[at] = sx * cy * cz + signs[0] * cx * sy * sz;
	out[at + 1] = cx * sy * cz + signs[1] * sx * cy * sz;
	out[at + 2] = cx * cy * sz + signs[2] * sx * sy * cz;
	out[at + 3] = cx * cy * cz + signs[3] * sx * sy * sz;
}

export function rotateVector(q: Quaternion, v: Vec3): Vec3 {
	const [x, y, z, w] = q;
	const tx = 2 * (y * v[2] - z * v[1]);
	const ty = 2 * (z * v[0] - x * v[2]);
	const tz = 2 * (x * v[1] - y * v[0]);
	return [v[0] + w * tx + y * tz - z * ty, v[1] + w * ty + z * tx - x * tz, v[2] + w * tz + x * ty - y * tx];
}

/** Cosine of the middle angle below which the other two cannot be told apart. */
const SINGULAR = 1e-7;

/**
 * Euler angles in degrees of a unit quaternion. At the singularity (middle angle ±90°) the last angle is 0.
 * Source: factorisation into axis turns; all angles are arctangents of matrix elements.
 */
export function toEuler(q: Quaternion, order: EulerOrder): Vec3 {
	const [i, j, k] = [AXIS_INDEX[order[0]], AXIS_INDEX[order[1]], AXIS_INDEX[order[2]]];
	// +1 for cyclic orders (XYZ, YZX, ZXY), −1 for the others: it flips the sign of the off-diagonal elements.
	const sign = (j - i + 3) % 3 === 1 ? 1 : -1;
	const [x, y, z, w] = q;
	// The rotation matrix, row by row.
	const elements = [
		1 - 2 * (y * y + z * z),
		2 * (x * y - w * z),
		2 * (x * z + w * y),
		2 * (x * y + w * z),
		1 - 2 * (x * x + z * z),
		2 * (y * z - w * x),
		2 * (x * z - w * y),
		2 * (y * z + w * x),
		1 - 2 * (x * x + y * y),
	];
	const m = (row: number, column: number) => elements[3 * row + column];
	const result: Vec3 = [0, 0, 0];
	// An arcsine would lose half its digits near the singularity.
	const cosine = Math.sqrt(m(i, i) * m(i, i) + m(i, j) * m(i, j));
	result[j] = Math.atan2(sign * m(i, k), cosine) * DEGREES;
	if (cosine > SINGULAR) {
		result[i] = Math.atan2(-sign * m(j, k), m(k, k)) * DEGREES;
		result[k] = Math.atan2(-sign * m(i, j), m(i, i)) * DEGREES;
	} else {
		result[i] = Math.atan2(sign * m(k, j), m(j, j)) * DEGREES;
		result[k] = 0;
	}
	return result;
}

function nearestTurn(angle: number, previous: number): number {
	return angle + 360 * Math.round((previous - angle) / 360);
}

/** Of all Euler angles that mean the same orientation as `euler`, the one nearest to `previous`. Degrees. */
export function closestEuler(euler: Vec3, previous: ArrayLike<number>, order: EulerOrder): Vec3 {
	const [i, j, k] = [AXIS_INDEX[order[0]], AXIS_INDEX[order[1]], AXIS_INDEX[order[2]]];
	const flipped: Vec3 = [0, 0, 0];
	flipped[i] = euler[i] + 180;
	flipped[j] = 180 - euler[j];
	flipped[k] = euler[k] + 180;
	const candidates = [euler, flipped].map(
		(angles) => angles.map((angle, axis) => nearestTurn(angle, previous[axis])) as Vec3,
	);
	const distance = (angles: Vec3) =>
		angles.reduce((sum, angle, axis) => sum + Math.abs(angle - previous[axis]), 0);
	return distance(candidates[0]) <= distance(candidates[1]) ? candidates[0] : candidates[1];
}

/** The angle in degrees between two orientations, 0…180; the arguments need not be exactly of unit length. */
export function angleBetween(a: ArrayLike<number>, b: ArrayLike<number>): number {
	// atan2 of the relative rotation keeps small angles exact, where an arccosine of the dot product does not.
	const x = a[3] * b[0] - a[0] * b[3] - a[1] * b[2] + a[2] * b[1];
	const y = a[3] * b[1] + a[0] * b[2] - a[1] * b[3] - a[2] * b[0];
	const z = a[3] * b[2] - a[0] * b[1] + a[1] * b[0] - a[2] * b[3];
	const w = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
	const sine = Math.sqrt(x * x + y * y + z * z);
	const cosine = Math.abs(w);
	// The arctangent's series is exact to 1e-13 there, in a quarter of its time.
	if (sine < 0.02 * cosine) {
		const t = sine / cosine;
		const square = t * t;
		return 2 * t * (1 - square * (1 / 3 - square * (1 / 5 - square / 7))) * DEGREES;
	}
	return 2 * Math.atan2(sine, cosine) * DEGREES;
}

/** Spherical linear interpolation as glTF 2.0 defines it (appendix C.4): the short way. */
export function slerp(
	a: ArrayLike<number>,
	b: ArrayLike<number>,
	x: number,
	out: { [index: number]: number },
): void {
	const dot = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
	const sign = dot < 0 ? -1 : 1;
	const cosine = Math.min(1, Math.abs(dot));
	let wa = 1 - x;
	let wb = x * sign;
	if (cosine < 0.9999999) {
		const angle = Math.acos(cosine);
		const sine = Math.sin(angle);
		wa = Math.sin(angle * (1 - x)) / sine;
		wb = (sign * Math.sin(angle * x)) / sine;
	}
	for (let i = 0; i < 4; i++) out[i] = wa * a[i] + wb * b[i];
}
