/** Keyframes for `element.animate()` as JSON. Source: Web Animations Level 1, 5.3 (keyframes) and 4.11 (timing). */
import { NO_ORIGIN_ERRORS } from '../../tracks/origin-errors';
import { strToU8 } from 'fflate';
import { TICKS_PER_SECOND } from '../../../player/time';
import type { Clip, Doc } from '../../document/types';
import type { Shipped, Shipper, ShipOptions } from '../../tracks/ship';
import { writeKeyframes, type WrittenClip, type WrittenStrip } from '../web/prepare';
import { framesOfRound, roundOf } from '../web/round';
import { MARK } from './mark';

const milliseconds = (ticks: number) => Number(((1000 * ticks) / TICKS_PER_SECOND).toFixed(4));

/** A property as scripts have it. Source: CSSOM, 6.5.1, CSS property to IDL attribute. */
function attribute(property: string): string {
	return property.replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase());
}

function keyframesOf({ strip, frames }: WrittenStrip, clip: Clip): Record<string, string | number>[] {
	return framesOfRound(frames, clip).map(({ at, values, easing }) => ({
		offset: Number(at.toFixed(14)),
		...Object.fromEntries(
			Object.entries(strip.declare(values)).map(([property, value]) => [attribute(property), value]),
		),
		...(easing === 'linear' ? {} : { easing }),
	}));
}

function timingOf(clip: Clip): Record<string, string | number> {
	const { before, all } = roundOf(clip);
	const { mode, count } = clip.loop;
	return {
		duration: milliseconds(all),
		...(before > 0 ? { delay: -milliseconds(before) } : {}),
		// JSON has no infinity; browsers take its name for it.
		iterations: mode === 'once' ? 1 : (count ?? 'Infinity'),
		...(mode === 'alternate' ? { direction: 'alternate' } : {}),
		fill: 'both',
	};
}

function clipEntry({ clip, strips }: WrittenClip, partNames: ReadonlyMap<string, string>) {
	const parts = new Map<string, Record<string, string | number>[][]>();
	for (const own of strips) {
		const name = partNames.get(own.strip.part.id)!;
		parts.set(name, [...(parts.get(name) ?? []), keyframesOf(own, clip)]);
	}
	return { timing: timingOf(clip), parts: Object.fromEntries(parts) };
}

function ship(doc: Doc, clips: readonly Clip[], options: ShipOptions): Shipped {
	const { clips: written, partNames, reports } = writeKeyframes(doc, clips, options, 'Web Animations');
	const file = {
		format: MARK,
		version: 1,
		project: doc.project.name,
		clips: Object.fromEntries(written.map((own) => [own.name, clipEntry(own, partNames)])),
	};
	return { bytes: strToU8(JSON.stringify(file)), clips: reports, plainer: [], ...NO_ORIGIN_ERRORS };
}

export const webAnimationsShipper: Shipper = {
	ship: async (doc, clips, options) => ship(doc, clips, options),
};
