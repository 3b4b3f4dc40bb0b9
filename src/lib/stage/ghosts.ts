/** Pale copies of a part as it was and as it will be. */
import {
	DoubleSide,
	Group,
	LineBasicMaterial,
	LineSegments,
	MathUtils,
	Mesh,
	MeshBasicMaterial,
	type BufferGeometry,
	type Object3D,
} from 'three';
import { drawingIn, POSE_STRIDE, slotOffset, type CompiledClip } from '$core/clip/compile';
import { worldMatrix } from '$core/clip/path';
import type { PartBody } from './part-body';

const VISIBLE = slotOffset('visible', 'value');

export interface GhostPose {
	pose: Float64Array;
	/** Whether it is before the playhead. */
	past: boolean;
	/** 0…1, how far from the playhead. */
	distance: number;
	/** Its lines alone, as the rest pose is shown. */
	outline?: boolean;
}

/** Puts copied parts, and what they are drawn with, where a pose has them; gives the geometry made for it. */
function placeParts(
	copy: Object3D,
	bodyOf: BodyOf,
	compiled: CompiledClip,
	pose: Float64Array,
): BufferGeometry[] {
	const groups: { group: Object3D; index: number }[] = [];
	copy.traverse((group) => {
		const index = compiled.indexOfPart.get(group.userData.partGroup as string);
		if (index !== undefined) groups.push({ group, index });
	});
	return groups.flatMap(({ group, index }) => {
		const part = compiled.parts[index];
		const at = index * POSE_STRIDE;
		group.position.set(pose[at], pose[at + 1], pose[at + 2]);
		group.rotation.set(
			...([3, 4, 5].map((k) => MathUtils.degToRad(pose[at + k])) as [number, number, number]),
			part.eulerOrder,
		);
		group.scale.set(pose[at + 6], pose[at + 7], pose[at + 8]);
		const body = bodyOf(part.id);
		const shown = group.children.find((child) => child.userData.part === part.id);
		if (!shown) return [];
		group.remove(shown);
		if (!body || pose[at + VISIBLE] < 0.5) return [];
		const { group: drawn, made } = body.copyAs(drawingIn(compiled, part, pose, at));
		drawn.visible = true;
		group.add(drawn);
		return made;
	});
}

/** What shows a part, if it is shown. */
type BodyOf = (part: string) => PartBody | null;

/** One group a ghost, to be put under the root that carries the parts. Most geometry is shared with the parts. */
export function makeGhosts(
	part: string,
	source: Group,
	bodyOf: BodyOf,
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
		const made = placeParts(copy, bodyOf, compiled, pose);
		copy.traverse((child) => {
			if (child instanceof LineSegments) {
				child.visible = outline;
				if (outline) child.material = line;
			} else if (child instanceof Mesh) {
				child.material = material;
				child.visible = !outline;
			}
			child.userData = {};
		});
		const frame = new Group();
		frame.matrixAutoUpdate = false;
		const world = parent === null ? null : worldMatrix(compiled, parent, pose);
		if (world) frame.matrix.fromArray(world);
		frame.add(copy);
		frame.userData.owned = [material, line, ...made];
		all.add(frame);
	}
	return all;
}

export function disposeGhosts(ghosts: Group): void {
	for (const frame of ghosts.children)
		for (const owned of frame.userData.owned as { dispose(): void }[]) owned.dispose();
	ghosts.removeFromParent();
}
