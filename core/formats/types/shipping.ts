/** Declarations as a way for clips to leave: no motion is in them, so nothing is measured. */
import { strToU8 } from 'fflate';
import { unmeasured, type Shipper } from '../../tracks/ship';
import { writeTypes } from './write';

export const typesShipper: Shipper = {
	ship: (doc, clips) => Promise.resolve(unmeasured(strToU8(writeTypes(doc, clips)), clips)),
};
