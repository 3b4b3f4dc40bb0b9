/** 4×4 matrices, column-major as in glTF, of part poses. */
import type { Vec3 } from '../../player/maths/vector';
import type { Quaternion } from '../../player/maths/quaternion';

export type Matrix = Float64Array;

/** T · R · S from translation, unit quaternion and scale. */
export function compose(
	translation: ArrayLike<number>,
	rotation: Quaternion,
	scale: ArrayLike<number>,
): Matrix {
	const [x, y, z, w] = rotation;
	const m = new Float64Array(16);
	m[0] = (1 - 2 * (y * y + z * z)) * scale[0];
	m[1] = 2 * (x * y + w * z) * scale[0];
	m[2] = 2 * (x * z - w * y) * scale[0];
	m[4] = 2 * (x * y - w * z) * scale[1];
	m[5] = (1 - 2 * (x * x + z * z)) * scale[1];
	m[6] = 2 * (y * z + w * x) * scale[1];
	m[8] = 2 * (x * z + w * y) * scale[2];
	m[9] = 2 * (y * z - w * x) * scale[2];
	m[10] = (1 - 2 * (x * x + y * y)) * scale[2];
	m[12] = translation[0];
	m[13] = translation[1];
	m[14] = translation[2];
	m[15] = 1;
	return m;
}

export function multiplyMatrices(a: Matrix, b: Matrix): Matrix {
	const m = new Float64Array(16);
	for (let column = 0; column < 4; column++)
		for (let row = 0; row < 4; row++) {
			let sum = 0;
			for (let k = 0; k < 4; k++) sum += a[k * 4 + row] * b[column * 4 + k];
			m[column * 4 + row] = sum;
		}
	return m;
}

/** The inverse of an affine matrix, or null where it flattens space. */
export function invertMatrix(m: Matrix): Matrix | null {
	const [a, b, c, d, e, f, g, h, i] = [m[0], m[4], m[8], m[1], m[5], m[9], m[2], m[6], m[10]];
	const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
	const size = Math.max(...[a, b, c, d, e, f, g, h, i].map(Math.abs));
	if (Math.abs(determinant) <= 1e-12 * size ** 3) return null;
	const out = new Float64Array(16);
	const rows = [
		[e * i - f * h, c * h - b * i, b * f - c * e],
		[f * g - d * i, a * i - c * g, c * d - a * f],
		[d * h - e * g, b * g - a * h, a * e - b * d],
	];
	rows.forEach((row, r) => {
		row.forEach((v, column) => (out[column * 4 + r] = v / determinant));
		out[12 + r] = -(row[0] * m[12] + row[1] * m[13] + row[2] * m[14]) / determinant;
	});
	out[15] = 1;
	return out;
}

export interface Transform {
	translation: Vec3;
	rotation: Quaternion;
	scale: Vec3;
}

/** How far the axes of a matrix may be from square, as the cosine between them, to count as without shear. */
const SQUARE = 1e-5;

/** Translation, rotation and scale of a matrix, or null where it has shear or flattens space. */
export function decompose(m: Matrix): Transform | null {
	const axes = [0, 1, 2].map((k) => [m[4 * k], m[4 * k + 1], m[4 * k + 2]] as Vec3);
	const scale = axes.map((axis) => Math.hypot(...axis)) as Vec3;
	if (scale.some((length) => length < 1e-12)) return null;
	const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
	for (const [a, b] of [
		[0, 1],
		[0, 2],
		[1, 2],
	])
		if (Math.abs(dot(axes[a], axes[b])) > SQUARE * scale[a] * scale[b]) return null;
	const [x, y, z] = axes;
	const handed =
		x[0] * (y[1] * z[2] - y[2] * z[1]) -
		x[1] * (y[0] * z[2] - y[2] * z[0]) +
		x[2] * (y[0] * z[1] - y[1] * z[0]);
	if (handed < 0) scale[0] = -scale[0];
	const r = axes.map((axis, k) => axis.map((v) => v / scale[k]));
	return { translation: [m[12], m[13], m[14]], rotation: quaternionOf(r), scale };
}

/** The unit quaternion of a rotation given by its columns. Source: S. Shepperd, J. Guidance and Control 1 (1978). */
function quaternionOf(columns: readonly (readonly number[])[]): Quaternion {
	const [[m00, m10, m20], [m01, m11, m21], [m02, m12, m22]] = columns;
	const trace = m00 + m11 + m22;
	let q: Quaternion;
	if (trace >= Math.max(m00, m11, m22)) q = [m21 - m12, m02 - m20, m10 - m01, 1 + trace];
	else if (m00 >= Math.max(m11, m22)) q = [1 + m00 - m11 - m22, m10 + m01, m02 + m20, m21 - m12];
	else if (m11 >= m22) q = [m10 + m01, 1 + m11 - m00 - m22, m21 + m12, m02 - m20];
	else q = [m02 + m20, m21 + m12, 1 + m22 - m00 - m11, m10 - m01];
	const length = Math.hypot(...q);
	return q.map((v) => v / length) as Quaternion;
}

/** Where a matrix takes a point. */
export function transformPoint(m: Matrix, [x, y, z]: Vec3): Vec3 {
	return [0, 1, 2].map((r) => m[r] * x + m[4 + r] * y + m[8 + r] * z + m[12 + r]) as Vec3;
}
