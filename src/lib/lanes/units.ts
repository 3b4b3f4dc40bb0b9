/** Steps and hues of channels, the same wherever they are shown. */
import type { Property } from '$core/document/types';
import type { Space } from '$core/pose/space';
import { isAngle, isLength } from '$core/document/units';

/** Change of a value for one step of an arrow key or a pixel of scrubbing. */
export function stepOf(property: Property, space: Space): number {
	if (isLength(property)) return space === 'world' ? 0.05 : 1;
	return isAngle(property) ? 1 : 0.01;
}

/** CSS variable of a property's hue. */
export const HUES: Record<Property, string> = {
	translation: '--lake',
	rotation: '--heather',
	scale: '--ochre',
	opacity: '--clay',
	visible: '--clay',
	colour: '--clay',
	orientation: '--heather',
	size: '--ochre',
	radius: '--ochre',
	stroke: '--clay',
	trim: '--clay',
	fieldOfView: '--slate',
	weight: '--slate',
};
