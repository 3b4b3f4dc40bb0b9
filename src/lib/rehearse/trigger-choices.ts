/** What a trigger may be made of, with something sensible to begin with. */
import type { TriggerDeed, TriggerMoment } from '$core/document/triggers';
import { cuesOfClip, inOrder, type Doc } from '$core/document/types';

export const MOMENT_WORDS: readonly { kind: TriggerMoment['kind']; word: string }[] = [
	{ kind: 'start', word: 'it starts' },
	{ kind: 'call', word: 'code calls' },
	{ kind: 'tap', word: 'a part is tapped' },
	{ kind: 'enter', word: 'a part is pointed at' },
	{ kind: 'leave', word: 'a part is no longer pointed at' },
	{ kind: 'key', word: 'a key is pressed' },
	{ kind: 'button', word: 'a pad button is pressed' },
	{ kind: 'parameter', word: 'a parameter goes past' },
	{ kind: 'cue', word: 'a clip passes a cue' },
	{ kind: 'end', word: 'a clip ends' },
];

export const DEED_WORDS: readonly { kind: TriggerDeed['kind']; word: string }[] = [
	{ kind: 'play', word: 'play' },
	{ kind: 'toggle', word: 'switch between' },
	{ kind: 'stop', word: 'stop' },
	{ kind: 'weigh', word: 'set the weight of' },
	{ kind: 'tell', word: 'tell code' },
];

/** A name that nothing else has. */
function fresh(stem: string, taken: readonly string[]): string {
	let name = stem;
	for (let n = 2; taken.includes(name); n++) name = `${stem} ${n}`;
	return name;
}

/** A moment of a kind; null where the project has nothing for it. */
export function newMoment(
	doc: Doc,
	kind: TriggerMoment['kind'],
	partId: string | null,
): TriggerMoment | null {
	const clips = inOrder(doc.clips);
	const [part] = partId === null ? Object.keys(doc.parts) : [partId];
	const calls = Object.values(doc.triggers).flatMap(({ when }) => (when.kind === 'call' ? when.name : []));
	switch (kind) {
		case 'start':
			return { kind };
		case 'call':
			return { kind, name: fresh('go', calls) };
		case 'tap':
		case 'enter':
		case 'leave':
			return part === undefined ? null : { kind, part };
		case 'key':
			return { kind, key: 'Space' };
		case 'button':
			return { kind, button: 0 };
		case 'parameter':
			return { kind, name: 'stick x', way: 'above', value: 0.5 };
		case 'cue': {
			const clip = clips.find(({ id }) => cuesOfClip(doc, id).length > 0);
			return clip ? { kind, clip: clip.id, cue: cuesOfClip(doc, clip.id)[0].name } : null;
		}
		case 'end': {
			const clip = clips.find(({ loop }) => loop.mode === 'once' || loop.count !== null) ?? clips[0];
			return clip ? { kind, clip: clip.id } : null;
		}
	}
}

/** A deed of a kind, on what the one before was on; null where the project has nothing for it. */
export function newDeed(doc: Doc, kind: TriggerDeed['kind'], before: TriggerDeed | null): TriggerDeed | null {
	const clip = before && 'clip' in before ? before.clip : inOrder(doc.clips)[0]?.id;
	const layer = before && 'layer' in before ? before.layer : null;
	const [first] = inOrder(doc.layers);
	switch (kind) {
		case 'play':
			return clip === undefined ? null : { kind, clip, layer };
		case 'toggle':
			return clip === undefined ? null : { kind, clip, other: null, layer };
		case 'stop':
			return { kind, layer, seconds: 0.3 };
		case 'weigh':
			return first ? { kind, layer: layer ?? first.id, weight: 1, seconds: 0.3 } : null;
		case 'tell':
			return { kind, name: 'message', payload: null };
	}
}

/** A deed without one of its members. */
export function without<D extends TriggerDeed>(deed: D, member: keyof D): D {
	const rest = { ...deed };
	delete rest[member];
	return rest;
}
