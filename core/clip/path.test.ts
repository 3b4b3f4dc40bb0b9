import { Euler, Object3D } from 'three';
import { expect, it } from 'vitest';
import { makeQuay } from '../../demo/quay';
import { compileClip } from './compile';
import { rotationIn, vectorIn } from './layout';
import { shownAt } from '../testing';
import { partPath, worldMatrix } from './path';

const doc = makeQuay();
const compiled = compileClip(doc, doc.clips['crane-swing']);

it('the world place of a part hung on parts is what another library says', () => {
	const t = 20 * 2400;
	const { posed } = shownAt(doc, 'crane-swing', t);
	let parent: Object3D | null = null;
	for (const name of ['crane-post', 'crane-arm', 'rope', 'hook']) {
		const part = doc.parts[name];
		const object: Object3D = new Object3D();
		const [x, y, z] = rotationIn(posed, part).map((angle) => (angle * Math.PI) / 180);
		object.position.fromArray(vectorIn(posed, part, 'translation'));
		object.rotation.copy(new Euler(x, y, z, 'XYZ'));
		object.scale.fromArray(vectorIn(posed, part, 'scale'));
		parent?.add(object);
		parent = object;
	}
	let root = parent!;
	while (root.parent) root = root.parent;
	root.updateMatrixWorld(true);
	const ours = worldMatrix(compiled, 'hook', posed)!;
	parent!.matrixWorld.elements.forEach((v, i) => expect(ours[i]).toBeCloseTo(v, 9));
	expect([...partPath(compiled, 'hook', [t])]).toEqual([...ours.subarray(12, 15)]);
});

it('a part that is not there goes nowhere', () => {
	expect([...partPath(compiled, 'gull', [0])]).toEqual([0, 0, 0]);
});

it('the way as the parent sees it: the parents stand still, so only its own motion is left', () => {
	const drop = compileClip(doc, doc.clips['crane-swing']);
	const ticks = [0, 12, 24, 36].map((frame) => frame * 2400);
	const { posed } = shownAt(doc, 'crane-swing', 20 * 2400);
	// The hook hangs still on its rope, which the crane swings about.
	const own = [...partPath(drop, 'hook', ticks, posed.pose)];
	const world = worldMatrix(drop, 'hook', posed)!;
	ticks.forEach((_, i) => expect(own.slice(3 * i, 3 * i + 3)).toEqual([...world.subarray(12, 15)]));
	const far = [...partPath(drop, 'hook', ticks)];
	expect(Math.hypot(far[3] - far[0], far[4] - far[1])).toBeGreaterThan(0.1);
});
