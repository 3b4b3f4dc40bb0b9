/** Edits on triggers and layers. */
import type { Profile } from '../document/profiles';
import { without } from './without';
import {
	clipsNamed,
	layerNamed,
	MIX_STOPS,
	partNamed,
	type Layer,
	type Mix,
	type Trigger,
} from '../document/triggers';
import type { Rehearsal } from '../document/rehearsals';
import { MAP_OF, type Doc } from '../document/types';

export function putTrigger(doc: Doc, trigger: Trigger): Doc {
	return { ...doc, triggers: { ...doc.triggers, [trigger.id]: trigger } };
}

export function removeTrigger(doc: Doc, id: string): Doc {
	return { ...doc, triggers: without(doc.triggers, (own) => own.id === id) };
}

export function putLayer(doc: Doc, layer: Layer): Doc {
	return { ...doc, layers: { ...doc.layers, [layer.id]: layer } };
}

/** Removes a layer with the triggers that do something in it. */
export function removeLayer(doc: Doc, id: string): Doc {
	return {
		...doc,
		layers: without(doc.layers, (own) => own.id === id),
		triggers: without(doc.triggers, (own) => layerNamed(own) === id),
	};
}

export function putMix(doc: Doc, mix: Mix): Doc {
	const stops = [...mix.stops].sort((a, b) => a.at - b.at);
	return { ...doc, mixes: { ...doc.mixes, [mix.id]: { ...mix, stops } } };
}

/** Removes a mix with the triggers that play it. */
export function removeMix(doc: Doc, id: string): Doc {
	return {
		...doc,
		mixes: without(doc.mixes, (own) => own.id === id),
		triggers: without(doc.triggers, (own) => clipsNamed(own).includes(id)),
	};
}

export function putRehearsal(doc: Doc, rehearsal: Rehearsal): Doc {
	return { ...doc, rehearsals: { ...doc.rehearsals, [rehearsal.id]: rehearsal } };
}

export function removeRehearsal(doc: Doc, id: string): Doc {
	return { ...doc, rehearsals: without(doc.rehearsals, (own) => own.id === id) };
}

/**
 * Puts something in its changed form, unless it has gone meanwhile: whoever writes in a field may not know of it yet.
 */
export function changeIn<E extends Trigger | Layer | Mix | Rehearsal | Profile>(
	doc: Doc,
	changed: E,
	put: (doc: Doc, changed: E) => Doc,
): Doc {
	return Object.hasOwn(doc[MAP_OF[changed.type]], changed.id) ? put(doc, changed) : doc;
}

/**
 * Triggers without those that name a clip, mixes without it (and without those that too little is left of, with their
 * triggers), and rehearsals that no longer wait for its cues.
 */
export function withoutClipTriggers(doc: Doc, clip: string): Pick<Doc, 'triggers' | 'mixes' | 'rehearsals'> {
	const mixes = Object.values(doc.mixes).map((own): Mix => {
		const stops = own.stops.filter((stop) => stop.clip !== clip);
		return stops.length === own.stops.length ? own : { ...own, stops };
	});
	const kept = mixes.filter(({ stops }) => stops.length >= MIX_STOPS.least);
	const gone = new Set([clip, ...mixes.filter((mix) => !kept.includes(mix)).map(({ id }) => id)]);
	const rehearsals = Object.values(doc.rehearsals).map((own): [string, Rehearsal] => {
		const cues = own.limits.cues?.filter((cue) => cue.clip !== clip);
		const isSame = cues?.length === own.limits.cues?.length;
		return [own.id, isSame ? own : { ...own, limits: { ...own.limits, cues: cues ?? null } }];
	});
	return {
		triggers: without(doc.triggers, (own) => clipsNamed(own).some((id) => gone.has(id))),
		mixes: Object.fromEntries(kept.map((mix) => [mix.id, mix])),
		rehearsals: Object.fromEntries(rehearsals),
	};
}

/** A document without what triggers, layers and rehearsals say of parts. */
export function withoutTriggersOf(doc: Doc, gone: ReadonlySet<string>): Doc {
	const each = <E extends { id: string }>(map: Readonly<Record<string, E>>, change: (own: E) => E) =>
		Object.fromEntries(Object.values(map).map((own) => [own.id, change(own)]));
	return {
		...doc,
		triggers: without(doc.triggers, (own) => gone.has(partNamed(own) ?? '')),
		layers: each(doc.layers, (layer) =>
			layer.parts?.some((part) => gone.has(part))
				? { ...layer, parts: layer.parts.filter((part) => !gone.has(part)) }
				: layer,
		),
		rehearsals: each(doc.rehearsals, (own) => {
			const inputs = own.inputs.filter(({ what }) => !('part' in what && gone.has(what.part)));
			return inputs.length === own.inputs.length ? own : { ...own, inputs };
		}),
	};
}
