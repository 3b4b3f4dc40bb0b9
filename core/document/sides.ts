/** What left and right look like in a mirror: translation along x, turns about y and z; left insets are right ones. */
import type { Component, Property } from './types';

/** Whether a number changes its sign when left and right change over. */
export function changesSide(property: Property, component: Component): boolean {
	return property === 'translation' ? component === 'x' : property === 'rotation' && component !== 'x';
}

/** The inset of the other side; none of what has no side. */
export const OTHER_SIDE: Partial<Record<Component, Component>> = { left: 'right', right: 'left' };
