/** Pale copies of a part as it was and as it will be. */
import {
	DoubleSide,
	Matrix4,
	Group,
	LineBasicMaterial,
	LineSegments,
	Mesh,
	MeshBasicMaterial,
	type BufferGeometry,
	type Material,
	type Object3D,
	type Plane,
} from 'three';
import type { PosedTree } from '$core/clip/compile';
import { drawingIn, numberIn, orientationIn, vectorIn, type Posed } from '$core/clip/layout';
import { worldMatrix } from '$core/clip/path';
import type { Part } from '$core/document/types';
import { revealWindow } from '$core/drawing/reveal';
import type { Space } from '$core/pose/space';
import type { PartBody } from './part-body';
import { planesOf } from './reveal-planes';

export interface GhostPose {
	pose: Float64Array;
	/** Whether it is before the playhead. */
	past: boolean;
	/** 0…1, how far from the playhead. */
	distance: number;
	/** Its lines alone, as the rest pose is shown. */
	outline?: boolean;
}

/** What ghosts stand in. */
interface Around {
	space: Space;
	/** Carries the root of the parts into the world. */
	root: Matrix4;
	/** What shows a part, if it is shown. */
	bodyOf: (part: string) => PartBody | null;
}

/** Puts copied parts, and what they are drawn with, where a pose has them; gives the geometry made for it. */
function placeParts(copy: Object3D, { bodyOf }: Around, tree: PosedTree, posed: Posed): BufferGeometry[] {
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

/** What parts are cut off by in a pose, with all that they hang on; null where they are seen whole. */
function cutsIn(
	tree: PosedTree,
	posed: Posed,
	{ space, root }: Around,
): (part: string | null) => Plane[] | null {
	const known = new Map<string, Plane[] | null>();
	const cutsOf = (id: string | null): Plane[] | null => {
		if (id === null) return null;
		const found = known.get(id);
		if (found !== undefined) return found;
		const index = tree.indexOfPart.get(id);
		// A version that was pinned before the part was made does not have it.
		if (index === undefined) return null;
		const part = tree.parts[index];
		const above = cutsOf(part.parent);
		const drawing = drawingIn(posed, part);
		const window = drawing.reveal && revealWindow(drawing, part.drawing, drawing.reveal, space);
		const matrix = window && worldMatrix(tree, id, posed);
		const own = matrix && planesOf(window, new Matrix4().fromArray(matrix).premultiply(root));
		const cuts = own ? [...own, ...(above ?? [])] : above;
		known.set(id, cuts);
		return cuts;
	};
	return cutsOf;
}

/** One group a ghost, to be put under the root that carries the parts. Most geometry is shared with the parts. */
export function makeGhosts(
	part: string,
	source: Group,
	tree: PosedTree,
	ghosts: readonly GhostPose[],
	colours: { past: string; coming: string },
	around: Around,
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
		const posed = { layout: tree.layout, pose };
		const copy = source.clone(true);
		const made: { dispose(): void }[] = placeParts(copy, around, tree, posed);
		const cutsOf = cutsIn(tree, posed, around);
		const dress = (object: Object3D, above: Plane[] | null) => {
			const cuts = cutsOf((object.userData.partGroup as string | undefined) ?? null) ?? above;
			const cut = <M extends Material>(own: M): M => {
				if (!cuts) return own;
				const other = own.clone();
				other.clippingPlanes = cuts;
				made.push(other);
				return other;
			};
			if (object instanceof LineSegments) {
				object.visible = outline;
				if (outline) object.material = cut(line);
			} else if (object instanceof Mesh) {
				object.material = cut(material);
				object.visible = !outline;
			}
			object.userData = {};
			for (const child of object.children) dress(child, cuts);
		};
		dress(copy, null);
		const frame = new Group();
		frame.matrixAutoUpdate = false;
		const world = parent === null ? null : worldMatrix(tree, parent, posed);
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
