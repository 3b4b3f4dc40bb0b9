/** Edits on clips and on the project itself. */
import {
	blendId,
	channelId,
	formulaId,
	type Blend,
	type Clip,
	type Cue,
	type Doc,
	type Project,
	type SavedShape,
} from '../document/types';
import { withoutClipProfiles } from './profiles';
import { withoutClipTriggers } from './triggers';

/** What is set to undefined is taken away. */
export function updateProject(doc: Doc, change: Partial<Omit<Project, 'id' | 'type' | 'space'>>): Doc {
	const project = { ...doc.project, ...change };
	for (const name of ['snapStep', 'screen'] as const) if (project[name] === undefined) delete project[name];
	return { ...doc, project };
}

export function putClip(doc: Doc, clip: Clip): Doc {
	return { ...doc, clips: { ...doc.clips, [clip.id]: clip } };
}

export function updateClip(doc: Doc, id: string, change: Partial<Omit<Clip, 'id' | 'type'>>): Doc {
	const clip = doc.clips[id];
	return clip ? putClip(doc, { ...clip, ...change }) : doc;
}

/** A copy of a clip with all its channels, formulas and cues; `cueIds` gives an id for each cue. */
export function duplicateClip(doc: Doc, from: string, copy: Clip, cueId: () => string): Doc {
	const channels = { ...doc.channels };
	for (const channel of Object.values(doc.channels)) {
		if (channel.clip !== from) continue;
		const id = channelId(copy.id, channel.part, channel.property, channel.component);
		channels[id] = { ...channel, id, clip: copy.id };
	}
	const formulas = { ...doc.formulas };
	for (const formula of Object.values(doc.formulas)) {
		if (formula.clip !== from) continue;
		const id = formulaId(copy.id, formula.part, formula.property, formula.component);
		formulas[id] = { ...formula, id, clip: copy.id };
	}
	const cues = { ...doc.cues };
	for (const cue of Object.values(doc.cues)) {
		if (cue.clip !== from) continue;
		const id = cueId();
		cues[id] = { ...cue, id, clip: copy.id };
	}
	const blends = { ...doc.blends };
	for (const blend of Object.values(doc.blends)) {
		const swap = (id: string) => (id === from ? copy.id : id);
		if (blend.from !== from && blend.to !== from) continue;
		const made = { ...blend, from: swap(blend.from), to: swap(blend.to) };
		blends[blendId(made.from, made.to)] = { ...made, id: blendId(made.from, made.to) };
	}
	// What is marked of a channel is marked of its copy.
	const intended = copy.intended?.map((own) => ({
		...own,
		channel: own.channel && copy.id + own.channel.slice(from.length),
	}));
	return {
		...putClip(doc, intended ? { ...copy, intended } : copy),
		channels,
		formulas,
		cues,
		blends,
	};
}

/** Removes a clip with its channels, formulas, cues, takes and blends, and the triggers that name it. */
export function removeClip(doc: Doc, id: string): Doc {
	const without = <T extends { clip: string }>(map: Readonly<Record<string, T>>) =>
		Object.fromEntries(Object.entries(map).filter(([, entity]) => entity.clip !== id));
	const clips = { ...doc.clips };
	delete clips[id];
	return {
		...doc,
		clips,
		channels: without(doc.channels),
		formulas: without(doc.formulas),
		cues: without(doc.cues),
		takes: without(doc.takes),
		blends: Object.fromEntries(
			Object.entries(doc.blends).filter(([, blend]) => blend.from !== id && blend.to !== id),
		),
		...withoutClipTriggers(doc, id),
		...withoutClipProfiles(doc, id),
	};
}

/** Says how one clip gives way to another. */
export function putBlend(doc: Doc, blend: Omit<Blend, 'id' | 'type'>): Doc {
	const id = blendId(blend.from, blend.to);
	return { ...doc, blends: { ...doc.blends, [id]: { type: 'blend', id, ...blend } } };
}

export function removeBlend(doc: Doc, id: string): Doc {
	const blends = { ...doc.blends };
	delete blends[id];
	return { ...doc, blends };
}

export function putSavedShape(doc: Doc, saved: SavedShape): Doc {
	return { ...doc, shapes: { ...doc.shapes, [saved.id]: saved } };
}

export function removeSavedShape(doc: Doc, id: string): Doc {
	const shapes = { ...doc.shapes };
	delete shapes[id];
	return { ...doc, shapes };
}

export function putCue(doc: Doc, cue: Cue): Doc {
	return { ...doc, cues: { ...doc.cues, [cue.id]: cue } };
}

export function removeCue(doc: Doc, id: string): Doc {
	const cues = { ...doc.cues };
	delete cues[id];
	return { ...doc, cues };
}
