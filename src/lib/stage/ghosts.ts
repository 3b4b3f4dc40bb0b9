/** Pale copies of a part as it was and as it will be. */
import {
	DoubleSide,
	Group,
	LineBasicMaterial,
	LineSegments,
	Mesh,
	MeshBasicMaterial,
	type BufferGeometry,
	type Object3D,
} from 'three';
import type { PosedTree } from '$core/clip/compile';
import { drawingIn, numberIn, orientationIn, vectorIn } from '$core/clip/layout';
import { worldMatrix } from '$core/clip/path';
import type { Part } from '$core/document/types';
import type { PartBody } from './part-body';

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
function placeParts(copy: Object3D, bodyOf: BodyOf, tree: PosedTree, pose: Float64Array): BufferGeometry[] {
	const posed = { layout: tree.layout, pose };
	const groups: { group: Object3D; part: Part }[] = [];
	copy.traverse((group) => {
		const index = tree.indexOfPart.get(group.userData.partGroup as string);
		if (index !== undefined) groups.push({ group, part: tree.parts[index] });
	});
	return groups.flatMap(({ group, part }) => {
		group.position.fromArray(vectorIn(posed, part, 'translation'));
		group.quaternion.fromArray(orientationIn(posed, part));
		group.scale.fromArray(vectorIn(posed, part, 'scale'));
		const body = bodyOf(part.id);
		const shown = group.children.find((child) => child.userData.part === part.id);
		if (!shown) return [];
		group.remove(shown);
		if (!body || numberIn(posed, part, 'visible', 'value') < 0.5) return [];
		const { group: drawn, made } = body.copyAs(drawingIn(posed, part));
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
	tree: PosedTree,
	ghosts: readonly GhostPose[],
	colours: { past: string; coming: string },
): Group {
	const all = new Group();
	const parent = tree.parts[tree.indexOfPart.get(part)!].parent;
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
		const made = placeParts(copy, bodyOf, tree, pose);
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
		const world = parent === null ? null : worldMatrix(tree, parent, { layout: tree.layout, pose });
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
