/** What is wrong with triggers: those that never come about, or do nothing, and those that stand against one another. */
import { inOrder, type Clip, type Doc } from '../document/types';
import { layerNamed, type Trigger } from '../document/triggers';

export type FaultKind = 'no-cue' | 'no-end' | 'nothing-moves' | 'weight-follows' | 'against';

export interface TriggerFault {
	trigger: string;
	/** The clip that it concerns; null where it is a layer's. */
	clip: string | null;
	kind: FaultKind;
	/** The other trigger, where two stand against one another. */
	other: string | null;
}

/** Whether anything lets a clip that goes round for ever come to an end. */
function isEnded(triggers: readonly Trigger[], { id }: Clip): boolean {
	return triggers.some(({ then }) => {
		if (then.kind === 'play') return then.clip === id && typeof then.count === 'number';
		if (then.kind === 'toggle') return then.clip === id && then.other === null;
		return then.kind === 'stop' && then.withRound === true;
	});
}

/** What a deed takes hold of, so that two of one moment cannot both be done: what plays on the ground or in a layer, or its weight. */
function heldBy({ then }: Trigger): string | null {
	if (then.kind === 'tell' || (then.kind === 'play' && then.queued)) return null;
	return `${then.kind === 'weigh' ? 'weight' : 'play'} ${then.layer ?? ''}`;
}

function faultOf(
	doc: Doc,
	triggers: readonly Trigger[],
	trigger: Trigger,
): Omit<TriggerFault, 'trigger'> | null {
	const { when, then } = trigger;
	if (when.kind === 'cue') {
		const isThere = Object.values(doc.cues).some(({ clip, name }) => clip === when.clip && name === when.cue);
		if (!isThere) return { clip: when.clip, kind: 'no-cue', other: null };
	}
	if (when.kind === 'end') {
		const clip = doc.clips[when.clip];
		const { mode, count } = clip.loop;
		if (mode !== 'once' && count === null && !isEnded(triggers, clip))
			return { clip: when.clip, kind: 'no-end', other: null };
	}
	const layer = doc.layers[layerNamed(trigger) ?? ''];
	if (layer && then.kind === 'weigh' && layer.parameter !== null)
		return { clip: null, kind: 'weight-follows', other: null };
	if (layer?.parts && then.kind === 'play') {
		const played = doc.mixes[then.clip]?.stops.map((stop) => stop.clip) ?? [then.clip];
		const moves = [...Object.values(doc.channels), ...Object.values(doc.formulas)].some(
			({ clip, part }) => played.includes(clip) && layer.parts!.includes(part),
		);
		if (!moves) return { clip: then.clip, kind: 'nothing-moves', other: null };
	}
	const held = heldBy(trigger);
	const said = JSON.stringify([when, trigger.delay]);
	const before = triggers.slice(0, triggers.indexOf(trigger));
	const against = before.find(
		(other) => held !== null && heldBy(other) === held && JSON.stringify([other.when, other.delay]) === said,
	);
	if (!against) return null;
	return { clip: 'clip' in then ? then.clip : null, kind: 'against', other: against.id };
}

/** Faults of the triggers of a document, at most one of each, in their order. */
export function triggerFaults(doc: Doc): TriggerFault[] {
	const triggers = inOrder(doc.triggers);
	return triggers.flatMap((trigger) => {
		const fault = faultOf(doc, triggers, trigger);
		return fault ? [{ trigger: trigger.id, ...fault }] : [];
	});
}

/** What is wrong with a trigger, in a sentence. */
export function tellFault(doc: Doc, { trigger, kind, other }: TriggerFault): string {
	const { when, then } = doc.triggers[trigger];
	const clip = (id: string) => (doc.clips[id] ?? doc.mixes[id])?.name ?? id;
	switch (kind) {
		case 'no-cue':
			return when.kind === 'cue' ? `${clip(when.clip)} has no cue “${when.cue}”: this never happens` : '';
		case 'no-end':
			return when.kind === 'end' ? `${clip(when.clip)} goes on for ever: it never ends` : '';
		case 'nothing-moves':
			return then.kind === 'play' ? `${clip(then.clip)} moves none of the layer's parts` : '';
		case 'weight-follows': {
			const layer = doc.layers[layerNamed(doc.triggers[trigger]) ?? ''];
			return `the weight of ${layer.name} follows ${layer.parameter}: setting it does not last`;
		}
		case 'against':
			return other !== null ? 'another trigger of the same moment plays something else there' : '';
	}
}
