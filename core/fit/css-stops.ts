/** The stops of a CSS `linear()` for any easing: few, and within a bound of it everywhere. */
import { TICKS_PER_SECOND } from '../../player/time';
import { stabCorridor } from './linear';
import { sampleRuns } from './samples';
import type { Piece } from '../curve/piece';
import type { Source } from './source';

/** A place on the easing: both as shares, x never falls; two stops at one x are a jump. */
export interface Stop {
	x: number;
	y: number;
}

/** The whole easing is taken to last a second, so that the times of the fit are shares. */
const SCALE = TICKS_PER_SECOND;

/**
 * Stops for an easing that leads from 0 to 1, with both ends exactly there, within `bound` of it. `pieces` are shares
 * at which it has corners or jumps. The bound is checked at places between the samples too, and tightened until it
 * holds. Throws a RangeError when it cannot.
 */
export function linearStops(
	ease: (x: number) => number,
	bound: number,
	pieces: readonly { x: number; jump: boolean }[] = [],
): Stop[] {
	const source: Source = {
		size: 1,
		start: 0,
		end: SCALE,
		pieces: pieces.map(({ x, jump }): Piece => ({ t: x * SCALE, jump })),
		evaluate(t, out) {
			out[0] = ease(t / SCALE);
		},
	};
	for (const share of [0.98, 0.9, 0.75, 0.5]) {
		const stops = stopsOf(source, bound * share);
		if (worstOff(ease, stops) <= bound) return stops;
	}
	throw new RangeError(`no stops within ${bound} were found`);
}

function stopsOf(source: Source, bound: number): Stop[] {
	const runs = sampleRuns(source, bound / 6, new Set());
	const stops: Stop[] = [];
	runs.forEach((run) => {
		const { at, values } = stabCorridor(run.times, run.values, run.slack, 1, bound);
		at.forEach((sample, i) => stops.push({ x: run.times[sample], y: values[i] }));
	});
	// A run before a jump ends a float32 step early: its end belongs to the place of the jump.
	for (let i = 0; i + 1 < stops.length; i++)
		if (stops[i + 1].x - stops[i].x < 1e-6) stops[i].x = stops[i + 1].x;
	return stops;
}

const PLACES = 16;

function worstOff(ease: (x: number) => number, stops: readonly Stop[]): number {
	let worst = 0;
	for (let i = 0; i + 1 < stops.length; i++) {
		const [a, b] = [stops[i], stops[i + 1]];
		if (b.x - a.x < 1e-6) continue;
		for (let k = 1; k < PLACES; k++) {
			const u = k / PLACES;
			worst = Math.max(worst, Math.abs(ease(a.x + (b.x - a.x) * u) - (a.y + (b.y - a.y) * u)));
		}
	}
	return worst;
}
