/** The parts as three.js objects: one group each under the root, put where a pose says. */
import { Group, Vector3, type Box3, type Plane } from 'three';
import type { PosedTree } from '$core/clip/compile';
import { drawingIn, type Posed } from '$core/clip/layout';
import type { Doc, Part, Reveal } from '$core/document/types';
import { revealWindow } from '$core/drawing/reveal';
import { parseHex } from '$core/pose/hex';
import { fromEuler } from '$player/maths/quaternion';
import type { Space } from '$core/pose/space';
import type { PoseLayout } from '$player/layout';
import { isFlat } from './body-geometry';
import { makeGhosts, type GhostPose } from './ghosts';
import { PartBody, type BodyContext } from './part-body';
import { planesOf } from './reveal-planes';

/** Where the numbers of a part lie in poses; a path that nothing moves is absent. */
type Places = Partial<Record<string, number>>;

const DRAWN: ReadonlySet<string> = new Set(['size', 'radius', 'stroke', 'trim', 'fieldOfView', 'weight']);

interface PartNode {
	part: Part;
	group: Group;
	body: PartBody | null;
	/** The node of its parent. */
	parent: PartNode | null;
	places: Places;
	/** Whether a clip changes what it is drawn with. */
	isDrawnAnew: boolean;
	/** Of the last pose, with all its parents. */
	opacity: number;
	/** A flat part that a scale makes a line, or a child of one. */
	isLine: boolean;
	/** Degrees, of a camera in the last pose. */
	fieldOfView: number;
	/** What it and its children are cut off by, in the world; null where they are seen whole. */
	planes: Plane[] | null;
	/** Not to be shown, whatever the pose says. */
	isHidden: boolean;
	colour: readonly number[];
}

/** Least opacity that is drawn. */
const CLEAR = 0.004;
/** Least scale at which something flat is more than a line. */
const THIN = 0.004;

const NOWHERE: Places = {};
const PLACE = new Vector3();

export class PartNodes {
	/** Carries the parts; mirrors y for the interface space. */
	readonly root = new Group();
	private readonly nodes = new Map<string, PartNode>();
	/** Parents before children. */
	private order: PartNode[] = [];
	/** Of the pose shown last; null when parts have changed since, so that what rests must be put there anew. */
	private layout: PoseLayout | null = null;
	private space: Space = 'world';
	private picked: string | null = null;
	private lens: string | null = null;

	/** `context` says what bodies are drawn with, anew at each drawing. */
	constructor(private readonly context: () => BodyContext) {}

	/** Builds what is new or changed of the parts' drawings. */
	setDocument(doc: Doc, tree: readonly { part: Part }[]): void {
		this.space = doc.project.space;
		this.root.scale.set(1, doc.project.space === 'interface' ? -1 : 1, 1);
		this.layout = null;
		const seen = new Set<string>();
		for (const { part } of tree) {
			seen.add(part.id);
			const known = this.nodes.get(part.id);
			if (known?.part === part) continue;
			const node = known ?? emptyNode(part);
			if (!known || known.part.drawing !== part.drawing || known.part.colour !== part.colour) {
				node.body?.dispose();
				node.body = new PartBody(part, this.context());
				node.group.add(node.body.group);
			}
			node.part = part;
			node.colour = parseHex(part.colour);
			node.group.userData.partGroup = part.id;
			this.nodes.set(part.id, node);
		}
		for (const [id, node] of this.nodes) {
			if (seen.has(id)) continue;
			node.body?.dispose();
			node.group.removeFromParent();
			this.nodes.delete(id);
		}
		this.order = tree.map(({ part }) => this.nodes.get(part.id)!);
		const isStacked = doc.project.space === 'interface';
		for (const [index, node] of this.order.entries()) {
			node.body?.setOrder(isStacked ? index : 0);
			node.parent = node.part.parent === null ? null : this.nodes.get(node.part.parent)!;
			const parent = node.parent?.group ?? this.root;
			if (node.group.parent !== parent) parent.add(node.group);
		}
	}

	/** Puts every part where a pose says. `isHidden` decides what is not drawn. */
	setPose(posed: Posed, isHidden: (part: string) => boolean): void {
		const { layout, pose } = posed;
		const isNew = layout !== this.layout;
		if (isNew) this.setLayout(layout);
		for (const node of this.order) {
			const { part, group, places } = node;
			const { rest } = part;
			const { translation, rotation, scale } = places;
			if (translation !== undefined)
				group.position.set(pose[translation], pose[translation + 1], pose[translation + 2]);
			else if (isNew) group.position.fromArray(rest.translation);
			if (rotation !== undefined)
				group.quaternion.set(pose[rotation], pose[rotation + 1], pose[rotation + 2], pose[rotation + 3]);
			else if (isNew) group.quaternion.fromArray(fromEuler(rest.rotation, part.eulerOrder));
			if (scale !== undefined) group.scale.set(pose[scale], pose[scale + 1], pose[scale + 2]);
			else if (isNew) group.scale.fromArray(rest.scale);
			node.isHidden = isHidden(part.id);
			showNode(node, posed, this.space);
		}
	}

	private setLayout(layout: PoseLayout): void {
		this.layout = layout;
		for (const node of this.order) {
			node.places = NOWHERE;
			node.isDrawnAnew = false;
		}
		for (const { part, path, at } of layout.targets) {
			const node = this.nodes.get(part);
			if (!node) continue;
			if (node.places === NOWHERE) node.places = {};
			node.places[path] = at;
			node.isDrawnAnew ||= DRAWN.has(path);
		}
	}

	/** The part in hand: a camera is shown then, with what it sees. */
	setPicked(part: string | null): void {
		this.picked = part;
		this.showCameras();
	}

	/** The camera that is looked through: its own body would stand before its eye. */
	setLens(part: string | null): void {
		if (part === this.lens) return;
		this.lens = part;
		this.showCameras();
	}

	private showCameras(): void {
		for (const [id, { body }] of this.nodes) body?.showSight(id === this.picked && id !== this.lens);
	}

	groupOf(part: string): Group | null {
		return this.nodes.get(part)?.group ?? null;
	}

	/** Pale copies of a part at other times, to be put under the root; none where the part is not there. */
	ghostsOf(
		part: string,
		tree: PosedTree,
		poses: readonly GhostPose[],
		colours: Parameters<typeof makeGhosts>[4],
	): Group {
		const source = this.groupOf(part);
		if (!source || !tree.indexOfPart.has(part)) return new Group();
		this.root.updateWorldMatrix(true, false);
		const { space, bodyOf } = this;
		return makeGhosts(part, source, tree, poses, colours, { space, root: this.root.matrixWorld, bodyOf });
	}

	/** What shows a part; null where it is not to be shown. */
	readonly bodyOf = (part: string): PartBody | null => {
		const node = this.nodes.get(part);
		return node && !node.isHidden ? node.body : null;
	};

	/** The field of view of a camera in the last pose, degrees. */
	fieldOfView(part: string): number {
		return this.nodes.get(part)?.fieldOfView ?? 0;
	}

	/** Draws labels for the size at which they are seen; `pixelsAt` says how long a unit is at a place. */
	sharpen(pixelsAt: (place: Vector3) => number): void {
		for (const { part, group, body } of this.nodes.values()) {
			if (part.drawing.kind !== 'label' || !body?.group.visible) continue;
			const { elements: m } = group.matrixWorld;
			const scale = Math.max(Math.hypot(m[0], m[1], m[2]), Math.hypot(m[4], m[5], m[6]));
			if (scale > THIN) body.sharpen(scale * pixelsAt(group.getWorldPosition(PLACE)));
		}
	}

	/** A box about what is drawn of a part, in its own axes; null where nothing is. */
	boxOf(part: string): Box3 | null {
		const body = this.nodes.get(part)?.body;
		return body ? body.box() : null;
	}

	/** What is drawn of all parts but cameras, which look on from afar. */
	*drawn(): Generator<Group> {
		for (const { part, body } of this.order) if (body && part.drawing.kind !== 'camera') yield body.group;
	}

	clear(): void {
		for (const { body } of this.nodes.values()) body?.dispose();
		this.nodes.clear();
		this.order = [];
		this.root.clear();
	}
}

function emptyNode(part: Part): PartNode {
	return {
		part,
		group: new Group(),
		body: null,
		parent: null,
		places: NOWHERE,
		isDrawnAnew: false,
		opacity: 1,
		isLine: false,
		fieldOfView: 0,
		planes: null,
		isHidden: false,
		colour: [],
	};
}

function revealAt(pose: Float64Array, at: number): Reveal {
	return { top: pose[at], right: pose[at + 1], bottom: pose[at + 2], left: pose[at + 3] };
}

/** Opacity, colour and drawing of a node; what is off, or wholly clear, hides all below it. */
function showNode(node: PartNode, posed: Posed, space: Space): void {
	const { part, places, body, parent } = node;
	const { pose } = posed;
	const { visible, opacity, colour } = places;
	const isOn = visible === undefined ? part.visible : pose[visible] >= 0.5;
	const alpha = opacity === undefined ? part.rest.opacity : pose[opacity];
	node.opacity = (isOn ? Math.min(1, Math.max(0, alpha)) : 0) * (parent?.opacity ?? 1);
	const drawing = node.isDrawnAnew ? drawingIn(posed, part) : part.drawing;
	if (drawing.kind === 'camera') node.fieldOfView = drawing.fieldOfView;
	const reveal = places.reveal === undefined ? part.drawing.reveal : revealAt(pose, places.reveal);
	const window = reveal && revealWindow(drawing, part.drawing, reveal, space);
	if (window) node.group.updateWorldMatrix(true, false);
	const own = window && planesOf(window, node.group.matrixWorld);
	node.planes = own ? [...own, ...(parent?.planes ?? [])] : (parent?.planes ?? null);
	if (!body) return;
	const { x, y } = node.group.scale;
	node.isLine = (parent?.isLine ?? false) || (isFlat(drawing) && Math.min(Math.abs(x), Math.abs(y)) < THIN);
	const tint = colour === undefined ? node.colour : pose;
	const at = colour ?? 0;
	const shown = node.opacity * tint[at + 3];
	body.group.visible = shown > CLEAR && !node.isHidden && !node.isLine;
	body.show(drawing);
	body.setPlanes(node.planes);
	body.setLook(tint[at], tint[at + 1], tint[at + 2], shown);
}
