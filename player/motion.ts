/** A clip ready to play: flat curves, each bound to its place in a pose. */
import { ActiveSpans } from './curve/active-spans';
import { evaluateVector, type VectorCurve } from './curve/vector';
import type { PoseLayout } from './layout';
import { localTime, type Looped } from './loop';
import { eulerInto, type EulerOrder } from './maths/quaternion';

/** A rotation that is made of angles. */
export interface Turn {
	/** Places of three angles in degrees, and of the quaternion that is made of them. */
	readonly angles: number;
	readonly rotation: number;
	readonly order: EulerOrder;
}

export interface Motion extends Looped {
	readonly layout: PoseLayout;
	/** The curves of single numbers, with the place of each and what it gains in every later round. */
	readonly spans: ActiveSpans;
	readonly places: Int32Array;
	readonly gains: Float64Array;
	/** The places that accumulate. */
	readonly travels: readonly number[];
	/** Colours and orientations. */
	readonly vectors: readonly { readonly vector: VectorCurve; readonly place: number }[];
	readonly turns: readonly Turn[];
	/** What is computed from other numbers of the pose, at a local time in ticks, before angles become rotations. */
	readonly compute: ((local: number, pose: Float64Array) => void) | null;
	/** Of several clips that play as one: what writes their pose, by rounds since the start. */
	readonly mixing?: { write(rounds: number, out: Float64Array): void };
}

/**
 * The pose at a local time (ticks from the start of a round) in a given round, written into `out`. Curves allocate
 * nothing.
 */
export function evaluateRound(motion: Motion, local: number, round: number, out: Float64Array): void {
	const { layout, spans, places, gains, vectors, turns, compute } = motion;
	out.set(layout.rest);
	const values = spans.evaluate(local);
	for (let i = 0; i < places.length; i++) out[places[i]] = values[i] + round * gains[i];
	for (let i = 0; i < vectors.length; i++) evaluateVector(vectors[i].vector, local, out, vectors[i].place);
	if (compute !== null) compute(local, out);
	for (let i = 0; i < turns.length; i++) {
		const { angles, rotation, order } = turns[i];
		eulerInto(out[angles], out[angles + 1], out[angles + 2], order, out, rotation);
	}
}

const time = { local: 0, round: 0 };

/** The pose at a time since the clip's start, its loop taken into account. Curves allocate nothing. */
export function evaluateClip(motion: Motion, ticks: number, out: Float64Array): void {
	if (motion.mixing !== undefined) {
		motion.mixing.write(ticks / motion.length, out);
		return;
	}
	localTime(motion, ticks, time);
	evaluateRound(motion, time.local, motion.loop.mode === 'repeat' ? time.round : 0, out);
}

/** Keeps the rest pose: what a player goes over to where it stops. */
export function restMotion(layout: PoseLayout): Motion {
	return {
		layout,
		length: 0,
		loop: { mode: 'once', count: null, pause: 0 },
		spans: new ActiveSpans([]),
		places: new Int32Array(0),
		gains: new Float64Array(0),
		travels: [],
		vectors: [],
		turns: [],
		compute: null,
	};
}
