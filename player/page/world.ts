/**
 * A page with a scene in space. It brings along what it needs of three.js: a page that is opened from a disk may load no
 * modules, and three.js comes as nothing else. The player itself needs none of it.
 */
import {
	Box3,
	BufferGeometry,
	DirectionalLight,
	DoubleSide,
	Float32BufferAttribute,
	Group,
	HemisphereLight,
	Mesh,
	MeshStandardMaterial,
	PerspectiveCamera,
	Raycaster,
	Scene,
	Spherical,
	SRGBColorSpace,
	Vector2,
	Vector3,
	WebGLRenderer,
	type Object3D,
} from 'three';
import { bindToObjects } from '../bind/three';
import { fromEuler } from '../maths/quaternion';
import { placeOf } from '../layout';
import type { ReadClips } from '../file/read';
import type { Look, PageData, Solid } from './looks';
import { find, run, type Stage } from './page';

const VIEW_ANGLE = 35;
/** How much farther away than needed the eye stands at first. */
const ROOM = 1.25;
/** Pixels that a press may wander and still be a tap. */
const TAP_SLOP = 4;

function meshOf({ positions, normals, indices, shades, colour }: Solid, opacity: number): Mesh {
	const geometry = new BufferGeometry();
	geometry.setAttribute('position', new Float32BufferAttribute(positions, 3));
	geometry.setAttribute('normal', new Float32BufferAttribute(normals, 3));
	geometry.setIndex(indices);
	if (shades)
		geometry.setAttribute(
			'color',
			new Float32BufferAttribute(
				shades.flatMap((shade) => [shade, shade, shade]),
				3,
			),
		);
	const material = new MeshStandardMaterial({
		color: colour,
		roughness: 0.9,
		side: DoubleSide,
		vertexColors: shades !== undefined,
		transparent: opacity < 1,
		opacity,
	});
	return new Mesh(geometry, material);
}

/** The parts as objects of a scene, in their order. */
function objectsOf(set: ReadClips, looks: readonly Look[], scene: Scene): Object3D[] {
	const objects = set.parts.map(({ name, rest = {}, order = 'XYZ' }, i) => {
		const { solids = [], opacity = 1, hidden = false } = looks[i];
		const object = new Group();
		object.name = name;
		object.position.fromArray(rest.translation ?? [0, 0, 0]);
		object.quaternion.fromArray(fromEuler(rest.rotation ?? [0, 0, 0], order));
		object.scale.fromArray(rest.scale ?? [1, 1, 1]);
		object.visible = !hidden;
		for (const solid of solids) object.add(meshOf(solid, opacity));
		return object;
	});
	objects.forEach((object, i) => (objects[set.parts[i].parent ?? -1] ?? scene).add(object));
	return objects;
}

/** Shows colours and opacities, which the binding leaves to whoever has the materials. */
function bindMaterials({ layout }: ReadClips, objects: readonly Object3D[]): Stage['show'] {
	const bound = objects.flatMap(({ name, children }) => {
		const [colour, opacity] = ['colour', 'opacity'].map((path) => placeOf(layout, name, path));
		if (colour < 0 && opacity < 0) return [];
		const meshes = children.filter((child): child is Mesh => child instanceof Mesh);
		return meshes.map(({ material }) => ({ material: material as MeshStandardMaterial, colour, opacity }));
	});
	return (pose) => {
		for (const { material, colour, opacity } of bound) {
			if (colour >= 0)
				material.color.setRGB(pose[colour], pose[colour + 1], pose[colour + 2], SRGBColorSpace);
			const alpha = (opacity < 0 ? 1 : pose[opacity]) * (colour < 0 ? 1 : pose[colour + 3]);
			material.opacity = alpha;
			material.transparent = alpha < 1;
			material.visible = alpha > 0;
		}
	};
}

/** What looks at a box: dragging turns it about that, the wheel brings it nearer. */
function eyeOn(box: Box3, canvas: HTMLCanvasElement): PerspectiveCamera {
	const aspect = canvas.clientWidth / (canvas.clientHeight || 1);
	const camera = new PerspectiveCamera(VIEW_ANGLE, aspect, 0.01, 1000);
	const center = box.getCenter(new Vector3());
	const { x, y, z } = box.getSize(new Vector3());
	const across = Math.max(y, x / aspect) || 1;
	const distance = (ROOM * across) / (2 * Math.tan((VIEW_ANGLE / 2) * (Math.PI / 180))) + z / 2;
	const eye = new Spherical(distance, 1.4, 0.2);
	const look = () => {
		camera.position.setFromSpherical(eye).add(center);
		camera.lookAt(center);
	};
	let wandered = 0;
	canvas.onpointerdown = () => (wandered = 0);
	canvas.onpointermove = ({ buttons, movementX, movementY }) => {
		if (buttons === 0) return;
		wandered += Math.abs(movementX) + Math.abs(movementY);
		eye.theta -= movementX / 200;
		eye.phi = Math.min(3.1, Math.max(0.04, eye.phi - movementY / 200));
		look();
	};
	canvas.onclick = (event) => wandered > TAP_SLOP && event.stopPropagation();
	canvas.onwheel = (event) => {
		event.preventDefault();
		eye.radius *= Math.exp(event.deltaY / 800);
		look();
	};
	look();
	return camera;
}

/** The box about what clips move: what stands around, as a sea, may be far larger. */
function boxOfMoving({ layout }: ReadClips, objects: readonly Object3D[]): Box3 {
	const moving = new Set(layout.targets.map(({ part }) => part));
	const box = new Box3();
	for (const object of objects) if (moving.size === 0 || moving.has(object.name)) box.expandByObject(object);
	return box;
}

function makeStage(set: ReadClips, { looks }: PageData): Stage {
	const place = find('stage');
	const scene = new Scene();
	const sun = new DirectionalLight('#ffffff', 1.6);
	sun.position.set(3, 6, 5);
	scene.add(new HemisphereLight('#ffffff', '#8a8578', 2.2), sun);
	const objects = objectsOf(set, looks, scene);
	scene.updateMatrixWorld(true);
	const renderer = new WebGLRenderer({ antialias: true, alpha: true });
	renderer.setPixelRatio(devicePixelRatio);
	place.append(renderer.domElement);
	renderer.setSize(place.clientWidth, place.clientHeight);
	const camera = eyeOn(boxOfMoving(set, objects), renderer.domElement);
	const fit = () => {
		const { clientWidth, clientHeight } = place;
		renderer.setSize(clientWidth, clientHeight);
		camera.aspect = clientWidth / (clientHeight || 1);
		camera.updateProjectionMatrix();
	};
	fit();
	addEventListener('resize', fit);
	const named = new Map(objects.map((object) => [object.name, object]));
	const showObjects = bindToObjects(set, { getObjectByName: (name) => named.get(name) });
	const showMaterials = bindMaterials(set, objects);
	const ray = new Raycaster();
	return {
		show(pose) {
			showObjects(pose);
			showMaterials(pose);
		},
		draw: () => renderer.render(scene, camera),
		partAt({ offsetX, offsetY }) {
			const { clientWidth, clientHeight } = place;
			ray.setFromCamera(
				new Vector2((2 * offsetX) / clientWidth - 1, 1 - (2 * offsetY) / clientHeight),
				camera,
			);
			return ray.intersectObjects(scene.children)[0]?.object.parent?.name;
		},
	};
}

run(makeStage);
