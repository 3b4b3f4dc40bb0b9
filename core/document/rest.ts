/** What a part shows where no key says otherwise, number by number, and which numbers it has at all. */
import {
	componentsOf,
	EDGES,
	PROPERTIES,
	type Component,
	type Drawing,
	type OwnNumber,
	type Part,
	type Property,
	type Reveal,
} from './types';
import type { Vec3 } from '../../player/maths/vector';

/** Kinds of drawings that have edges to be revealed from. */
const FLAT: ReadonlySet<Drawing['kind']> = new Set(['plane', 'card', 'ellipse', 'path', 'label', 'image']);

/** Whether a part's drawing has a property; every part moves, fades and takes a colour. */
export function hasProperty({ drawing, numbers }: Part, property: Property): boolean {
	switch (property) {
		case 'size':
			return 'size' in drawing;
		case 'radius':
			return drawing.kind === 'card';
		case 'stroke':
		case 'trim':
			return 'stroke' in drawing && drawing.stroke !== undefined;
		case 'fieldOfView':
			return drawing.kind === 'camera';
		case 'weight':
			return drawing.kind === 'model' && drawing.weights.length > 0;
		case 'reveal':
			return FLAT.has(drawing.kind);
		case 'custom':
			return numbers !== undefined && numbers.length > 0;
		default:
			return true;
	}
}

/** The components of a property that a part has. */
function componentsOn({ drawing, numbers }: Part, property: Property): readonly Component[] {
	const all = componentsOf(property);
	if (property === 'weight') return all.slice(0, drawing.kind === 'model' ? drawing.weights.length : 0);
	return property === 'custom' ? (numbers ?? []).map(({ key }) => key) : all;
}

/** The numbers of a part that a clip can change. */
export function numbersOf(part: Part): { property: Property; component: Component }[] {
	return PROPERTIES.filter((property) => hasProperty(part, property)).flatMap((property) =>
		componentsOn(part, property).map((component) => ({ property, component })),
	);
}

/** Whether a part has a component of a property. */
export function hasNumber(part: Part, property: Property, component: Component): boolean {
	return hasProperty(part, property) && componentsOn(part, property).includes(component);
}

/** A number of one's own of a part, by its component. */
export function ownNumber(part: Part | undefined, component: Component): OwnNumber | undefined {
	return part?.numbers?.find(({ key }) => key === component);
}

/** A part's rest value for one component of a number or a switch; 0 for colours, orientations and what it has not. */
export function restValue(part: Part, property: Property, component: Component): number {
	const { drawing, rest } = part;
	const index = componentsOf(property).indexOf(component);
	switch (property) {
		case 'translation':
		case 'rotation':
		case 'scale':
			return rest[property][index];
		case 'opacity':
			return rest.opacity;
		case 'visible':
			return part.visible ? 1 : 0;
		case 'size':
			return 'size' in drawing ? drawing.size[index] : 0;
		case 'radius':
			return drawing.kind === 'card' ? drawing.radius : 0;
		case 'stroke':
			return 'stroke' in drawing ? (drawing.stroke?.width ?? 0) : 0;
		case 'trim':
			return 'stroke' in drawing && drawing.stroke
				? drawing.stroke[component as 'start' | 'end']
				: component === 'end'
					? 1
					: 0;
		case 'fieldOfView':
			return drawing.kind === 'camera' ? drawing.fieldOfView : 0;
		case 'weight':
			return drawing.kind === 'model' ? (drawing.weights[index] ?? 0) : 0;
		case 'reveal':
			return drawing.reveal?.[component as keyof Reveal] ?? 0;
		case 'custom':
			return ownNumber(part, component)?.value ?? 0;
		case 'colour':
		case 'orientation':
			return 0;
	}
}

function withComponent(vector: Vec3, index: number, value: number): Vec3 {
	return vector.map((v, i) => (i === index ? value : v)) as Vec3;
}

/** A size is taken about the pivot: what stood on it goes on standing there. */
function resized<D extends Drawing & { size: Vec3 }>(drawing: D, axis: number, length: number): D {
	const before = drawing.size[axis];
	const offset = before > 0 ? (drawing.offset[axis] * length) / before : drawing.offset[axis];
	return {
		...drawing,
		size: withComponent(drawing.size, axis, length),
		offset: withComponent(drawing.offset, axis, offset),
	};
}

const NOTHING_HIDDEN: Reveal = { top: 0, right: 0, bottom: 0, left: 0 };

/** A drawing with one number changed; the same one where it has no such number. */
export function drawnWith(
	drawing: Drawing,
	property: Property,
	component: Component,
	value: number,
): Drawing {
	const index = componentsOf(property).indexOf(component);
	switch (property) {
		case 'size':
			return 'size' in drawing ? resized(drawing, index, Math.max(0, value)) : drawing;
		case 'radius':
			return drawing.kind === 'card' ? { ...drawing, radius: Math.max(0, value) } : drawing;
		case 'stroke':
		case 'trim': {
			if (!('stroke' in drawing) || !drawing.stroke) return drawing;
			const member = property === 'stroke' ? 'width' : (component as 'start' | 'end');
			const kept = property === 'stroke' ? Math.max(0, value) : Math.min(1, Math.max(0, value));
			return { ...drawing, stroke: { ...drawing.stroke, [member]: kept } };
		}
		case 'fieldOfView':
			return drawing.kind === 'camera'
				? { ...drawing, fieldOfView: Math.min(170, Math.max(1, value)) }
				: drawing;
		case 'reveal': {
			const { reveal: before, ...whole } = drawing;
			const reveal = { ...NOTHING_HIDDEN, ...before, [component]: Math.min(1, Math.max(0, value)) };
			return EDGES.every((edge) => reveal[edge] === 0) ? whole : { ...whole, reveal };
		}
		case 'weight':
			return drawing.kind === 'model'
				? { ...drawing, weights: drawing.weights.map((w, i) => (i === index ? value : w)) }
				: drawing;
		default:
			return drawing;
	}
}

/** Below this a size would lose where its drawing stands about the pivot. */
const LEAST_SIZE = 1e-6;

/** A part with one rest value changed, kept within what it may be; colours and orientations are not numbers. */
export function partWithRest(part: Part, property: Property, component: Component, value: number): Part {
	const { rest } = part;
	switch (property) {
		case 'translation':
		case 'rotation':
		case 'scale':
			return {
				...part,
				rest: {
					...rest,
					[property]: withComponent(rest[property], componentsOf(property).indexOf(component), value),
				},
			};
		case 'opacity':
			return { ...part, rest: { ...rest, opacity: Math.min(1, Math.max(0, value)) } };
		case 'visible':
			return { ...part, visible: value >= 0.5 };
		case 'colour':
		case 'orientation':
			return part;
		case 'custom': {
			const numbers = part.numbers?.map((own) =>
				own.key === component ? { ...own, value: Math.min(own.high, Math.max(own.low, value)) } : own,
			);
			return numbers ? { ...part, numbers } : part;
		}
		default: {
			const solid = property === 'size' && restValue(part, property, component) > 0;
			const kept = solid ? Math.max(LEAST_SIZE, value) : value;
			const drawing = drawnWith(part.drawing, property, component, kept);
			return drawing === part.drawing ? part : { ...part, drawing };
		}
	}
}
