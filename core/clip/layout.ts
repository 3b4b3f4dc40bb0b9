/** Where a document's numbers lie in a pose, and what they are there or at rest. */
import { makeLayout, placeOf, type NewTarget, type PoseLayout, type TargetKind } from '../../player/layout';
import { eulerInto, closestEuler, fromEuler, toEuler, type Quaternion } from '../../player/maths/quaternion';
import type { Four, Vec3 } from '../../player/maths/vector';
import { drawnWith, hasProperty, numbersOf, restValue } from '../document/rest';
import {
	componentsOf,
	isVector,
	PROPERTIES,
	type Channel,
	type Clip,
	type Component,
	type Doc,
	type Drawing,
	type Formula,
	type Part,
	type Property,
} from '../document/types';
import { compose, type Matrix } from '../pose/matrix';
import { parseHex } from '../pose/hex';

/** A pose with where its numbers lie. */
export interface Posed {
	readonly layout: PoseLayout;
	readonly pose: Float64Array;
}

/** Paths of a pose in the order in which a part's lie there. Rotations are made of angles before them. */
const PATHS = [
	'translation',
	'angles',
	'rotation',
	...PROPERTIES.slice(PROPERTIES.indexOf('scale')),
] as const;
type Path = (typeof PATHS)[number];

/** Properties that belong to certain drawings, and not to every part. */
const DRAWING_PROPERTIES = PROPERTIES.slice(PROPERTIES.indexOf('size'));

function pathOf(property: Property): Path {
	if (property === 'rotation') return 'angles';
	return property === 'orientation' ? 'rotation' : property;
}

function kindOf(path: Path): TargetKind {
	switch (path) {
		case 'rotation':
		case 'angles':
		case 'colour':
			return path;
		case 'visible':
			return 'switch';
		default:
			return 'number';
	}
}

function restOf(part: Part, path: Path): readonly number[] {
	switch (path) {
		case 'rotation':
			return fromEuler(part.rest.rotation, part.eulerOrder);
		case 'angles':
			return part.rest.rotation;
		case 'colour':
			return parseHex(part.colour);
		default:
			return componentsOf(path).map((component) => restValue(part, path, component));
	}
}

/** What clips move of the parts in a tree, parents first: only that has a place in their poses. */
export function layoutOf(
	parts: readonly Part[],
	channels: readonly Channel[],
	formulas: readonly Formula[],
): PoseLayout {
	const moved = new Map<string, Set<Path>>();
	const add = (part: string, path: Path) => {
		const own = moved.get(part);
		if (own) own.add(path);
		else moved.set(part, new Set([path]));
	};
	for (const { part, property, keys } of channels) {
		if (keys.length === 0) continue;
		add(part, pathOf(property));
		if (property === 'rotation') add(part, 'rotation');
	}
	for (const { part, property, inputs } of formulas) {
		add(part, pathOf(property));
		if (property === 'rotation') add(part, 'rotation');
		// The angles of an orientation are worked out for those who read them.
		for (const input of Object.values(inputs))
			if ('part' in input && input.property === 'rotation' && moved.get(input.part)?.has('rotation'))
				add(input.part, 'angles');
	}
	const wanted: NewTarget[] = [];
	for (const part of parts) {
		const own = moved.get(part.id);
		if (!own) continue;
		for (const path of PATHS)
			if (own.has(path)) wanted.push({ part: part.id, path, kind: kindOf(path), rest: restOf(part, path) });
	}
	return makeLayout(wanted);
}

/** Where a number of a document lies in a pose, or −1 where nothing moves it. */
export function numberPlace(
	layout: PoseLayout,
	part: string,
	property: Property,
	component: Component,
): number {
	const at = placeOf(layout, part, pathOf(property));
	return at < 0 ? -1 : at + componentsOf(property).indexOf(component);
}

/** A number of a part in a pose, in the document's units; at rest where nothing moves it. */
export function numberIn(posed: Posed, part: Part, property: Property, component: Component): number {
	if (property === 'rotation') return rotationIn(posed, part)[componentsOf(property).indexOf(component)];
	const at = numberPlace(posed.layout, part.id, property, component);
	return at < 0 ? restValue(part, property, component) : posed.pose[at];
}

/** Puts a number into a pose where it has a place; whether it has. Angles turn their part at once. */
export function putNumber(
	{ layout, pose }: Posed,
	{ id, eulerOrder }: Part,
	property: Property,
	component: Component,
	value: number,
): boolean {
	const at = numberPlace(layout, id, property, component);
	if (at < 0) return false;
	pose[at] = value;
	const turned = property === 'rotation' ? placeOf(layout, id, 'rotation') : -1;
	const angles = placeOf(layout, id, 'angles');
	if (turned >= 0) eulerInto(pose[angles], pose[angles + 1], pose[angles + 2], eulerOrder, pose, turned);
	return true;
}

/** The three or four numbers of a vector, a colour or an orientation. */
function rowIn({ layout, pose }: Posed, part: Part, path: Path): readonly number[] {
	const at = placeOf(layout, part.id, path);
	if (at < 0) return restOf(part, path);
	const row = [pose[at], pose[at + 1], pose[at + 2]];
	if (path === 'rotation' || path === 'colour') row.push(pose[at + 3]);
	return row;
}

/** Translation or scale of a part in a pose. */
export function vectorIn(posed: Posed, part: Part, property: 'translation' | 'scale'): Vec3 {
	return rowIn(posed, part, property) as Vec3;
}

/** sRGB and alpha of a part in a pose, 0…1. */
export function colourIn(posed: Posed, part: Part): Four {
	return rowIn(posed, part, 'colour') as Four;
}

/** The orientation of a part in a pose. */
export function orientationIn(posed: Posed, part: Part): Quaternion {
	return rowIn(posed, part, 'rotation') as Quaternion;
}

/** The angles of a part in a pose, in degrees: of an orientation those nearest to the part's rest that mean it. */
export function rotationIn(posed: Posed, part: Part): Vec3 {
	const { layout } = posed;
	if (placeOf(layout, part.id, 'angles') >= 0 || placeOf(layout, part.id, 'rotation') < 0)
		return rowIn(posed, part, 'angles') as Vec3;
	return nearestAngles(orientationIn(posed, part), part);
}

export function nearestAngles(orientation: Quaternion, { eulerOrder, rest }: Part): Vec3 {
	return closestEuler(toEuler(orientation, eulerOrder), rest.rotation, eulerOrder);
}

/** All that a clip may change of a part, in a pose: numbers and switches, its angles among them, and its colour. */
export function allNumbersIn(posed: Posed, part: Part): number[] {
	const numbers = numbersOf(part).filter(({ property }) => !isVector(property));
	return [
		...numbers.map(({ property, component }) => numberIn(posed, part, property, component)),
		...colourIn(posed, part),
	];
}

/** What a part looks like in a pose: its drawing with the numbers that differ from rest, or itself where none does. */
export function drawingIn({ layout, pose }: Posed, part: Part): Drawing {
	let { drawing } = part;
	for (const property of DRAWING_PROPERTIES) {
		const at = placeOf(layout, part.id, property);
		if (at < 0 || !hasProperty(part, property)) continue;
		componentsOf(property).forEach((component, i) => {
			if (pose[at + i] !== layout.rest[at + i])
				drawing = drawnWith(drawing, property, component, pose[at + i]);
		});
	}
	return drawing;
}

/** What carries a part's own places into its parent's, in a pose. */
export function partMatrix(posed: Posed, part: Part): Matrix {
	return compose(
		vectorIn(posed, part, 'translation'),
		orientationIn(posed, part),
		vectorIn(posed, part, 'scale'),
	);
}

/** The parts that clips of a document move, their channels and formulas. */
export function movedIn(doc: Doc, clips: readonly Clip[]): { channels: Channel[]; formulas: Formula[] } {
	const ids = new Set(clips.map((clip) => clip.id));
	return {
		channels: Object.values(doc.channels).filter(({ clip }) => ids.has(clip)),
		formulas: Object.values(doc.formulas).filter(({ clip }) => ids.has(clip)),
	};
}
