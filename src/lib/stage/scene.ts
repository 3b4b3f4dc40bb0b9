/** The picture of a pose: three.js objects for the parts, a camera for each view, picking and projection. */
import {
	AmbientLight,
	Box3,
	DirectionalLight,
	Group,
	MathUtils,
	Matrix4,
	Mesh,
	Object3D,
	OrthographicCamera,
	PerspectiveCamera,
	Plane,
	Raycaster,
	Scene,
	Vector2,
	Vector3,
	WebGLRenderer,
	type Camera,
	type Material,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { drawingIn, POSE_STRIDE, slotOffset, type CompiledClip } from '$core/clip/compile';
import type { Doc, Part } from '$core/document/types';
import type { Space } from '$core/pose/space';
import { cancelFrame, nextPicture } from '$lib/ui/frames';
import { PartBody } from './part-body';
import { disposeGhosts, makeGhosts, type GhostPose } from './ghosts';
import { disposeGrid, makeGrid } from './grid';
import type { AxesOf, ViewName } from './stage-look.svelte';

interface PartNode {
	part: Part;
	group: Group;
	body: PartBody | null;
	/** Degrees, of a camera in the last pose. */
	fieldOfView: number;
	/** Not to be shown, whatever the pose says. */
	isHidden: boolean;
}

export interface StageColours {
	ink: string;
	contour: string;
	rust: string;
	/** Ghosts before and after the playhead. */
	past: string;
	coming: string;
}

type FlatView = Exclude<ViewName, 'perspective' | 'camera'>;
/** Directions that the flat views look from, and what is up there. */
const FLAT_VIEWS: Record<FlatView, { from: Vector3; up: Vector3 }> = {
	front: { from: new Vector3(0, 0, 1), up: new Vector3(0, 1, 0) },
	screen: { from: new Vector3(0, 0, 1), up: new Vector3(0, 1, 0) },
	side: { from: new Vector3(1, 0, 0), up: new Vector3(0, 1, 0) },
	top: { from: new Vector3(0, 1, 0), up: new Vector3(0, 0, -1) },
};

/** Pixels at the top that the bar of the stage takes. */
const BAR_HEIGHT = 60;

const FIELD_OF_VIEW = slotOffset('fieldOfView', 'value');

export class StageScene {
	private readonly renderer: WebGLRenderer;
	private readonly scene = new Scene();
	/** Carries the parts; mirrors y for the interface space. */
	private readonly root = new Group();
	private grid: Group | null = null;
	private readonly nodes = new Map<string, PartNode>();
	private twin: Group | null = null;
	private ghosts: Group | null = null;
	private camera: PerspectiveCamera | OrthographicCamera = new PerspectiveCamera(38, 1, 0.05, 2000);
	private controls: OrbitControls;
	private readonly raycaster = new Raycaster();
	private width = 1;
	private height = 1;
	private space: Space = 'world';
	/** The camera that the view named so looks through. */
	private eye: string | null = null;
	view: ViewName = 'perspective';
	/** Called after each picture, for what is drawn over it. */
	onrender: () => void = () => {};

	constructor(
		private readonly canvas: HTMLCanvasElement,
		private colours: StageColours,
		/** Where a picture of the project is fetched. */
		private readonly assetPath: (asset: string) => string,
	) {
		const software = isSoftware();
		this.renderer = new WebGLRenderer({ canvas, alpha: true, antialias: !software });
		this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio || 1));
		const sun = new DirectionalLight(0xffffff, 1.5);
		sun.position.set(-3, 6, 8);
		this.scene.add(new AmbientLight(0xffffff, 1.9), sun, this.root);
		this.controls = this.makeControls();
	}

	private makeControls(): OrbitControls {
		const controls = new OrbitControls(this.camera as Camera as PerspectiveCamera, this.canvas);
		controls.enableDamping = false;
		controls.zoomToCursor = true;
		controls.addEventListener('change', () => this.request());
		return controls;
	}

	setColours(colours: StageColours): void {
		this.colours = colours;
		for (const node of this.nodes.values()) this.dispose(node);
		this.nodes.clear();
		this.ghosts = null;
		this.root.clear();
		this.drawGrid();
	}

	resize(width: number, height: number): void {
		if (width < 2 || height < 2) return;
		const first = this.width <= 1;
		this.width = width;
		this.height = height;
		this.renderer.setSize(width, height, false);
		this.shapeCamera();
		if (first) this.fit();
		this.request();
	}

	private shapeCamera(): void {
		const aspect = this.width / this.height;
		if (this.camera instanceof PerspectiveCamera) this.camera.aspect = aspect;
		else {
			const half = (this.camera.top - this.camera.bottom) / 2;
			this.camera.left = -half * aspect;
			this.camera.right = half * aspect;
		}
		this.camera.updateProjectionMatrix();
	}

	/** Builds what is new or changed of the parts' drawings. */
	setDocument(doc: Doc, tree: readonly { part: Part }[]): void {
		this.space = doc.project.space;
		this.root.scale.set(1, this.space === 'interface' ? -1 : 1, 1);
		const seen = new Set<string>();
		for (const { part } of tree) {
			seen.add(part.id);
			const known = this.nodes.get(part.id);
			if (known && known.part === part) continue;
			const node = known ?? { part, group: new Group(), body: null, fieldOfView: 0, isHidden: false };
			if (!known || known.part.drawing !== part.drawing || known.part.colour !== part.colour) {
				this.dispose(node);
				this.draw(node, part);
			}
			node.part = part;
			node.group.rotation.order = part.eulerOrder;
			node.group.userData.partGroup = part.id;
			this.nodes.set(part.id, node);
		}
		for (const [id, node] of this.nodes) {
			if (seen.has(id)) continue;
			this.dispose(node);
			node.group.removeFromParent();
			this.nodes.delete(id);
		}
		for (const { part } of tree) {
			const parent = part.parent === null ? this.root : this.nodes.get(part.parent)!.group;
			const { group } = this.nodes.get(part.id)!;
			if (group.parent !== parent) parent.add(group);
		}
		this.request();
	}

	private dispose(node: PartNode): void {
		node.body?.dispose();
		node.body = null;
	}

	private draw(node: PartNode, part: Part): void {
		node.body = new PartBody(part, {
			space: this.space,
			ink: this.colours.ink,
			assetPath: this.assetPath,
			request: () => this.request(),
		});
		node.group.add(node.body.group);
	}

	/** Puts every part where a pose says. `isHidden` decides what is not drawn. */
	setPose(compiled: CompiledClip, pose: Float64Array, isHidden: (part: string) => boolean): void {
		const opacity = new Float64Array(compiled.parts.length);
		compiled.parts.forEach((part, index) => {
			const node = this.nodes.get(part.id);
			if (!node) return;
			const at = index * POSE_STRIDE;
			node.group.position.set(pose[at], pose[at + 1], pose[at + 2]);
			node.group.rotation.set(
				MathUtils.degToRad(pose[at + 3]),
				MathUtils.degToRad(pose[at + 4]),
				MathUtils.degToRad(pose[at + 5]),
			);
			node.group.scale.set(pose[at + 6], pose[at + 7], pose[at + 8]);
			const parent = part.parent === null ? -1 : compiled.indexOfPart.get(part.parent)!;
			// What is off, or wholly clear, hides all that hangs on it.
			const shown = pose[at + 10] >= 0.5 ? Math.min(1, Math.max(0, pose[at + 9])) : 0;
			opacity[index] = shown * (parent < 0 ? 1 : opacity[parent]);
			const own = opacity[index] * pose[at + 14];
			node.fieldOfView = pose[at + FIELD_OF_VIEW];
			node.isHidden = isHidden(part.id);
			if (!node.body) return;
			node.body.group.visible = own > 0.004 && !node.isHidden;
			node.body.show(drawingIn(compiled, part, pose, at));
			node.body.setLook(pose[at + 11], pose[at + 12], pose[at + 13], own);
		});
		this.request();
	}

	/** Shows a part at other times; an empty list shows none. */
	setGhosts(part: string | null, compiled: CompiledClip | null, poses: readonly GhostPose[]): void {
		if (this.ghosts) disposeGhosts(this.ghosts);
		this.ghosts = null;
		const group = part === null ? null : this.groupOf(part);
		if (part !== null && group && compiled && poses.length > 0) {
			const { past, coming } = this.colours;
			this.ghosts = makeGhosts(part, group, this.bodyOf, compiled, poses, { past, coming });
			this.root.add(this.ghosts);
		}
		this.request();
	}

	/** Shows the pinned version of parts (and what hangs on them) as pale twins; without a pose, none. */
	setTwin(parts: readonly string[], compiled: CompiledClip | null, pose: Float64Array | null): void {
		if (this.twin) disposeGhosts(this.twin);
		this.twin = null;
		if (compiled && pose) {
			this.twin = new Group();
			const { past, coming } = this.colours;
			for (const part of parts) {
				const group = this.groupOf(part);
				if (!group || !compiled.indexOfPart.has(part)) continue;
				const poses = [{ pose, past: true, distance: 0 }];
				const one = makeGhosts(part, group, this.bodyOf, compiled, poses, { past, coming });
				this.twin.add(...one.children);
			}
			this.root.add(this.twin);
		}
		this.request();
	}

	/** Where a place of the project's own space is on the canvas, in pixels. */
	projectWorld(x: number, y: number, z: number): { x: number; y: number } {
		return this.project(this.root, new Vector3(x, y, z));
	}

	/** The part in hand: of a camera what it sees is shown too. */
	setPicked(part: string | null): void {
		for (const [id, { body }] of this.nodes) body?.setPicked(id === part);
		this.request();
	}

	/** Looks through a camera of the project; null leaves the picture as it is. */
	setEye(part: string | null): void {
		if (this.eye === part) return;
		this.eye = part;
		this.request();
	}

	/** Puts the view's camera where the project's own camera is. */
	private followEye(): void {
		const node = this.eye === null ? undefined : this.nodes.get(this.eye);
		if (this.view !== 'camera' || !node || !(this.camera instanceof PerspectiveCamera)) return;
		node.group.updateWorldMatrix(true, false);
		node.group.matrixWorld.decompose(this.camera.position, this.camera.quaternion, new Vector3());
		// Keys may go beyond what a camera can see.
		const degrees = MathUtils.clamp(node.fieldOfView, 1, 170);
		if (this.camera.fov !== degrees) {
			this.camera.fov = degrees;
			this.camera.updateProjectionMatrix();
		}
	}

	setView(view: ViewName): void {
		this.view = view;
		const old = this.controls;
		this.camera =
			view === 'perspective' || view === 'camera'
				? new PerspectiveCamera(38, this.width / this.height, 0.05, 4000)
				: new OrthographicCamera(-1, 1, 1, -1, -5000, 5000);
		old.dispose();
		this.controls = this.makeControls();
		this.controls.enabled = view !== 'camera';
		this.controls.enableRotate = view === 'perspective';
		if (view !== 'perspective') {
			// Without turning, the main button moves the sheet.
			this.controls.mouseButtons = { LEFT: 2, MIDDLE: 1, RIGHT: 2 };
		}
		this.drawGrid();
		this.fit();
	}

	private drawGrid(): void {
		if (this.grid) disposeGrid(this.grid);
		this.grid = makeGrid(this.view, this.space, this.colours);
		this.scene.add(this.grid);
	}

	/** Brings all parts (or one) into the picture. */
	fit(part?: string): void {
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
		} else
			for (const { part: own, body } of this.nodes.values())
				// Cameras look on from afar.
				if (body && own.drawing.kind !== 'camera') box.expandByObject(body.group);
		if (box.isEmpty()) {
			const unit = this.space === 'interface' ? 320 : 3;
			box.set(new Vector3(-unit, -unit, 0), new Vector3(unit, unit, 0));
		}
		const centre = box.getCenter(new Vector3());
		const size = box.getSize(new Vector3());
		// A part is shown with something of what is around it.
		if (part) size.multiplyScalar(2.2);
		const aspect = this.width / this.height;
		// The bar and the readout leave this share of the height, and the middle of it is lower.
		const over = Math.min(BAR_HEIGHT, this.height / 4) / this.height;
		const share = 1 - over;
		if (this.camera instanceof PerspectiveCamera) {
			const radius = Math.max(size.y / share, size.x / aspect, size.z) * 0.5;
			const distance = (radius / Math.tan(MathUtils.degToRad(19))) * 1.08 + size.z / 2;
			centre.y += over * radius;
			this.camera.position.copy(centre).add(new Vector3(0.28, 0.24, 1).normalize().multiplyScalar(distance));
		} else {
			const { from, up } = FLAT_VIEWS[this.view as FlatView];
			const right = new Vector3().crossVectors(up, from);
			const across = Math.abs(size.dot(new Vector3(Math.abs(right.x), Math.abs(right.y), Math.abs(right.z))));
			const upward = Math.abs(size.dot(new Vector3(Math.abs(up.x), Math.abs(up.y), Math.abs(up.z))));
			const half = Math.max(upward / share, across / aspect) * 0.54;
			this.camera.top = half;
			this.camera.bottom = -half;
			this.camera.zoom = 1;
			this.camera.up.copy(up);
			centre.addScaledVector(up, over * half);
			this.camera.position.copy(centre).addScaledVector(from, 1000);
			this.shapeCamera();
		}
		this.controls.target.copy(centre);
		this.controls.update();
		this.request();
	}

	/** Asks for a picture: once, however often it is called until it is drawn. */
	request(): void {
		nextPicture(this.render);
	}

	private readonly render = (): void => {
		this.followEye();
		// Its own body would stand before its eye.
		const own = this.view === 'camera' && this.eye !== null ? this.nodes.get(this.eye)?.body?.group : null;
		const wasShown = own?.visible ?? false;
		if (own) own.visible = false;
		this.renderer.render(this.scene, this.camera);
		if (own) own.visible = wasShown;
		this.onrender();
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
		for (const { object } of hits) {
			const shown =
				object.parent?.visible && object instanceof Mesh && (object.material as Material).opacity > 0.02;
			const part = object.userData.part as string | undefined;
			if (shown && part !== undefined && may(part)) return part;
		}
		return null;
	}

	private aim(x: number, y: number): void {
		this.camera.updateMatrixWorld();
		this.raycaster.setFromCamera(
			new Vector2((2 * x) / this.width - 1, 1 - (2 * y) / this.height),
			this.camera,
		);
	}

	/** Where a place of a part's own space is on the canvas, in pixels. */
	project(object: Object3D, local: Vector3): { x: number; y: number } {
		object.updateWorldMatrix(true, false);
		const p = local.clone().applyMatrix4(object.matrixWorld).project(this.camera);
		return { x: ((p.x + 1) * this.width) / 2, y: ((1 - p.y) * this.height) / 2 };
	}

	/** What shows a part; null where it is not to be shown. */
	private readonly bodyOf = (part: string): PartBody | null => {
		const node = this.nodes.get(part);
		return node && !node.isHidden ? node.body : null;
	};

	groupOf(part: string): Group | null {
		return this.nodes.get(part)?.group ?? null;
	}

	/** Which of a parent's axes looks most towards the eye, and whether turning about it looks reversed. */
	facingAxis(part: string): { axis: 0 | 1 | 2; sign: 1 | -1 } {
		const group = this.groupOf(part);
		const parent = group?.parent ?? this.root;
		const eye = this.camera.getWorldDirection(new Vector3()).negate();
		let axis: 0 | 1 | 2 = 2;
		let best = 0;
		const m = parent.matrixWorld;
		for (const candidate of [0, 1, 2] as const) {
			const direction = new Vector3().setFromMatrixColumn(m, candidate).normalize();
			const towards = direction.dot(eye);
			if (Math.abs(towards) > Math.abs(best) + 1e-6) {
				best = towards;
				axis = candidate;
			}
		}
		const mirrored = m.determinant() < 0 ? -1 : 1;
		return { axis, sign: Math.sign(best * mirrored) < 0 ? -1 : 1 };
	}

	/** A place of the canvas carried to the plane through a part that faces the eye, in the axes of its parent. */
	placeInParent(part: string, x: number, y: number): Vector3 | null {
		const group = this.groupOf(part);
		if (!group?.parent) return null;
		const normal = this.camera.getWorldDirection(new Vector3());
		const origin = group.getWorldPosition(new Vector3());
		this.aim(x, y);
		const hit = this.raycaster.ray.intersectPlane(
			new Plane().setFromNormalAndCoplanarPoint(normal, origin),
			new Vector3(),
		);
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
		const reach = this.space === 'interface' ? 10 : 0.1;
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
		for (const node of this.nodes.values()) this.dispose(node);
		this.controls.dispose();
		this.renderer.dispose();
	}
}

function isSoftware(): boolean {
	const gl = document.createElement('canvas').getContext('webgl2');
	const info = gl?.getExtension('WEBGL_debug_renderer_info');
	const name = info ? String(gl?.getParameter(info.UNMASKED_RENDERER_WEBGL)) : '';
	return /swiftshader|llvmpipe|software/i.test(name);
}
