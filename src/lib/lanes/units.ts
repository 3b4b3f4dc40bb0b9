/** Names, units and hues of channels, the same wherever they are shown. */
import type { Property, Space } from '$core/document/types';

export function unitOf(property: Property, space: Space): string {
	if (property === 'translation') return space === 'world' ? ' m' : ' px';
	return property === 'rotation' || property === 'orientation' ? '°' : '';
}

/** Change of a value for one step of an arrow key or a pixel of scrubbing. */
export function stepOf(property: Property, space: Space): number {
	if (property === 'translation') return space === 'world' ? 0.05 : 1;
	return property === 'rotation' ? 1 : 0.01;
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
};
