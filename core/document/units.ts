/** What values of a property are counted in. */
import { ownNumber } from './rest';
import type { Component, Doc, Property } from './types';
import type { Space } from '../pose/space';

const LENGTHS: ReadonlySet<Property> = new Set(['translation', 'size', 'radius', 'stroke']);
const ANGLES: ReadonlySet<Property> = new Set(['rotation', 'orientation', 'fieldOfView']);

export function isLength(property: Property): boolean {
	return LENGTHS.has(property);
}

export function isAngle(property: Property): boolean {
	return ANGLES.has(property);
}

/** As it is written behind a number; empty for factors and shares. */
export function unitOf(property: Property, space: Space): string {
	if (isLength(property)) return space === 'world' ? ' m' : ' px';
	return isAngle(property) ? '°' : '';
}

/** Signs that stand at the number itself. */
const CLOSE = /^[%°′″‰]/;

/** As it is written behind a number of a part: that of its property, or the one of a number of one's own. */
export function unitAt(
	doc: Doc,
	{ part, property, component }: { part: string; property: Property; component: Component },
): string {
	if (property !== 'custom') return unitOf(property, doc.project.space);
	const unit = ownNumber(doc.parts[part], component)?.unit ?? '';
	return unit === '' || CLOSE.test(unit) ? unit : ` ${unit}`;
}
