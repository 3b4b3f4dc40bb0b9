/** What kinds of drawings, channels and components are called. */
import { ownNumber } from './rest';
import type { TakeColumn } from './takes';
import {
	componentsOf,
	type BlendKind,
	type Component,
	type Doc,
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

/** What a property is called where no part says more. */
export function propertyLabel(property: Property): string {
	if (property === 'custom') return 'own number';
	return property === 'fieldOfView' ? 'field of view' : property;
}

/** What a channel is called: its property, and the component where there are several. */
export function channelLabel(property: Property, component: Component, part?: Part): string {
	if (property === 'custom') return componentLabel(property, component, part);
	const name = propertyLabel(property);
	return component === 'value' ? name : `${name} ${componentLabel(property, component, part)}`;
}

/** What a component is called: of a morph weight as its model's file calls the target, of a number as its part does. */
export function componentLabel(property: Property, component: Component, part?: Part): string {
	if (property === 'custom') return ownNumber(part, component)?.name ?? `number ${component}`;
	if (property !== 'weight' || part?.drawing.kind !== 'model') return component;
	return part.drawing.targets?.[componentsOf(property).indexOf(component)] || component;
}

export const BLEND_WORDS: Record<BlendKind, string> = {
	crossfade: 'Crossfade',
	inertial: 'Inertial',
	cut: 'Cut',
};

const COLOUR_NUMBERS = ['red', 'green', 'blue', 'alpha'];

/** What a column of a take is called: its part, what of it, and which number of a colour. */
export function columnLabel(
	doc: Pick<Doc, 'parts'>,
	{ part, property, component, index }: TakeColumn,
): string {
	const own = doc.parts[part];
	const number = index === undefined ? [] : [COLOUR_NUMBERS[index]];
	return [own?.name ?? 'gone', channelLabel(property, component, own), ...number].join(' ');
}
