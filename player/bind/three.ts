/** Shows poses on objects of a scene, such as the nodes of the glTF file that was written beside the clip file. */
import type { ReadClips } from '../file/read';

/** What is needed of an object: three.js has it, and is not needed itself. */
export interface ObjectLike {
	position: { set(x: number, y: number, z: number): unknown };
	quaternion: { set(x: number, y: number, z: number, w: number): unknown };
	scale: { set(x: number, y: number, z: number): unknown };
	visible: boolean;
}
export interface RootLike {
	getObjectByName(name: string): ObjectLike | undefined;
}

/** Pixels with y down become metres with y up, as glTF files have them. */
const METRES_A_PIXEL = 0.01;

/**
 * A function that shows a pose: give it `player.pose` after each advance. Objects are found by their parts' names; three.js
 * has spaces in names as underscores when it loads them. Allocates nothing.
 */
export function bindToObjects({ layout, space }: ReadClips, root: RootLike): (pose: Float64Array) => void {
	const [unit, flip] = space === 'world' ? [1, 1] : [METRES_A_PIXEL, -1];
	const bound = layout.targets.flatMap(({ part, path, at }) => {
		const object = root.getObjectByName(part) ?? root.getObjectByName(part.replace(/\s/g, '_'));
		return object ? [{ object, path, at }] : [];
	});
	return (pose) => {
		for (let i = 0; i < bound.length; i++) {
			const { object, path, at } = bound[i];
			if (path === 'translation')
				object.position.set(unit * pose[at], flip * unit * pose[at + 1], unit * pose[at + 2]);
			else if (path === 'rotation')
				object.quaternion.set(flip * pose[at], pose[at + 1], flip * pose[at + 2], pose[at + 3]);
			else if (path === 'scale') object.scale.set(pose[at], pose[at + 1], pose[at + 2]);
			else if (path === 'visible') object.visible = pose[at] >= 0.5;
		}
	};
}
