/** What kinds of drawings, channels and components are called. */
import {
	componentsOf,
	type BlendKind,
	type Component,
	type Drawing,
	type Part,
	type Property,
} from './types';

/** What a drawing of a kind is called. */
export const DRAWING_NAMES: Readonly<Record<Drawing['kind'], string>> = {
	empty: 'group',
	box: 'box',
	ball: 'sphere',
	cylinder: 'cylinder',
	cone: 'cone',
	plane: 'plane',
	card: 'rectangle',
	ellipse: 'ellipse',
	path: 'path',
	label: 'text',
	image: 'picture',
	model: 'model',
	camera: 'camera',
};

/** What a channel is called: its property, and the component where there are several. */
export function channelLabel(property: Property, component: Component, part?: Part): string {
	const name = property === 'fieldOfView' ? 'field of view' : property;
	return component === 'value' ? name : `${name} ${componentLabel(property, component, part)}`;
}

/** What a component is called: of a morph weight as its model's file calls the target, where it does. */
export function componentLabel(property: Property, component: Component, part?: Part): string {
	if (property !== 'weight' || part?.drawing.kind !== 'model') return component;
	return part.drawing.targets?.[componentsOf(property).indexOf(component)] || component;
}

export const BLEND_WORDS: Record<BlendKind, string> = {
	crossfade: 'Crossfade',
	inertial: 'Inertial',
	cut: 'Cut',
};
