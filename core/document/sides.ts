/** What left and right look like in a mirror: translation along x, turns about y and z; left insets are right ones. */
import type { Component, Property } from './types';

/** Whether a number changes its sign when left and right change over. */
export function changesSide(property: Property, component: Component): boolean {
	return property === 'translation' ? component === 'x' : property === 'rotation' && component !== 'x';
}

/** The inset of the other side; none of what has no side. */
export const OTHER_SIDE: Partial<Record<Component, Component>> = { left: 'right', right: 'left' };

/** −1 where a number changes its sign between a world (y up) and a screen (y down), or when left and right change over. */
export function signOf(
	property: Property,
	component: Component,
	otherSpace: boolean,
	mirrored: boolean,
): 1 | -1 {
	const turnsOver =
		otherSpace &&
		((property === 'translation' && component === 'y') || (property === 'rotation' && component === 'z'));
	return turnsOver === (mirrored && changesSide(property, component)) ? 1 : -1;
}
