/** Which axis of something looks at the eye. */
import { Vector3, type Object3D } from 'three';

export interface FacingAxis {
	axis: 0 | 1 | 2;
	/** −1 where turning about it looks reversed. */
	sign: 1 | -1;
}

/** The axis that looks most towards the eye; `eye` points there. */
export function facingAxisOf({ matrixWorld }: Object3D, eye: Vector3): FacingAxis {
	let axis: 0 | 1 | 2 = 2;
	let best = 0;
	for (const candidate of [0, 1, 2] as const) {
		const direction = new Vector3().setFromMatrixColumn(matrixWorld, candidate).normalize();
		const towards = direction.dot(eye);
		if (Math.abs(towards) > Math.abs(best) + 1e-6) {
			best = towards;
			axis = candidate;
		}
	}
	const mirrored = matrixWorld.determinant() < 0 ? -1 : 1;
	return { axis, sign: Math.sign(best * mirrored) < 0 ? -1 : 1 };
}
