/** Motions: keys of several numbers of one part under a name, to be put on any part. */
import type { Key } from '../curve/types';
import type { Space } from '../pose/space';
import type { Component, Property } from './types';

export interface MotionChannel {
	property: Property;
	component: Component;
	/**
	 * Times from the motion's start. Values are relative: of a translation in distances of the motion; of a scale, a
	 * size, a radius, a stroke or an opacity as factors of what the part shows; of a switch, a colour or an orientation
	 * as they are; else as differences.
	 */
	keys: Key[];
}

export interface Motion {
	type: 'motion';
	id: string;
	name: string;
	order: string;
	/** How it was made: on a screen y runs down, and turns about z go the other way round. */
	space: Space;
	/** Ticks. */
	length: number;
	/** How far it goes on a part whose longer side is `size`, in the same units. */
	distance: number;
	size: number;
	channels: MotionChannel[];
}
