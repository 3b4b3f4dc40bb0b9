/** How far what moves in a clip gets. */
import { Box3, Matrix4 } from 'three';
import { poseAt, type CompiledClip } from '$core/clip/compile';
import { worldMatrix } from '$core/clip/path';
import { movingRoots } from './twins';

/** Moments of the clip that are looked at. */
const LOOKS = 12;

/**
 * A box about the parts that move and their children, over the whole clip, in the project's space; empty where
 * nothing moves. `boxOf` gives what is drawn of a part, in its own axes.
 */
export function reachOf(compiled: CompiledClip, boxOf: (part: string) => Box3 | null): Box3 {
	const moving = new Set(movingRoots(compiled));
	// Parents come before their children.
	for (const { id, parent } of compiled.parts) if (parent !== null && moving.has(parent)) moving.add(id);
	const boxes = [...moving].map((part) => ({ part, box: boxOf(part) }));
	const reach = new Box3();
	for (let i = 0; i <= LOOKS; i++) {
		const posed = { layout: compiled.layout, pose: poseAt(compiled, (compiled.clip.length * i) / LOOKS) };
		for (const { part, box } of boxes) {
			const world = box && worldMatrix(compiled, part, posed);
			if (world) reach.union(box.clone().applyMatrix4(new Matrix4().fromArray(world)));
		}
	}
	return reach;
}
