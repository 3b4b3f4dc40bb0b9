/** Cues that go along when whole columns of keys are moved in time: a thump stays where the sack lands. */
import { channelsOfClip, type Doc } from '../document/types';
import { clamp } from '../time';
import type { KeySelection } from './keys';

/** Ids of the cues that stand where several keys of a part do, all of them selected. */
export function cuesOfColumns(doc: Doc, clip: string, selection: KeySelection): string[] {
	const channels = channelsOfClip(doc, clip);
	const isColumn = (t: number) =>
		[...new Set(channels.map(({ part }) => part))].some((part) => {
			const here = channels.filter((own) => own.part === part && own.keys.some((key) => key.t === t));
			return here.length > 1 && here.every(({ id }) => selection.get(id)?.has(t));
		});
	return Object.values(doc.cues)
		.filter((cue) => cue.clip === clip && isColumn(cue.t))
		.map(({ id }) => id);
}

/** Moves cues by ticks, within their clips. */
export function moveCues(doc: Doc, ids: readonly string[], ticks: number): Doc {
	if (ids.length === 0 || ticks === 0) return doc;
	const cues = { ...doc.cues };
	for (const id of ids) {
		const cue = cues[id];
		if (cue) cues[id] = { ...cue, t: clamp(cue.t + ticks, 0, doc.clips[cue.clip].length) };
	}
	return { ...doc, cues };
}
