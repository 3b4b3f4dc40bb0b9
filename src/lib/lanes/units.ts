/** Steps and hues of channels, the same wherever they are shown. */
import { ownNumber } from '$core/document/rest';
import type { Component, Doc, Property } from '$core/document/types';
import { isAngle, isLength } from '$core/document/units';

/** Change of a value for one step of an arrow key or a pixel of scrubbing. */
export function stepOf(
	{ project, parts }: Doc,
	{ part, property, component }: { part: string; property: Property; component: Component },
): number {
	const own = property === 'custom' ? ownNumber(parts[part], component) : undefined;
	// A hundredth of the range or finer, in steps that people count in.
	if (own) return 10 ** Math.floor(Math.log10((own.high - own.low) / 100));
	if (isLength(property)) return project.space === 'world' ? 0.05 : 1;
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
	reveal: '--clay',
	custom: '--slate',
};
