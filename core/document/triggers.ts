/** What clips are played by: triggers, sentences of a moment and of what happens then, and layers over one another. */
import type { LayerMode } from '../../player/blend/layers';

/** The moment of a trigger. */
export type TriggerMoment =
	/** All begins. */
	| { kind: 'start' }
	/** Code calls it by its name; on the board it is a button. */
	| { kind: 'call'; name: string }
	/** A part is tapped, or pointed at, or no longer. */
	| { kind: 'tap' | 'enter' | 'leave'; part: string }
	/** A key goes down, as the browser calls it: `a`, `ArrowLeft`; the space bar is `Space`. */
	| { kind: 'key'; key: string }
	/** A button of a pad goes down, from 0. */
	| { kind: 'button'; button: number }
	/** A parameter goes above a value, or below it. */
	| { kind: 'parameter'; name: string; way: 'above' | 'below'; value: number }
	/** A clip passes its cues of a name. */
	| { kind: 'cue'; clip: string; cue: string }
	| { kind: 'end'; clip: string };

/** What happens then. Without a layer it is on the ground. */
export type TriggerDeed =
	/** Rounds: the clip's own when absent, null for ever. Queued, it waits for the end of what plays. */
	| { kind: 'play'; clip: string; layer: string | null; count?: number | null; queued?: boolean }
	/** The clip, or while it plays the other one: without one it ends with its round. */
	| { kind: 'toggle'; clip: string; other: string | null; layer: string | null }
	/** Fades away, or ends with its round. */
	| { kind: 'stop'; layer: string | null; seconds: number; withRound?: boolean }
	/** A layer counts for so much, from 0 to 1, after so many seconds. */
	| { kind: 'weigh'; layer: string; weight: number; seconds: number }
	/** A message to code. */
	| { kind: 'tell'; name: string; payload: unknown };

export interface Trigger {
	type: 'trigger';
	id: string;
	order: string;
	when: TriggerMoment;
	then: TriggerDeed;
	/** Seconds between the two. */
	delay: number;
}

/** A layer over the ground, and over the layers before it. */
export interface Layer {
	type: 'layer';
	id: string;
	order: string;
	name: string;
	/** Covers what lies below, or puts its difference from the rest pose on top of it. */
	mode: LayerMode;
	/** 0…1. */
	weight: number;
	/** What it is for; null for all parts. */
	parts: readonly string[] | null;
	/** A parameter from 0 to 1 that its weight follows; null where it is set. */
	parameter: string | null;
}

/** A clip of a mix, and where along the mix's parameter it plays alone. */
export interface MixStop {
	clip: string;
	at: number;
}

/** Clips that play as one, at one phase, each for ever; a parameter says how much each counts. */
export interface Mix {
	type: 'mix';
	id: string;
	order: string;
	name: string;
	parameter: string;
	/** Seconds over which it comes in and goes. */
	seconds: number;
	/** By their places; no clip and no place twice. */
	stops: readonly MixStop[];
}

/** Stops of a mix: as many as an eye tells apart. */
export const MIX_STOPS = { least: 2, most: 6 };

/** The clips and mixes that a trigger names. */
export function clipsNamed({ when, then }: Trigger): string[] {
	const named: string[] = [];
	if (when.kind === 'cue' || when.kind === 'end') named.push(when.clip);
	if (then.kind === 'play' || then.kind === 'toggle') named.push(then.clip);
	if (then.kind === 'toggle' && then.other !== null) named.push(then.other);
	return named;
}

/** The part whose tapping or pointing is a trigger's moment; null for others. */
export function partNamed({ when }: Trigger): string | null {
	return when.kind === 'tap' || when.kind === 'enter' || when.kind === 'leave' ? when.part : null;
}

/** The layer that a trigger's deed is for; null for the ground, and for messages. */
export function layerNamed({ then }: Trigger): string | null {
	return then.kind === 'tell' ? null : then.layer;
}
