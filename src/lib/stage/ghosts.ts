/** Pale copies of a part as it was and as it will be. */
import {
	DoubleSide,
	Group,
	LineBasicMaterial,
	LineSegments,
	MathUtils,
	Mesh,
	MeshBasicMaterial,
	type Material,
	type Object3D,
} from 'three';
import { POSE_STRIDE, type CompiledClip } from '$core/clip/compile';
import { worldMatrix } from '$core/pose/path';

export interface GhostPose {
	pose: Float64Array;
	/** Whether it is before the playhead. */
	past: boolean;
	/** 0…1, how far from the playhead. */
	distance: number;
	/** Its lines alone, as the rest pose is shown. */
	outline?: boolean;
}

function placeParts(object: Object3D, compiled: CompiledClip, pose: Float64Array): void {
	object.traverse((child) => {
		const index = compiled.indexOfPart.get(child.userData.ghostOf as string);
		if (index === undefined) return;
		const at = index * POSE_STRIDE;
		child.position.set(pose[at], pose[at + 1], pose[at + 2]);
		child.rotation.set(
			...([3, 4, 5].map((k) => MathUtils.degToRad(pose[at + k])) as [number, number, number]),
			compiled.parts[index].eulerOrder,
		);
		child.scale.set(pose[at + 6], pose[at + 7], pose[at + 8]);
	});
}

/** One group a ghost, to be put under the root that carries the parts. Geometry is shared with the part itself. */
export function makeGhosts(
	part: string,
	source: Group,
	compiled: CompiledClip,
	ghosts: readonly GhostPose[],
	colours: { past: string; coming: string },
): Group {
	const all = new Group();
	const parent = compiled.parts[compiled.indexOfPart.get(part)!].parent;
	for (const { pose, past, distance, outline = false } of ghosts) {
		const material = new MeshBasicMaterial({
			color: past ? colours.past : colours.coming,
			transparent: true,
			opacity: 0.3 * (1 - 0.6 * distance),
			depthWrite: false,
			side: DoubleSide,
		});
		const line = new LineBasicMaterial({ color: colours.past, transparent: true, opacity: 0.9 });
		const copy = source.clone(true);
		copy.traverse((child) => {
			if (child instanceof LineSegments) {
				child.visible = outline;
				if (outline) child.material = line;
			} else if (child instanceof Mesh) {
				child.material = material;
				child.visible = !outline;
			}
			child.userData = { ghostOf: child.userData.partGroup as string | undefined };
		});
		placeParts(copy, compiled, pose);
		const frame = new Group();
		frame.matrixAutoUpdate = false;
		const world = parent === null ? null : worldMatrix(compiled, parent, pose);
		if (world) frame.matrix.fromArray(world);
		frame.add(copy);
		frame.userData.materials = [material, line];
		all.add(frame);
	}
	return all;
}

export function disposeGhosts(ghosts: Group): void {
	for (const frame of ghosts.children)
		for (const material of frame.userData.materials as Material[]) material.dispose();
	ghosts.removeFromParent();
}
