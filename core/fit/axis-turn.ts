/** Rotations that all turn about one axis are one number over time, their angle. */
import type { Run } from './samples';

/** An axis that all rotations of some runs share, with the angle of each sample; null where there is none. */
export interface AxisTurn {
	axis: [number, number, number];
	/** Degrees, unwrapped, run by run. */
	angles: Float64Array[];
	base: Float64Array;
}

/** Imaginary part and real part of base⁻¹ · q. */
function relative(base: Float64Array, q: Float64Array, out: Float64Array): void {
	const [ax, ay, az, aw] = [-base[0], -base[1], -base[2], base[3]];
	out[0] = aw * q[0] + ax * q[3] + ay * q[2] - az * q[1];
	out[1] = aw * q[1] - ax * q[2] + ay * q[3] + az * q[0];
	out[2] = aw * q[2] + ax * q[1] - ay * q[0] + az * q[3];
	out[3] = aw * q[3] - ax * q[0] - ay * q[1] - az * q[2];
}

/** Every way to encode the same runs asks for their axis. */
const known = new WeakMap<readonly Run[], AxisTurn | null>();

/** Finds the axis, to 1e-7 of a unit vector. */
export function oneAxis(runs: readonly Run[]): AxisTurn | null {
	let found = known.get(runs);
	if (found === undefined) known.set(runs, (found = findAxis(runs)));
	return found;
}

function findAxis(runs: readonly Run[]): AxisTurn | null {
	const base = runs[0].values.slice(0, 4);
	const r = new Float64Array(4);
	const axis: [number, number, number] = [0, 0, 0];
	let widest = 0;
	for (const { values, count } of runs)
		for (let i = 0; i < count; i++) {
			relative(base, values.subarray(4 * i, 4 * i + 4), r);
			const size = Math.sqrt(r[0] * r[0] + r[1] * r[1] + r[2] * r[2]);
			if (size > widest) {
				widest = size;
				for (let k = 0; k < 3; k++) axis[k] = r[k] / size;
			}
		}
	if (widest < 1e-9) return null;
	const angles: Float64Array[] = [];
	let previous = 0;
	for (const { values, count } of runs) {
		const list = new Float64Array(count);
		for (let i = 0; i < count; i++) {
			relative(base, values.subarray(4 * i, 4 * i + 4), r);
			const along = r[0] * axis[0] + r[1] * axis[1] + r[2] * axis[2];
			const [x, y, z] = [r[0] - along * axis[0], r[1] - along * axis[1], r[2] - along * axis[2]];
			if (Math.sqrt(x * x + y * y + z * z) > 1e-7) return null;
			const angle = (2 * Math.atan2(along, r[3]) * 180) / Math.PI;
			previous = list[i] = angle + 720 * Math.round((previous - angle) / 720);
		}
		angles.push(list);
	}
	return { axis, angles, base };
}

/** Appends the orientation at an angle. */
export function turned({ axis, base }: AxisTurn, degrees: number, out: number[]): void {
	const half = (degrees * Math.PI) / 360;
	const s = Math.sin(half);
	const [bx, by, bz, bw] = [axis[0] * s, axis[1] * s, axis[2] * s, Math.cos(half)];
	const [ax, ay, az, aw] = base;
	out.push(
		aw * bx + ax * bw + ay * bz - az * by,
		aw * by - ax * bz + ay * bw + az * bx,
		aw * bz + ax * by - ay * bx + az * bw,
		aw * bw - ax * bx - ay * by - az * bz,
	);
}
