/** 4×4 matrices, column-major as in glTF, of part poses. */
import type { EulerOrder } from '../document/types';
import { fromEuler, type Quaternion } from './quaternion';

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

/** Matrix of a part from its ten pose numbers at `at`: translation, Euler degrees, scale, opacity. */
export function poseMatrix(pose: Float64Array, at: number, order: EulerOrder): Matrix {
	return compose(
		pose.subarray(at, at + 3),
		fromEuler(pose.subarray(at + 3, at + 6), order),
		pose.subarray(at + 6, at + 9),
	);
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
