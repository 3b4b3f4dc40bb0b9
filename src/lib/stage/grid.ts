/** The grid of the stage, a unit wide, and the cross at its origin. */
import {
	BufferAttribute,
	BufferGeometry,
	Color,
	Group,
	LineBasicMaterial,
	LineSegments,
	type Material,
} from 'three';
import type { Space } from '$core/pose/space';
import type { ViewName } from '$lib/session/stage-look.svelte';

function lines(points: readonly number[], material: LineBasicMaterial): LineSegments {
	const geometry = new BufferGeometry();
	geometry.setAttribute('position', new BufferAttribute(Float32Array.from(points), 3));
	return new LineSegments(geometry, material);
}

/** Farther than anything on the stage, nearer than what the eye sees at most. */
const BEHIND = 3500;

export function makeGrid(view: ViewName, space: Space, colours: { contour: string; rust: string }): Group {
	const flat = space === 'interface';
	const extent = flat ? 2000 : 20;
	const step = flat ? 100 : 1;
	const points: number[] = [];
	for (let at = -extent; at <= extent; at += step)
		points.push(at, -extent, 0, at, extent, 0, -extent, at, 0, extent, at, 0);
	const squares = lines(
		points,
		new LineBasicMaterial({
			color: new Color(colours.contour),
			transparent: true,
			opacity: 0.55,
			depthWrite: false,
		}),
	);
	if (view === 'perspective' || view === 'camera' || view === 'top') squares.rotation.x = Math.PI / 2;
	// Just below ground, whose faces it would flicker in otherwise.
	if (view === 'perspective' || view === 'camera') squares.position.y = -0.01 * step;
	if (view === 'side') squares.rotation.y = Math.PI / 2;
	// Flat views look along one axis: there the grid lies behind everything.
	if (view === 'front' || view === 'screen') squares.position.z = -BEHIND;
	if (view === 'side') squares.position.x = -BEHIND;
	if (view === 'top') squares.position.y = -BEHIND;
	squares.renderOrder = -1;
	const arm = step * 0.35;
	const cross = [-arm, 0, 0, arm, 0, 0, 0, -arm, 0, 0, arm, 0, 0, 0, -arm, 0, 0, arm];
	const grid = new Group();
	grid.add(squares, lines(cross, new LineBasicMaterial({ color: new Color(colours.rust) })));
	return grid;
}

export function disposeGrid(grid: Group): void {
	for (const child of grid.children as LineSegments[]) {
		child.geometry.dispose();
		(child.material as Material).dispose();
	}
	grid.removeFromParent();
}
