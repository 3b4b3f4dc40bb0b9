/** Rehearsals: what was done, moment by moment, and what has to come of it again. */
import type { TriggerMoment } from './triggers';

/** What a person can do: what comes of clips themselves is no input. */
export type InputMoment = Extract<
	TriggerMoment,
	{ kind: 'call' | 'tap' | 'enter' | 'leave' | 'key' | 'button' }
>;

export interface RehearsalInput {
	/** Seconds. */
	t: number;
	/** What is sent, or a parameter that is set. */
	what: InputMoment | { kind: 'set'; name: string; value: number };
}

export interface ExpectedCue {
	t: number;
	clip: string;
	cue: string;
}

/** What must hold each time; null where it is not looked at. */
export interface RehearsalLimits {
	/** Largest jump of a value where a clip takes over, as a share of its range. */
	jump: number | null;
	/** Largest jump of a speed there, in ranges a second. */
	kink: number | null;
	/** The cues that pass, no others, each within so many seconds of its time. */
	cues: readonly ExpectedCue[] | null;
	tolerance: number;
}

export interface Rehearsal {
	type: 'rehearsal';
	id: string;
	order: string;
	name: string;
	seconds: number;
	/** In the order of their times. */
	inputs: readonly RehearsalInput[];
	limits: RehearsalLimits;
}
