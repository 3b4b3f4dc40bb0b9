/** Mixes, triggers and layers as a clip file has them: by the names in that file. */
import type { ClipFile } from '../../../player/file/format';
import type { Deed, Moment, PlayerTrigger } from '../../../player/triggers';
import { clipsNamed, type Trigger, type TriggerDeed, type TriggerMoment } from '../../document/triggers';
import { inOrder, type Doc } from '../../document/types';
import { uniqueNames } from '../../tracks/ship';

type Names = ReadonlyMap<string, string>;
interface FileNames {
	clips: Names;
	parts: Names;
	layers: Names;
}

/** A moment by the names of a file. */
export function momentIn(when: TriggerMoment, { clips, parts }: Pick<FileNames, 'clips' | 'parts'>): Moment {
	if ('clip' in when) return { ...when, clip: clips.get(when.clip)! };
	return 'part' in when ? { ...when, part: parts.get(when.part)! } : when;
}

function deedIn(then: TriggerDeed, { clips, layers }: FileNames): Deed {
	if (then.kind === 'tell') return then;
	if (then.kind === 'weigh') return { ...then, layer: layers.get(then.layer)! };
	const layer = then.layer === null ? {} : { layer: layers.get(then.layer)! };
	switch (then.kind) {
		case 'stop':
			return then.withRound
				? { kind: 'stop', withRound: true, ...layer }
				: { kind: 'stop', seconds: then.seconds, ...layer };
		case 'toggle': {
			const other = then.other === null ? {} : { other: clips.get(then.other)! };
			return { kind: 'toggle', clip: clips.get(then.clip)!, ...other, ...layer };
		}
		case 'play': {
			const { clip, count, queued } = then;
			const rounds = count === undefined ? {} : { count };
			return { kind: 'play', clip: clips.get(clip)!, ...rounds, ...(queued ? { queued } : {}), ...layer };
		}
	}
}

/**
 * Names of the clips of a file, and behind them of the mixes whose clips are all in it, each once; by id. Clips keep the names that
 * they have without mixes.
 */
export function playedNames(doc: Doc, clips: Names): Map<string, string> {
	const mixes = inOrder(doc.mixes).filter(({ stops }) => stops.every(({ clip }) => clips.has(clip)));
	return uniqueNames([...[...clips].map(([id, name]) => ({ id, name })), ...mixes]);
}

/** The mixes of a document whose clips are all in a file, in which these have their places. */
export function mixesIn(doc: Doc, clips: Names): Pick<ClipFile, 'mixes'> {
	const names = playedNames(doc, clips);
	const places = new Map([...clips.keys()].map((id, i) => [id, i]));
	const mixes = inOrder(doc.mixes)
		.filter(({ id }) => names.has(id))
		.map(({ id, parameter, seconds, stops }) => ({
			name: names.get(id)!,
			parameter,
			seconds,
			stops: stops.map(({ clip, at }) => ({ clip: places.get(clip)!, at })),
		}));
	return mixes.length > 0 ? { mixes } : {};
}

/**
 * The triggers of a document whose clips and parts are all in a file, with its layers; nothing where there are none. The maps
 * give the names in the file by id.
 */
export function triggersIn(doc: Doc, inFile: Names, parts: Names): Pick<ClipFile, 'triggers' | 'layers'> {
	const clips = playedNames(doc, inFile);
	const all = inOrder(doc.layers);
	const names = { clips, parts, layers: uniqueNames(all) };
	const isWhole = (trigger: Trigger) =>
		clipsNamed(trigger).every((clip) => clips.has(clip)) &&
		(!('part' in trigger.when) || parts.has(trigger.when.part));
	const triggers = inOrder(doc.triggers)
		.filter(isWhole)
		.map(({ when, then, delay }): PlayerTrigger => {
			const own = { when: momentIn(when, names), then: deedIn(then, names) };
			return delay > 0 ? { ...own, delay } : own;
		});
	const layers = all.map(({ id, mode, weight, parts: own, parameter }) => ({
		name: names.layers.get(id)!,
		...(mode === 'replace' ? {} : { mode }),
		...(weight === 1 ? {} : { weight }),
		...(own ? { parts: own.flatMap((part) => parts.get(part) ?? []) } : {}),
		...(parameter === null ? {} : { parameter }),
	}));
	return { ...(triggers.length > 0 ? { triggers } : {}), ...(layers.length > 0 ? { layers } : {}) };
}
