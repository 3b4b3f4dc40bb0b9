/** What glTF has no place for: how clips loop, their cues, how one goes over into another. */
import { strToU8 } from 'fflate';
import { ticksToSeconds } from '../../../player/time';
import { cuesOfClip, type Blend } from '../../document/types';
import type { FileBeside, Prepared, PreparedClip } from '../../tracks/ship';

/** Of one clip, as its animation carries it too. Times in seconds. */
export function motionOf({ doc, partNames }: Prepared, { clip, rounds }: PreparedClip) {
	const cues = cuesOfClip(doc, clip.id).map(({ name, t, payload }) => ({
		name,
		time: ticksToSeconds(t),
		payload,
	}));
	const accumulates = Object.values(doc.channels)
		.filter((channel) => channel.clip === clip.id && channel.accumulates)
		.map(({ part, property, component }) => ({ part: partNames.get(part), path: property, component }))
		.sort((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1));
	const { mode, count, pause } = clip.loop;
	// What is written out is not to be turned back or counted again.
	const loop =
		rounds > 1
			? { mode: 'once', count: null, pause: 0, rounds }
			: { mode, count, pause: ticksToSeconds(pause) };
	return { loop, accumulates, cues };
}

/** As `motionOf`, without what is so anyway; null where that is all. */
export function extrasOf(prepared: Prepared, own: PreparedClip): Record<string, unknown> | null {
	const { loop, accumulates, cues } = motionOf(prepared, own);
	const told = {
		...(loop.mode === 'once' && !('rounds' in loop) ? {} : { loop }),
		...(accumulates.length > 0 ? { accumulates } : {}),
		...(cues.length > 0 ? { cues } : {}),
	};
	return Object.keys(told).length > 0 ? { hillock: told } : null;
}

/** The file beside a glTF file that says the same of all its clips, and their blends. */
export function motionFile(prepared: Prepared, name: string): FileBeside {
	const names = new Map(prepared.clips.map((own) => [own.clip.id, own.name]));
	const blends = Object.values(prepared.doc.blends)
		.filter(({ from, to }) => names.has(from) && names.has(to))
		.sort((a, b) => (a.id < b.id ? -1 : 1))
		.map(({ from, to, kind, seconds, start, shape }: Blend) => ({
			from: names.get(from),
			to: names.get(to),
			kind,
			seconds,
			start,
			shape,
		}));
	const clips = prepared.clips.map((own) => ({
		name: own.name,
		seconds: ticksToSeconds(own.end),
		...motionOf(prepared, own),
	}));
	const text = JSON.stringify({ format: 'hillock-motion', version: 1, clips, blends }, null, '\t');
	return { name: `${name}.motion.json`, bytes: strToU8(`${text}\n`) };
}
