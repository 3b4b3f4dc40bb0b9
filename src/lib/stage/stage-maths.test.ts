/** Where the stage puts things and how its eye looks at them, without a picture being drawn. */
import { Box3, Group, OrthographicCamera, Vector3 } from 'three';
import { describe, expect, it, vi } from 'vitest';
import { partsInTree } from '$core/document/types';
import { shownAt } from '$core/testing';
import { worldMatrix } from '$core/clip/path';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { makeQuay } from '../../../demo/quay';
import { PartNodes } from './part-nodes';
import { StageEye } from './stage-eye';

/** All that the orbit controls want of a canvas. */
const canvas = {
	style: {},
	addEventListener: () => {},
	removeEventListener: () => {},
	getRootNode: () => canvas,
	ownerDocument: { addEventListener: () => {}, removeEventListener: () => {} },
} as unknown as HTMLCanvasElement;

function eyeOf(view: 'front' | 'side' | 'top' | 'perspective', width: number, height: number): StageEye {
	const eye = new StageEye(canvas, () => {});
	eye.resize(width, height);
	eye.setView(view);
	return eye;
}
/** Where a place is in the picture: −1…1 across and up. */
function placeIn({ camera }: StageEye, place: Vector3): Vector3 {
	camera.updateMatrixWorld();
	return place.clone().project(camera);
}
const BOX = new Box3(new Vector3(-3, 0, -2), new Vector3(5, 4, 1));
const corners = [0, 1, 2, 3, 4, 5, 6, 7].map(
	(i) =>
		new Vector3(i & 1 ? BOX.max.x : BOX.min.x, i & 2 ? BOX.max.y : BOX.min.y, i & 4 ? BOX.max.z : BOX.min.z),
);

describe('the eye', () => {
	it.each([
		['front', 800, 300],
		['front', 300, 800],
		['side', 640, 480],
		['top', 640, 480],
		['perspective', 640, 480],
	] as const)('brings a whole box into the picture: %s, %i by %i', (view, width, height) => {
		const eye = eyeOf(view, width, height);
		eye.frame(BOX);
		const seen = corners.map((corner) => placeIn(eye, corner));
		for (const { x, y } of seen) expect(Math.max(Math.abs(x), Math.abs(y))).toBeLessThan(1);
		// It fills the picture in one direction, less what lies under the bar.
		const reach = Math.max(...seen.flatMap(({ x, y }) => [Math.abs(x), Math.abs(y)]));
		expect(reach).toBeGreaterThan(view === 'perspective' ? 0.4 : 0.75);
	});

	it('looks from where its view says: the front has x to the right and y up, the top has −z up', () => {
		const apart = (view: 'front' | 'side' | 'top', step: Vector3) => {
			const eye = eyeOf(view, 400, 400);
			eye.frame(BOX);
			const from = placeIn(eye, new Vector3());
			return placeIn(eye, step).sub(from);
		};
		expect(apart('front', new Vector3(1, 0, 0)).x).toBeGreaterThan(0.05);
		expect(apart('front', new Vector3(0, 1, 0)).y).toBeGreaterThan(0.05);
		expect(apart('side', new Vector3(0, 0, -1)).x).toBeGreaterThan(0.05);
		expect(apart('top', new Vector3(0, 0, -1)).y).toBeGreaterThan(0.05);
	});

	it('keeps what it shows across when it gets wider, and looks through a camera as that sees', () => {
		const eye = eyeOf('front', 400, 400);
		eye.frame(BOX);
		const { top } = eye.camera as OrthographicCamera;
		eye.resize(800, 400);
		expect((eye.camera as OrthographicCamera).top).toBe(top);
		expect((eye.camera as OrthographicCamera).right).toBeCloseTo(2 * top, 9);
		const lens = new Group();
		lens.position.set(0, 0, 10);
		eye.setView('perspective');
		eye.follow(lens, 60);
		// Half the height of what is ten metres off is 10·tan 30°.
		const edge = new Vector3(0, 10 * Math.tan(Math.PI / 6), 0);
		expect(placeIn(eye, edge).y).toBeCloseTo(1, 9);
	});
});

describe('parts on the stage', () => {
	const context = (space: 'world' | 'interface') => () => ({
		space,
		ink: '#000000',
		assetPath: () => '',
		request: () => {},
	});

	it.each([
		['Quay', makeQuay],
		['Parcel slip', makeParcelSlip],
	])(
		'of %s stand where their clips put them, at every time and after every change of the clip',
		(_, make) => {
			vi.stubGlobal('document', {
				createElement: () => ({
					getContext: () => ({ measureText: () => ({ width: 1 }), fillText: () => {} }),
				}),
			});
			const doc = make();
			const nodes = new PartNodes(context(doc.project.space));
			nodes.setDocument(doc, partsInTree(doc));
			const mirrored = doc.project.space === 'interface' ? -1 : 1;
			// One clip after the other: what the last one moved must be at rest again.
			for (const clip of Object.values(doc.clips))
				for (const share of [0, 0.37, 0.81]) {
					const { compiled, posed } = shownAt(doc, clip.id, share * clip.length);
					nodes.setPose(posed, () => false);
					nodes.root.updateMatrixWorld(true);
					for (const { id } of compiled.parts) {
						const ours = worldMatrix(compiled, id, posed)!;
						const shown = nodes.groupOf(id)!.getWorldPosition(new Vector3());
						expect(shown.x).toBeCloseTo(ours[12], 6);
						expect(shown.y).toBeCloseTo(mirrored * ours[13], 6);
						expect(shown.z).toBeCloseTo(ours[14], 6);
					}
				}
			vi.unstubAllGlobals();
		},
	);

	it('that are off, clear or hidden are not drawn, nor what hangs on them', () => {
		const doc = makeQuay();
		const off = { ...doc, parts: { ...doc.parts, rope: { ...doc.parts.rope, visible: false } } };
		const nodes = new PartNodes(context('world'));
		nodes.setDocument(off, partsInTree(off));
		const { posed } = shownAt(off, 'crane-swing', 0);
		nodes.setPose(posed, (part) => part === 'buoy');
		const isDrawn = (part: string) => nodes.bodyOf(part)?.group.visible ?? false;
		expect(['crane-arm', 'rope', 'hook', 'buoy'].map(isDrawn)).toEqual([true, false, false, false]);
	});
});
