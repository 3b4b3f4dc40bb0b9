/** Transforms of SVG as where a part is. Source: SVG 2, 8.5; CSS Transforms 1, 11 (decomposing a 2D matrix). */
import type { Vec3 } from '../../../player/maths/vector';
import { numbersIn } from '../xml';

/** a b c d e f of a 2D matrix. */
export type Flat = readonly [number, number, number, number, number, number];
const SAME: Flat = [1, 0, 0, 1, 0, 0];

function times([a, b, c, d, e, f]: Flat, [g, h, i, j, k, l]: Flat): Flat {
	return [a * g + c * h, b * g + d * h, a * i + c * j, b * i + d * j, a * k + c * l + e, b * k + d * l + f];
}

function called(name: string, v: readonly number[]): Flat | null {
	const turn = (degrees: number): Flat => {
		const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
		return [c, s, -s, c, 0, 0];
	};
	switch (name) {
		case 'translate':
			return [1, 0, 0, 1, v[0] ?? 0, v[1] ?? 0];
		case 'scale':
			return [v[0] ?? 1, 0, 0, v[1] ?? v[0] ?? 1, 0, 0];
		case 'rotate': {
			const [x, y] = [v[1] ?? 0, v[2] ?? 0];
			return times(times([1, 0, 0, 1, x, y], turn(v[0] ?? 0)), [1, 0, 0, 1, -x, -y]);
		}
		case 'skewX':
			return [1, 0, Math.tan(((v[0] ?? 0) * Math.PI) / 180), 1, 0, 0];
		case 'skewY':
			return [1, Math.tan(((v[0] ?? 0) * Math.PI) / 180), 0, 1, 0, 0];
		case 'matrix':
			return v.length === 6 ? (v as unknown as Flat) : null;
		default:
			return null;
	}
}

export interface Place {
	translation: Vec3;
	rotation: Vec3;
	scale: Vec3;
	/** Whether something of it could not be said. */
	isPlainer: boolean;
}

/** Where a list of transforms puts an element. */
export function placeOf(text: string): Place {
	let matrix = SAME;
	let isPlainer = false;
	for (const [, name, inside] of text.matchAll(/([a-zA-Z]+)\s*\(([^)]*)\)/g)) {
		const next = called(name, numbersIn(inside));
		if (next) matrix = times(matrix, next);
		else isPlainer = true;
	}
	const [a, b, c, d, e, f] = matrix;
	const width = Math.hypot(a, b);
	const area = a * d - b * c;
	const [angle, height] =
		width > 0 ? [Math.atan2(b, a), area / width] : [Math.atan2(-c, d), Math.hypot(c, d)];
	const slant = a * c + b * d;
	const round = (v: number) => Number(v.toFixed(9)) + 0;
	return {
		translation: [round(e), round(f), 0],
		rotation: [0, 0, round((angle * 180) / Math.PI)],
		scale: [round(width), round(height), 1],
		isPlainer: isPlainer || Math.abs(slant) > 1e-6 * Math.max(1, width * Math.abs(height)),
	};
}
