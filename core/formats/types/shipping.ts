/** Declarations as a way for clips to leave: no motion is in them, so nothing is measured. */
import { strToU8 } from 'fflate';
import { ticksToSeconds } from '../../../player/time';
import type { Shipper } from '../../tracks/ship';
import { writeTypes } from './write';

export const typesShipper: Shipper = {
	ship: (doc, clips) =>
		Promise.resolve({
			bytes: strToU8(writeTypes(doc, clips)),
			clips: clips.map(({ id, name, length }) => ({
				clip: id,
				name,
				seconds: ticksToSeconds(length),
				tracks: [],
				leftOut: [],
			})),
			plainer: [],
			origin: null,
		}),
};
