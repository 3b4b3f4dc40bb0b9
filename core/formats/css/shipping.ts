/** CSS as a way for clips to leave. */
import { strToU8 } from 'fflate';
import type { Clip, Doc } from '../../document/types';
import { uniqueNames, type Shipped, type Shipper, type ShipOptions } from '../../tracks/ship';
import { writeKeyframes } from '../web/prepare';
import { identifier, writeSheet } from './write';

/** Names of classes: two names may come to one, and then have numbers, joined by hyphens as the rest is. */
function classesOf(clips: readonly Clip[]): Map<string, string> {
	const classes = uniqueNames(clips.map(({ id, name }) => ({ id, name: identifier(name) })));
	return new Map([...classes].map(([id, own]) => [id, own.replaceAll(' ', '-')]));
}

function ship(doc: Doc, clips: readonly Clip[], options: ShipOptions): Shipped {
	const { clips: written, partNames, reports } = writeKeyframes(doc, clips, options, 'CSS');
	const text = writeSheet(doc.project.name, written, partNames, classesOf(clips));
	return { bytes: strToU8(text), clips: reports, plainer: [], origin: null };
}

export const cssShipper: Shipper = {
	ship: async (doc, clips, options) => ship(doc, clips, options),
};
