/** What the bodies of parts are made of: triangles, the picture of a label, what a camera sees. */
import {
	BoxGeometry,
	BufferAttribute,
	BufferGeometry,
	CanvasTexture,
	EdgesGeometry,
	Float32BufferAttribute,
	MathUtils,
	Vector3,
} from 'three';
import type { Drawing } from '$core/document/types';
import type { Mesh as Triangles } from '$core/drawing/triangles';

type Labelled = Extract<Drawing, { kind: 'label' }>;

const FLAT: ReadonlySet<Drawing['kind']> = new Set(['card', 'ellipse', 'plane', 'label', 'image']);

const CAMERA_REACH = 1;
const CAMERA_ASPECT = 16 / 9;

/** Pixels of a label's picture for a unit of its part, until it is known how large it is seen. */
export const FIRST_DETAIL = 4;
const MOST_PIXELS = 2048;

/** A label in white, to be tinted by its material; `detail` is in pixels a unit. */
export function labelTexture({ text, size: box, align }: Labelled, detail: number): CanvasTexture {
	const canvas = document.createElement('canvas');
	const pixels = (length: number) => Math.max(4, Math.min(MOST_PIXELS, Math.round(length * detail)));
	canvas.width = pixels(box[0]);
	canvas.height = pixels(box[1]);
	const c = canvas.getContext('2d')!;
	c.fillStyle = '#ffffff';
	c.textAlign = align ?? 'center';
	c.textBaseline = 'middle';
	const fit = (size: number) => (c.font = `600 ${size}px Overpass, sans-serif`);
	let size = canvas.height * 0.72;
	fit(size);
	const measured = c.measureText(text).width;
	if (measured > canvas.width * 0.96) fit((size *= (canvas.width * 0.96) / measured));
	const x = { left: 0, center: canvas.width / 2, right: canvas.width }[align ?? 'center'];
	c.fillText(text, x, canvas.height / 2 + size * 0.04);
	return new CanvasTexture(canvas);
}

export function geometryOf({ positions, normals, indices, shades }: Triangles): BufferGeometry {
	const geometry = new BufferGeometry();
	geometry.setAttribute('position', new BufferAttribute(positions, 3));
	geometry.setAttribute('normal', new BufferAttribute(normals, 3));
	if (shades) {
		const colours = Float32Array.from(positions, (_, i) => shades[Math.floor(i / 3)]);
		geometry.setAttribute('color', new BufferAttribute(colours, 3));
	}
	geometry.setIndex(new BufferAttribute(indices, 1));
	return geometry;
}

/** What has no width or height has no outline: it would stand there as a line. */
export function hasWidth(drawing: Drawing): boolean {
	return !('size' in drawing) || (drawing.size[0] !== 0 && drawing.size[1] !== 0);
}

/** Whether a drawing has no depth of its own. */
export function isFlat(drawing: Drawing): boolean {
	if (drawing.kind === 'path') return drawing.depth === 0;
	return FLAT.has(drawing.kind);
}

/** A box with its front crossed out, as lines: what stands there cannot be shown. */
export function crossed(size: readonly number[], offset: readonly number[]): BufferGeometry {
	const geometry = new EdgesGeometry(new BoxGeometry(size[0], size[1], size[2]));
	const edges = geometry.getAttribute('position').array;
	const [x, y, z] = size.map((length) => length / 2);
	const cross = [-x, -y, z, x, y, z, -x, y, z, x, -y, z];
	geometry.setAttribute('position', new Float32BufferAttribute([...edges, ...cross], 3));
	return geometry.translate(offset[0], offset[1], offset[2]);
}

/** Eye, field of view and the side that is up, as lines. */
export function frustum(degrees: number): BufferGeometry {
	const h = CAMERA_REACH * Math.tan(MathUtils.degToRad(degrees / 2));
	const w = h * CAMERA_ASPECT;
	const corners = [
		[-w, h],
		[w, h],
		[w, -h],
		[-w, -h],
	].map(([x, y]) => new Vector3(x, y, -CAMERA_REACH));
	const points: Vector3[] = [];
	corners.forEach((corner, i) => points.push(new Vector3(), corner, corner, corners[(i + 1) % 4]));
	points.push(new Vector3(0, h, -CAMERA_REACH), new Vector3(0, h * 1.25, -CAMERA_REACH));
	return new BufferGeometry().setFromPoints(points);
}

/** A path that cannot be read draws nothing: the bench says what is wrong with it. */
export function safely(make: () => Triangles | null): Triangles | null {
	try {
		return make();
	} catch {
		return null;
	}
}
