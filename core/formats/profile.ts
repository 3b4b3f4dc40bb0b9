/** What a profile stands for: the format, the clips, and what the format is asked for. */
import type { Profile } from '../document/profiles';
import { clipsInOrder, type Clip, type Doc } from '../document/types';
import type { ShipOptions } from '../tracks/ship';
import { shippingFormat, type ShippingFormat } from './registry';

/** What profiles call the choice of a file for each clip, of any format. */
export const PER_CLIP = 'perClip';

export interface Wanted {
	format: ShippingFormat;
	clips: Clip[];
	options: ShipOptions;
	/** Whether each clip has a file of its own. */
	perClip: boolean;
}

/** Null where this version does not know the format. Choices that the format has not are left. */
export function wantedBy(doc: Doc, { target, clips, bounds, choices }: Profile): Wanted | null {
	const format = shippingFormat(target);
	if (!format) return null;
	const { switches, numbers = [] } = format.ships;
	return {
		format,
		perClip: choices[PER_CLIP] === true,
		clips: clipsInOrder(doc).filter(({ id }) => clips?.includes(id) ?? true),
		options: {
			bounds,
			switches: Object.fromEntries(switches.map(({ id }) => [id, choices[id] === true])),
			numbers: Object.fromEntries(
				numbers.flatMap(({ id, lowest, highest }) => {
					const value = choices[id];
					return typeof value === 'number' ? [[id, Math.min(highest, Math.max(lowest, value))]] : [];
				}),
			),
		},
	};
}
