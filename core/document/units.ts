/** What values of a property are counted in. */
import type { Property } from './types';
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
