/** What parts that are revealed in part are cut off by. */
import { Plane, Vector3, type Matrix4 } from 'three';
import type { RevealWindow } from '$core/drawing/reveal';

/** So far away that a side of a window hides nothing: the number of planes stays the same while it opens. */
const AFAR = 1e9;

/** The four sides of a window in a part's own axes, in the world; `matrix` carries the part there. */
export function planesOf({ low, high }: RevealWindow, matrix: Matrix4): Plane[] {
	const far = (v: number) => Math.min(AFAR, Math.max(-AFAR, v));
	return [
		new Plane(new Vector3(1, 0, 0), -far(low[0])),
		new Plane(new Vector3(-1, 0, 0), far(high[0])),
		new Plane(new Vector3(0, 1, 0), -far(low[1])),
		new Plane(new Vector3(0, -1, 0), far(high[1])),
	].map((plane) => plane.applyMatrix4(matrix));
}
