/** The eye of the stage: the camera of each view, how it is moved, and how it brings things into the picture. */
import {
	MathUtils,
	OrthographicCamera,
	PerspectiveCamera,
	type Quaternion,
	Vector3,
	type Box3,
	type Camera,
	type Group,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { ViewName } from '$lib/session/stage-look.svelte';

type FlatView = Exclude<ViewName, 'perspective' | 'camera'>;
/** Directions that the flat views look from, and what is up there. */
const FLAT_VIEWS: Record<FlatView, { from: Vector3; up: Vector3 }> = {
	front: { from: new Vector3(0, 0, 1), up: new Vector3(0, 1, 0) },
	screen: { from: new Vector3(0, 0, 1), up: new Vector3(0, 1, 0) },
	side: { from: new Vector3(1, 0, 0), up: new Vector3(0, 1, 0) },
	top: { from: new Vector3(0, 1, 0), up: new Vector3(0, 0, -1) },
};

/** Pixels at the top that the bar of the stage takes. */
const BAR_HEIGHT = 34;
const FIELD_OF_VIEW = 38;

export class StageEye {
	camera: PerspectiveCamera | OrthographicCamera = new PerspectiveCamera(FIELD_OF_VIEW, 1, 0.05, 2000);
	private controls: OrbitControls;
	view: ViewName = 'perspective';
	/** Whether it was moved by hand since it was put somewhere. */
	isByHand = false;
	width = 1;
	height = 1;

	constructor(
		private readonly canvas: HTMLCanvasElement,
		private readonly onchange: () => void,
	) {
		this.controls = this.makeControls();
	}

	private makeControls(): OrbitControls {
		const controls = new OrbitControls(this.camera as Camera as PerspectiveCamera, this.canvas);
		controls.enableDamping = false;
		controls.zoomToCursor = true;
		controls.addEventListener('change', this.onchange);
		controls.addEventListener('start', () => (this.isByHand = true));
		return controls;
	}

	resize(width: number, height: number): void {
		this.width = width;
		this.height = height;
		this.shape();
	}

	private shape(): void {
		const aspect = this.width / this.height;
		if (this.camera instanceof PerspectiveCamera) this.camera.aspect = aspect;
		else {
			const half = (this.camera.top - this.camera.bottom) / 2;
			this.camera.left = -half * aspect;
			this.camera.right = half * aspect;
		}
		this.camera.updateProjectionMatrix();
	}

	setView(view: ViewName): void {
		this.view = view;
		const old = this.controls;
		this.camera =
			view === 'perspective' || view === 'camera'
				? new PerspectiveCamera(FIELD_OF_VIEW, this.width / this.height, 0.05, 4000)
				: new OrthographicCamera(-1, 1, 1, -1, -5000, 5000);
		old.dispose();
		this.controls = this.makeControls();
		this.controls.enabled = view !== 'camera';
		this.controls.enableRotate = view === 'perspective';
		if (view !== 'perspective') {
			// Without turning, the main button moves the sheet.
			this.controls.mouseButtons = { LEFT: 2, MIDDLE: 1, RIGHT: 2 };
		}
	}

	/** Pixels of the canvas for a unit of the world at a place. */
	pixelsAt(place: Vector3): number {
		const { camera } = this;
		if (camera instanceof OrthographicCamera)
			return (this.height * camera.zoom) / (camera.top - camera.bottom);
		const seen = 2 * Math.tan(MathUtils.degToRad(camera.fov / 2)) * camera.position.distanceTo(place);
		return this.height / Math.max(seen, 1e-6);
	}

	/** Puts the camera where a camera of the project is. */
	follow(group: Group, fieldOfView: number): void {
		if (!(this.camera instanceof PerspectiveCamera)) return;
		group.updateWorldMatrix(true, false);
		group.matrixWorld.decompose(this.camera.position, this.camera.quaternion, new Vector3());
		// Keys may go beyond what a camera can see.
		const degrees = MathUtils.clamp(fieldOfView, 1, 170);
		if (this.camera.fov === degrees) return;
		this.camera.fov = degrees;
		this.camera.updateProjectionMatrix();
	}

	/** Brings a box into the picture, with `room` times its size about it. */
	frame(box: Box3, room = 1): void {
		this.isByHand = false;
		const centre = box.getCenter(new Vector3());
		const size = box.getSize(new Vector3()).multiplyScalar(room);
		const aspect = this.width / this.height;
		// The bar and the readout leave this share of the height, and the middle of it is lower.
		const over = Math.min(BAR_HEIGHT, this.height / 4) / this.height;
		const share = 1 - over;
		if (this.camera instanceof PerspectiveCamera) {
			const radius = Math.max(size.y / share, size.x / aspect, size.z) * 0.5;
			const distance = (radius / Math.tan(MathUtils.degToRad(FIELD_OF_VIEW / 2))) * 1.08 + size.z / 2;
			centre.y += over * radius;
			this.camera.position.copy(centre).add(new Vector3(0.28, 0.24, 1).normalize().multiplyScalar(distance));
		} else {
			const { from, up } = FLAT_VIEWS[this.view as FlatView];
			const right = new Vector3().crossVectors(up, from);
			const along = (axis: Vector3) =>
				Math.abs(size.dot(new Vector3(Math.abs(axis.x), Math.abs(axis.y), Math.abs(axis.z))));
			const half = Math.max(along(up) / share, along(right) / aspect) * 0.54;
			this.camera.top = half;
			this.camera.bottom = -half;
			this.camera.zoom = 1;
			this.camera.up.copy(up);
			centre.addScaledVector(up, over * half);
			this.camera.position.copy(centre).addScaledVector(from, 1000);
			this.shape();
		}
		this.controls.target.copy(centre);
		this.controls.update();
	}

	/** What is looked at: the middle of the picture that the bar leaves, at the depth of a place. */
	middle(depthOf: Vector3): Vector3 {
		const down = BAR_HEIGHT / this.height;
		const middle = new Vector3(0, -down, depthOf.clone().project(this.camera).z).unproject(this.camera);
		return this.camera instanceof PerspectiveCamera ? this.controls.target.clone() : middle;
	}

	/** Where a camera would have to stand to see what is seen now. */
	stand(): { at: Vector3; orientation: Quaternion } {
		const at = this.camera.position.clone();
		const orientation = this.camera.quaternion.clone();
		if (this.camera instanceof OrthographicCamera) {
			const half = (this.camera.top - this.camera.bottom) / 2 / this.camera.zoom;
			const distance = half / Math.tan(MathUtils.degToRad(FIELD_OF_VIEW / 2));
			const back = at.clone().sub(this.controls.target).normalize();
			at.copy(this.controls.target).addScaledVector(back, distance);
		}
		return { at, orientation };
	}

	dispose(): void {
		this.controls.dispose();
	}
}
