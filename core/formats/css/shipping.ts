/** CSS as a way for clips to leave. */
import { NO_ORIGIN_ERRORS } from '../../tracks/origin-errors';
import { strToU8 } from 'fflate';
import type { Clip, Doc } from '../../document/types';
import type { Shipped, Shipper, ShipOptions } from '../../tracks/ship';
import { writeKeyframes } from '../web/prepare';
import { classesOf, writeSheet } from './write';

function ship(doc: Doc, clips: readonly Clip[], options: ShipOptions): Shipped {
	const { clips: written, partNames, reports } = writeKeyframes(doc, clips, options, 'CSS');
	const text = writeSheet(doc.project.name, written, partNames, classesOf(clips));
	return { bytes: strToU8(text), clips: reports, plainer: [], ...NO_ORIGIN_ERRORS };
}

export const cssShipper: Shipper = {
	ship: async (doc, clips, options) => ship(doc, clips, options),
};
