/** The picture of a pose: the parts, the grid, ghosts and twins as an eye sees them; picking and projection. */
import {
	AmbientLight,
	Box3,
	DirectionalLight,
	Group,
	Matrix4,
	Mesh,
	Object3D,
	Plane,
	Raycaster,
	Scene,
	Vector2,
	Vector3,
	type Material,
} from 'three';
import type { CompiledClip, PosedTree } from '$core/clip/compile';
import type { Posed } from '$core/clip/layout';
import type { Doc, Part, Project } from '$core/document/types';
import type { Space } from '$core/pose/space';
import { cancelFrame, nextPicture } from '$lib/ui/frames';
import { facingAxisOf, type FacingAxis } from './facing-axis';
import type { GhostPose } from './ghosts';
import { PaleCopies } from './pale-copies';
import { disposeGrid, makeGrid } from './grid';
import { isSeen } from './materials';
import type { BodyContext } from './part-body';
import { PartNodes } from './part-nodes';
import { reachOf } from './reach';
import { StageEye } from './stage-eye';
import { StagePicture } from './stage-picture';
import type { AxesOf, Standpoint, ViewName } from '$lib/session/stage-look.svelte';

export interface StageColours {
	ink: string;
	contour: string;
	rust: string;
	/** Ghosts before and after the playhead. */
	past: string;
	coming: string;
}

export class StageScene {
	readonly picture: StagePicture;
	private readonly scene = new Scene();
	private readonly parts: PartNodes;
	private readonly eye: StageEye;
	private grid: Group | null = null;
	private readonly twin: PaleCopies;
	private readonly ghosts: PaleCopies;
	private readonly raycaster = new Raycaster();
	private space: Space = 'world';
	/** Brings into the picture what was brought there last. */
	private frameAgain: () => void = () => this.frame();
	/** The screen that is counted in where all is brought into the picture. */
	private screen: Project['screen'];
	/** The camera of the project that the view named so looks through. */
	private lens: string | null = null;
	private clips: readonly CompiledClip[] = [];
	/** Called after each picture, for what is drawn over it. */
	onrender: () => void = () => {};

	constructor(
		private readonly canvas: HTMLCanvasElement,
		private colours: StageColours,
		/** Where pictures and models of the project are fetched, and who is told of those that cannot be read. */
		files: Pick<BodyContext, 'assetPath' | 'told'>,
		private readonly hasGrid = true,
	) {
		this.picture = new StagePicture(canvas, (ratio) =>
			this.parts.sharpen((place) => ratio * this.eye.pixelsAt(place)),
		);
		const request = () => this.request();
		this.parts = new PartNodes(() => ({ space: this.space, ink: this.colours.ink, request, ...files }));
		this.twin = new PaleCopies(this.parts);
		this.ghosts = new PaleCopies(this.parts);
		this.eye = new StageEye(canvas, request);
		const sun = new DirectionalLight(0xffffff, 1.5);
		sun.position.set(-3, 6, 8);
		this.scene.add(new AmbientLight(0xffffff, 1.9), sun, this.root);
	}

	private get root(): Group {
		return this.parts.root;
	}

	get view(): ViewName {
		return this.eye.view;
	}

	setColours(colours: StageColours): void {
		this.colours = colours;
		this.parts.clear();
		this.ghosts.clear();
		this.drawGrid();
	}

	resize(width: number, height: number): void {
		if (width < 2 || height < 2) return;
		const first = this.eye.width <= 1;
		this.picture.resize(width, height);
		this.eye.resize(width, height);
		if (first || !this.eye.isByHand) this.frameAgain();
		this.request();
	}

	/** Builds what is new or changed of the parts' drawings. A pose is to be set after it. */
	setDocument(doc: Doc, tree: readonly { part: Part }[]): void {
		this.space = doc.project.space;
		this.screen = doc.project.space === 'interface' ? doc.project.screen : undefined;
		this.parts.setDocument(doc, tree);
		this.request();
	}

	/** Puts every part where a pose says. `isHidden` decides what is not drawn. */
	setPose(posed: Posed, isHidden: (part: string) => boolean): void {
		this.parts.setPose(posed, isHidden);
		this.request();
	}

	/** Shows a part at other times; an empty list shows none. */
	setGhosts(part: string | null, tree: PosedTree | null, poses: readonly GhostPose[]): void {
		this.ghosts.show(part !== null && poses.length > 0 ? [part] : [], tree, poses, this.colours);
		this.request();
	}

	/** Shows parts (and their children) as pale twins in another pose; without one, none. */
	setTwin(parts: readonly string[], tree: PosedTree | null, pose: Float64Array | null): void {
		this.twin.show(pose ? parts : [], tree, pose ? [{ pose, past: true, distance: 0 }] : [], this.colours);
		this.request();
	}

	/** Where a place of the project's own space is on the canvas, in pixels. */
	projectWorld(x: number, y: number, z: number): { x: number; y: number } {
		return this.project(this.root, new Vector3(x, y, z));
	}

	/** The part in hand: a camera is shown then, with what it sees. */
	setPicked(part: string | null): void {
		this.parts.setPicked(part);
		this.request();
	}

	/** Looks through a camera of the project; null leaves the picture as it is. */
	setLens(part: string | null): void {
		if (this.lens === part) return;
		this.lens = part;
		this.request();
	}

	setView(view: ViewName): void {
		this.eye.setView(view);
		this.drawGrid();
		this.frame();
	}

	/** The clips that are looked at now: they are brought into the picture, unless the picture has been moved by hand. */
	setClips(clips: readonly CompiledClip[]): void {
		this.clips = clips;
		if (!this.eye.isByHand) this.frame();
	}

	/** Brings what moves in the clips into the picture; of an interface, and where nothing moves, all parts. */
	private frame(): void {
		this.frameAgain = () => this.frame();
		const { clips, parts, root } = this;
		const reach = new Box3();
		if (this.space === 'world')
			for (const clip of clips) reach.union(reachOf(clip, (part) => parts.boxOf(part)));
		if (reach.isEmpty() || this.view === 'camera') {
			this.fit();
			return;
		}
		root.updateMatrixWorld();
		this.eye.frame(reach.applyMatrix4(root.matrixWorld), 1.4);
		this.request();
	}

	private drawGrid(): void {
		if (this.grid) disposeGrid(this.grid);
		if (!this.hasGrid) return;
		this.grid = makeGrid(this.view, this.space, this.colours);
		this.scene.add(this.grid);
	}

	/** Brings all parts (or one) into the picture. */
	fit(part?: string): void {
		this.frameAgain = () => this.fit(part);
		if (this.view === 'camera') {
			this.request();
			return;
		}
		this.scene.updateMatrixWorld(true);
		const box = new Box3();
		if (part) {
			const group = this.groupOf(part);
			// With its pivot, where its handles are.
			if (group) box.setFromObject(group).expandByPoint(group.getWorldPosition(new Vector3()));
		} else {
			for (const group of this.parts.drawn()) box.expandByObject(group);
			if (this.screen) {
				const { width, height } = this.screen;
				const corner = (x: number, y: number) => this.root.localToWorld(new Vector3(x, y, 0));
				box.expandByPoint(corner(0, 0)).expandByPoint(corner(width, height));
			}
		}
		if (box.isEmpty()) {
			const unit = this.space === 'interface' ? 320 : 3;
			box.set(new Vector3(-unit, -unit, 0), new Vector3(unit, unit, 0));
		}
		// A part is shown with something of what is around it.
		this.eye.frame(box, part ? 2.2 : 1);
		this.request();
	}

	/** Where something new is seen: in the middle of the picture or at a place of it, before all else; and the eye. */
	standpoint(place?: { x: number; y: number }): Standpoint {
		this.scene.updateMatrixWorld(true);
		const box = new Box3();
		for (const group of this.parts.drawn()) box.expandByObject(group);
		// Flat views look along one axis: the nearest face of all there is.
		const front = ['side', 'top'].includes(this.view) ? box.max : new Vector3(0, 0, box.max.z);
		const near = box.isEmpty() ? new Vector3() : front;
		const { at, orientation } = this.eye.stand();
		const own = (place: Vector3) => this.root.worldToLocal(place).toArray();
		const middle = this.eye.middle(near);
		const seen = place ? (this.onPlane(place.x, place.y, middle) ?? middle) : middle;
		return { middle: own(seen), eye: { at: own(at), orientation: orientation.toArray() } };
	}

	/** Asks for a picture: once, however often it is called until it is drawn. */
	request(): void {
		nextPicture(this.render);
	}

	private readonly render = (): void => {
		this.aimLens();
		this.picture.draw(this.scene, this.eye.camera);
		this.ghosts.drawn();
		this.twin.drawn();
		this.onrender();
	};

	private aimLens(): void {
		const lens = this.view === 'camera' && this.lens !== null ? this.groupOf(this.lens) : null;
		if (lens) this.eye.follow(lens, this.parts.fieldOfView(this.lens!));
		this.parts.setLens(lens ? this.lens : null);
	}

	/** Draws finely and at once, for a film: the canvas is to be taken before anything else happens. */
	shoot(): HTMLCanvasElement {
		this.aimLens();
		this.picture.shoot(this.scene, this.eye.camera);
		return this.canvas;
	}

	/** Units of the space that are as much as a metre of the world. */
	get stretch(): number {
		return this.space === 'interface' ? 100 : 1;
	}

	/** A wheel over what lies on the canvas brings nearer as on the canvas itself. */
	readonly forwardWheel = (event: WheelEvent): void => {
		event.preventDefault();
		this.canvas.dispatchEvent(new WheelEvent(event.type, event));
	};

	/** Where on the canvas a pointer is, in pixels. */
	placeOf({ clientX, clientY }: { clientX: number; clientY: number }): { x: number; y: number } {
		const { left, top } = this.canvas.getBoundingClientRect();
		return { x: clientX - left, y: clientY - top };
	}

	/** The part under a place of the canvas, in pixels; those that may not be taken are looked through. */
	pick(x: number, y: number, may: (part: string) => boolean): string | null {
		this.aim(x, y);
		const hits = this.raycaster.intersectObject(this.root, true);
		// What is drawn over another is taken before it; in the world nearness alone decides.
		hits.sort((a, b) => b.object.renderOrder - a.object.renderOrder || a.distance - b.distance);
		for (const { object, point } of hits) {
			const shown =
				object.parent?.visible && object instanceof Mesh && isSeen(object.material as Material, point);
			const part = object.userData.part as string | undefined;
			if (shown && part !== undefined && may(part)) return part;
		}
		return null;
	}

	private aim(x: number, y: number): void {
		this.eye.camera.updateMatrixWorld();
		this.raycaster.setFromCamera(
			new Vector2((2 * x) / this.eye.width - 1, 1 - (2 * y) / this.eye.height),
			this.eye.camera,
		);
	}

	/** Where a place of a part's own space is on the canvas, in pixels. */
	project(object: Object3D, local: Vector3): { x: number; y: number } {
		object.updateWorldMatrix(true, false);
		const p = local.clone().applyMatrix4(object.matrixWorld).project(this.eye.camera);
		return { x: ((p.x + 1) * this.eye.width) / 2, y: ((1 - p.y) * this.eye.height) / 2 };
	}

	groupOf(part: string): Group | null {
		return this.parts.groupOf(part);
	}

	/** Which of a parent's axes looks most towards the eye, and whether turning about it looks reversed. */
	facingAxis(part: string): FacingAxis {
		const parent = this.groupOf(part)?.parent ?? this.root;
		return facingAxisOf(parent, this.eye.camera.getWorldDirection(new Vector3()).negate());
	}

	/** A place of the canvas carried to the plane through a place of the world that faces the eye. */
	private onPlane(x: number, y: number, origin: Vector3): Vector3 | null {
		this.aim(x, y);
		const normal = this.eye.camera.getWorldDirection(new Vector3());
		const plane = new Plane().setFromNormalAndCoplanarPoint(normal, origin);
		return this.raycaster.ray.intersectPlane(plane, new Vector3());
	}

	/** A place of the canvas carried to the plane through a part that faces the eye, in the axes of its parent. */
	placeInParent(part: string, x: number, y: number): Vector3 | null {
		const group = this.groupOf(part);
		if (!group?.parent) return null;
		const hit = this.onPlane(x, y, group.getWorldPosition(new Vector3()));
		return hit?.applyMatrix4(new Matrix4().copy(group.parent.matrixWorld).invert()) ?? null;
	}

	/** A place of the canvas carried to the plane through a part that faces the eye, in the part's own axes. */
	placeInPart(part: string, x: number, y: number, toPart: Matrix4): Vector3 | null {
		const group = this.groupOf(part);
		const inParent = this.placeInParent(part, x, y);
		if (!group?.parent || !inParent) return null;
		return inParent.applyMatrix4(group.parent.matrixWorld).applyMatrix4(toPart);
	}

	/** What carries places of the world into a part's own axes, as it is now. */
	worldToPart(part: string): Matrix4 | null {
		const group = this.groupOf(part);
		return group ? new Matrix4().copy(group.matrixWorld).invert() : null;
	}

	/** One unit of an axis, in the axes of a part's parent: the parent's own, the part's, or the world's. */
	direction(part: string, axis: 0 | 1 | 2, of: AxesOf): Vector3 {
		const unit = new Vector3().setComponent(axis, 1);
		const group = this.groupOf(part);
		if (!group?.parent || of === 'parent') return unit;
		if (of === 'part') return unit.applyQuaternion(group.quaternion);
		group.parent.updateWorldMatrix(true, false);
		const toParent = new Matrix4().copy(group.parent.matrixWorld).invert().multiply(this.root.matrixWorld);
		return unit.applyMatrix4(toParent.setPosition(0, 0, 0));
	}

	/** A drag of pixels along a direction of a part's parent, in lengths of it. */
	along(part: string, direction: Vector3, dx: number, dy: number): number {
		const unit = this.onScreen(part, direction);
		const length = Math.hypot(unit.x, unit.y);
		return length < 1e-6 ? 0 : (dx * unit.x + dy * unit.y) / (length * length);
	}

	/** A direction in the axes of a part's parent, as pixels on the canvas. */
	onScreen(part: string, direction: Vector3): { x: number; y: number } {
		const group = this.groupOf(part);
		if (!group?.parent) return { x: 0, y: 0 };
		const reach = 0.1 * this.stretch;
		const tip = group.position.clone().addScaledVector(direction, reach);
		const a = this.project(group.parent, group.position);
		const b = this.project(group.parent, tip);
		return { x: (b.x - a.x) / reach, y: (b.y - a.y) / reach };
	}

	/** A drag of pixels in the plane through a part that faces the eye, in the axes of its parent. */
	acrossParent(part: string, dx: number, dy: number): Vector3 | null {
		const group = this.groupOf(part);
		if (!group) return null;
		const { x, y } = this.project(group, new Vector3());
		const from = this.placeInParent(part, x, y);
		const to = this.placeInParent(part, x + dx, y + dy);
		return from && to ? to.sub(from) : null;
	}

	destroy(): void {
		cancelFrame(this.render);
		this.ghosts.destroy();
		this.twin.destroy();
		this.parts.clear();
		this.eye.dispose();
		this.picture.dispose();
	}
}
