/** What stands on the stage, object by object, as it was looked at when it was written down; no screen is needed. */
import { BufferGeometry, Group, Material, Mesh, Object3D, Vector3, type MeshBasicMaterial } from 'three';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { compileClip, poseAt } from '$core/clip/compile';
import { setValue, setVector } from '$core/edits/keys';
import { putPart, removePart, updatePart } from '$core/edits/parts';
import { partsInTree, type Doc } from '$core/document/types';
import { recordedCanvas } from '$lib/ui/testing';
import { makeQuay } from '../../../demo/quay';
import { makeParcelSlip } from '../../../demo/parcel-slip';
import { disposeGhosts } from './ghosts';
import { PartNodes } from './part-nodes';
import { reachOf } from './reach';

const drawnLabels: string[] = [];
beforeEach(() => {
	drawnLabels.length = 0;
	vi.stubGlobal('document', {
		createElement: () => {
			const { context, drawn } = recordedCanvas();
			return { getContext: () => context, drawn: () => drawnLabels.push(drawn()) };
		},
		createElementNS: () => ({ addEventListener() {}, removeEventListener() {} }),
	});
});
afterEach(() => vi.unstubAllGlobals());

const round = (v: number) => String(Math.round(v * 1000) / 1000 + 0);
const list = (values: Iterable<number>) => [...values].map(round).join(' ');

function describeMaterial(material: MeshBasicMaterial): string {
	const { color, opacity, transparent, depthWrite, side, polygonOffset, forceSinglePass, vertexColors } =
		material;
	const flags = { transparent, depthWrite, polygonOffset, forceSinglePass, vertexColors };
	const on = Object.entries(flags).flatMap(([name, value]) => (value ? [name] : []));
	return `${material.type} #${color.getHexString()} ${round(opacity)} side ${side} ${on.join(' ')}`;
}

function describe(object: Object3D, depth = 0): string {
	const { position, quaternion, scale, userData } = object;
	const lines = [
		[
			'  '.repeat(depth) + object.type,
			userData.partGroup ?? (userData.part === undefined ? '' : `(${userData.part})`),
			object.visible ? '' : 'hidden',
			`at ${list(position.toArray())}`,
			`turned ${list(quaternion.toArray())}`,
			`scaled ${list(scale.toArray())}`,
			object.renderOrder ? `order ${object.renderOrder}` : '',
			object.matrixAutoUpdate ? '' : `in ${list(object.matrix.elements)}`,
		],
	];
	if ('geometry' in object) {
		const { geometry, material, morphTargetInfluences } = object as Mesh<BufferGeometry, MeshBasicMaterial>;
		geometry.computeBoundingBox();
		const { min, max } = geometry.boundingBox!;
		lines.push([
			'  '.repeat(depth + 1) +
				`${geometry.getAttribute('position').count} points, ${geometry.index?.count ?? 0}`,
			`from ${list(min.toArray())} to ${list(max.toArray())},`,
			describeMaterial(material),
			morphTargetInfluences ? `weights ${list(morphTargetInfluences)}` : '',
		]);
	}
	const own = lines.map((line) => line.filter(Boolean).join(' ')).join('\n');
	return [own, ...object.children.map((child) => describe(child, depth + 1))].join('\n');
}

function stage(doc: Doc) {
	const nodes = new PartNodes(() => ({
		space: doc.project.space,
		ink: '#123456',
		assetPath: (asset) => `/${asset}`,
		request: () => {},
	}));
	const show = (next: Doc, clip: string, frame: number, hidden: readonly string[] = []) => {
		nodes.setDocument(next, partsInTree(next));
		const compiled = compileClip(next, next.clips[clip]);
		nodes.setPose({ layout: compiled.layout, pose: poseAt(compiled, frame * 2400) }, (id) =>
			hidden.includes(id),
		);
		return compiled;
	};
	return { nodes, show };
}

/** Everything that is made of memory beside the heap, and whether it has been let go. */
function watched(root: Object3D) {
	const gone = new Set<object>();
	const all = new Set<object>();
	root.traverse((object) => {
		if (!('geometry' in object)) return;
		const { geometry, material } = object as Mesh<BufferGeometry, Material>;
		for (const owned of [geometry, material]) {
			all.add(owned);
			owned.addEventListener('dispose', () => gone.add(owned));
		}
	});
	return { all, gone };
}

it('parts of the quay at a moment, in the tree of their parents', async () => {
	const { nodes, show } = stage(makeQuay());
	show(makeQuay(), 'sack-drop', 30, ['buoy']);
	await expect(describe(nodes.root) + '\n').toMatchFileSnapshot('drawn/quay.txt');
});

it('parts of an interface, mirrored, with what their labels say', async () => {
	const doc = makeParcelSlip();
	const { nodes, show } = stage(doc);
	show(doc, Object.keys(doc.clips)[0], 10);
	nodes.root.traverse((object) => {
		const { map } = ((object as Mesh).material ?? {}) as MeshBasicMaterial;
		(map?.image as { drawn?: () => void } | undefined)?.drawn?.();
	});
	await expect([describe(nodes.root), ...drawnLabels].join('\n')).toMatchFileSnapshot('drawn/slip.txt');
});

/** The meshes and lines that show a part. */
function drawnOf(nodes: PartNodes, part: string): Mesh<BufferGeometry, MeshBasicMaterial>[] {
	const found: Object3D[] = [];
	nodes.groupOf(part)!.traverse((object) => {
		if (object.userData.part === part && 'geometry' in object) found.push(object);
	});
	return found as Mesh<BufferGeometry, MeshBasicMaterial>[];
}

it('a part takes size, corners, colour and opacity of its pose, and its rest where the clip says nothing', () => {
	const place = { clip: 'sack-drop', part: 'tag', component: 'value' } as const;
	let doc = putPart(makeQuay(), {
		...makeQuay().parts.rope,
		id: 'tag',
		parent: 'mail-sack',
		drawing: {
			kind: 'card',
			size: [2, 1, 0],
			radius: 0.1,
			offset: [1, 0, 0],
			stroke: { width: 0.1, colour: '#00ff00', start: 0, end: 1 },
		},
		colour: '#ff0000',
		rest: { translation: [1, 2, 3], rotation: [0, 0, 90], scale: [1, 1, 1], opacity: 0.5 },
	} as Doc['parts'][string]);
	const { nodes, show } = stage(doc);
	show(doc, 'sack-drop', 0);
	const [fill, ribbon] = drawnOf(nodes, 'tag');
	const width = () => {
		const { geometry } = drawnOf(nodes, 'tag')[0];
		geometry.computeBoundingBox();
		return geometry.boundingBox!.max.x - geometry.boundingBox!.min.x;
	};
	expect(width()).toBeCloseTo(2, 5);
	expect([fill.material.color.getHexString(), ribbon.material.color.getHexString()]).toEqual([
		'ff0000',
		'00ff00',
	]);
	expect([fill.material.opacity, fill.material.depthWrite]).toEqual([0.5, false]);
	expect([ribbon.material.opacity, ribbon.material.transparent]).toEqual([0.5, true]);
	expect(nodes.groupOf('tag')!.position.toArray()).toEqual([1, 2, 3]);

	const bare = doc;
	doc = setValue(doc, { ...place, property: 'size', component: 'x' }, 0, 4);
	doc = setValue(doc, { ...place, property: 'opacity' }, 0, 2);
	doc = setVector(doc, { ...place, property: 'colour' }, 0, [0, 0, 1, 1]);
	doc = setValue(doc, { ...place, property: 'translation', component: 'x' }, 0, 7);
	const before = watched(nodes.groupOf('tag')!);
	show(doc, 'sack-drop', 0);
	// Corners stay as wide as they are: it is drawn anew, and what was drawn is let go.
	expect(width()).toBeCloseTo(4, 5);
	expect([...before.gone].filter((owned) => owned instanceof BufferGeometry)).toHaveLength(2);
	const [now] = drawnOf(nodes, 'tag');
	expect([now.material.color.getHexString(), now.material.opacity, now.material.depthWrite]).toEqual([
		'0000ff',
		1,
		true,
	]);
	expect(nodes.groupOf('tag')!.position.x).toBe(7);
	// The clip says nothing any more: rest again.
	show(bare, 'sack-drop', 0);
	expect([nodes.groupOf('tag')!.position.x, width().toFixed(3)]).toEqual([1, '2.000']);
});

it('what is off or wholly clear hides all below it; what is taken away is let go', () => {
	const quay = makeQuay();
	const doc = putPart(quay, { ...quay.parts.rope, id: 'tag', parent: 'mail-sack' });
	const { nodes, show } = stage(doc);
	const shown = (part: string) => drawnOf(nodes, part)[0].parent!.visible;
	show(doc, 'sack-drop', 0);
	expect([shown('mail-sack'), shown('tag')]).toEqual([true, true]);
	show(updatePart(doc, 'mail-sack', { visible: false }), 'sack-drop', 0);
	expect([shown('mail-sack'), shown('tag')]).toEqual([false, false]);
	const faint = updatePart(doc, 'mail-sack', { rest: { ...doc.parts['mail-sack'].rest, opacity: 0.003 } });
	show(faint, 'sack-drop', 0);
	expect(shown('tag')).toBe(false);
	// Hidden by hand: the part alone.
	show(doc, 'sack-drop', 0, ['mail-sack']);
	expect([shown('mail-sack'), shown('tag')]).toEqual([false, true]);
	expect([nodes.bodyOf('mail-sack'), nodes.bodyOf('tag')?.group.visible]).toEqual([null, true]);

	const { all, gone } = watched(nodes.groupOf('tag')!);
	show(removePart(doc, 'tag'), 'sack-drop', 0);
	expect([gone.size, nodes.groupOf('tag')]).toEqual([all.size, null]);
	const rest = watched(nodes.root);
	nodes.clear();
	expect([rest.gone.size, nodes.root.children.length, [...nodes.drawn()].length]).toEqual([
		rest.all.size,
		0,
		0,
	]);
});

it('a camera is shown, with what it sees, while it is picked, and is not counted in what is brought into the picture', () => {
	const quay = makeQuay();
	const camera = Object.values(quay.parts).find((part) => part.drawing.kind === 'camera')!;
	const { nodes, show } = stage(quay);
	show(quay, 'sack-drop', 0);
	const sight = drawnOf(nodes, camera.id)[0].parent!;
	expect(sight.visible).toBe(false);
	nodes.setPicked(camera.id);
	expect(sight.visible).toBe(true);
	// Its own body would stand before its eye.
	nodes.setLens(camera.id);
	expect(sight.visible).toBe(false);
	nodes.setLens(null);
	expect(sight.visible).toBe(true);
	nodes.setPicked(null);
	expect(sight.visible).toBe(false);
	expect(nodes.fieldOfView(camera.id)).toBe((camera.drawing as { fieldOfView: number }).fieldOfView);
	expect([...nodes.drawn()]).not.toContain(nodes.bodyOf(camera.id)!.group);
});

it('ghosts stand where the part was and will be, below its parent as that was, and let go of their own', async () => {
	const doc = setValue(
		putPart(makeQuay(), {
			...makeQuay().parts.rope,
			id: 'tag',
			drawing: { kind: 'card', size: [2, 1, 0], radius: 0.1, offset: [0, 0, 0] },
		} as Doc['parts'][string]),
		{ clip: 'sack-drop', part: 'tag', property: 'radius', component: 'value' },
		0,
		0.3,
	);
	const { nodes, show } = stage(doc);
	const compiled = show(doc, 'sack-drop', 30);
	const ghosts = ['mail-sack', 'tag'].map((part) =>
		nodes.ghostsOf(
			part,
			compiled,
			[
				{ pose: poseAt(compiled, 20 * 2400), past: true, distance: 0.5 },
				{ pose: poseAt(compiled, 40 * 2400), past: false, distance: 1, outline: true },
			],
			{ past: '#112233', coming: '#445566' },
		),
	);
	await expect(ghosts.map((ghost) => describe(ghost)).join('\n') + '\n').toMatchFileSnapshot(
		'drawn/ghosts.txt',
	);
	const shared = watched(nodes.root);
	const own = watched(ghosts[0]);
	new Group().add(...ghosts);
	ghosts.forEach(disposeGhosts);
	expect([shared.gone.size, ghosts[0].parent]).toEqual([0, null]);
	expect([...own.gone].every((owned) => owned instanceof Material) && own.gone.size > 0).toBe(true);
});

it('flat parts of an interface lie on each other in the order of the tree; one that is a line is left out', () => {
	const doc = makeParcelSlip();
	const { nodes, show } = stage(doc);
	const meshOf = (part: string) => drawnOf(nodes, part)[0];
	show(doc, 'slip-arrives', 0);
	expect(meshOf('slip').renderOrder).toBeLessThan(meshOf('slip-number').renderOrder);
	expect([meshOf('slip').material.depthTest, meshOf('slip').material.depthWrite]).toEqual([false, false]);
	// Put behind all others in the tree, it is drawn before them.
	show(updatePart(doc, 'slip', { order: 'Zz' }), 'slip-arrives', 0);
	expect(meshOf('slip').renderOrder).toBe(0);
	const thin = (x: number) => {
		const rest = { ...doc.parts.gauge.rest, scale: [x, 1, 1] as [number, number, number] };
		show(updatePart(doc, 'gauge', { rest }), 'slip-arrives', 40);
		return ['gauge', 'needle'].map((part) => meshOf(part).parent!.visible);
	};
	expect([thin(1), thin(0), thin(-1)]).toEqual([
		[true, true],
		[false, false],
		[true, true],
	]);
});

it('what is revealed in part is cut off with all that hangs on it, where it stands', () => {
	const doc = makeParcelSlip();
	const at = { clip: 'slip-arrives', part: 'slip', property: 'reveal', component: 'left' } as const;
	const { nodes, show } = stage(setValue(setValue(doc, at, 0, 0), at, 40 * 1200, 0.5));
	const planesOf = (part: string) => drawnOf(nodes, part)[0].material.clippingPlanes;
	const isSeen = (part: string, x: number) =>
		planesOf(part)!.every((plane) => plane.distanceToPoint(new Vector3(x, -196, 0)) >= 0);
	show(setValue(setValue(doc, at, 0, 0), at, 40 * 1200, 0.5), 'slip-arrives', 48);
	// The slip is 296 wide about x 180: its left half is gone.
	expect([[100, 179, 181, 320].map((x) => isSeen('slip', x))]).toEqual([[false, false, true, true]]);
	expect([179, 181].map((x) => isSeen('slip-number', x))).toEqual([false, true]);
	expect(planesOf('gauge')).toBe(null);
	// As many planes while it opens: the picture's programs stay.
	show(setValue(setValue(doc, at, 0, 0), at, 40 * 1200, 0.5), 'slip-arrives', 0);
	expect([planesOf('slip')!.length, isSeen('slip', -900)]).toEqual([4, true]);
	show(doc, 'slip-arrives', 48);
	expect([planesOf('slip'), planesOf('slip-number')]).toEqual([null, null]);
});

it('a ghost is cut off as the part was, with all that hangs on it, below what that hangs on', () => {
	const bare = makeParcelSlip();
	const at = { clip: 'slip-arrives', part: 'slip', property: 'reveal', component: 'left' } as const;
	const doc = setValue(setValue(bare, at, 0, 0), at, 40 * 1200, 0.5);
	const { nodes, show } = stage(doc);
	const compiled = show(doc, 'slip-arrives', 0);
	const seen = (part: string, frame: number) => {
		const pose = poseAt(compiled, frame * 1200);
		const [ghost] = nodes.ghostsOf(part, compiled, [{ pose, past: true, distance: 0 }], {
			past: '#112233',
			coming: '#445566',
		}).children;
		const found = new Set<boolean>();
		ghost.traverse((child) => {
			if (!(child instanceof Mesh)) return;
			const planes = (child.material as Material).clippingPlanes;
			for (const x of [179, 181])
				found.add(
					(planes ?? []).every((plane) => plane.distanceToPoint(new Vector3(x, -196, 0)) >= 0) === x > 180,
				);
		});
		return [...found];
	};
	// Half of it and of its number at the end; all of them at first.
	expect([seen('slip', 48), seen('slip-number', 48), seen('slip', 0)]).toEqual([
		[true],
		[true],
		[false, true],
	]);
	expect(seen('gauge', 48)).toEqual([false, true]);
	// A part that was made since hangs on it now; the older version knows nothing of it.
	show(putPart(doc, { ...doc.parts['slip-number'], id: 'seal', parent: 'slip' }), 'slip-arrives', 0);
	expect(seen('slip', 48)).toEqual([true]);
});

it('a label is drawn anew for the size at which it is seen, unless that is nearly what it was', () => {
	const doc = makeParcelSlip();
	const { nodes, show } = stage(doc);
	show(doc, 'slip-arrives', 40);
	nodes.root.updateMatrixWorld(true);
	const picture = () => drawnOf(nodes, 'title')[0].material.map!.image as { width: number };
	expect(picture().width).toBe(190 * 4);
	nodes.sharpen(() => 1.5);
	expect(picture().width).toBe(285);
	const same = picture();
	nodes.sharpen(() => 1.53);
	expect(picture()).toBe(same);
});

it('what moves in a clip reaches as far as it gets, with what hangs on it', () => {
	const quay = makeQuay();
	const { nodes, show } = stage(quay);
	const reach = (clip: string) => {
		const box = reachOf(show(quay, clip, 0), (part) => nodes.boxOf(part));
		return [...box.min.toArray(), ...box.max.toArray()].map((v) => Math.round(v * 10) / 10);
	};
	const [left, , , right] = reach('ferry-crossing');
	// From the stern at the start to the bow at the end, 5.2 m farther.
	expect([left, right]).toEqual([1.3, 10.9]);
	// The bill hangs on the pelican that hops.
	expect(reach('pelican-hop')[3]).toBeGreaterThan(-2.4 + 0.62 + 0.5);
	const still = compileClip(quay, { ...quay.clips['sack-drop'], id: 'none' });
	expect(reachOf(still, (part) => nodes.boxOf(part)).isEmpty()).toBe(true);
});
