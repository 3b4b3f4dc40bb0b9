/** The stops of a CSS `linear()` for any easing: few, and within a bound of it everywhere. */
import { TICKS_PER_SECOND } from '../../player/time';
import { stabCorridor } from './linear';
import { pinnedTicks } from './pins';
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
 * Stops for an easing that leads from 0 to 1, within `bound` of it, and exact at both ends and where it turns back all at once.
 * `pieces` are shares at which it has corners or jumps. Stops have few digits: the bound is checked on them as they will
 * be written, at places between the samples too, and tightened until it holds. Throws a RangeError when it cannot.
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
	const fewest = 1 - Math.floor(Math.log10(bound));
	for (const share of [0.96, 0.9, 0.75, 0.5]) {
		const exact = stopsOf(source, bound * share);
		// Where it is steep, the place of a stop needs more digits.
		for (const digits of [fewest, fewest + 2, fewest + 4]) {
			const stops = exact.map((stop) => rounded(stop, digits));
			if (worstOff(ease, stops) <= GUARD * bound) return stops;
		}
	}
	throw new RangeError(`no stops within ${bound} were found`);
}

/** A stop as it is written: x as a percentage of so many digits, too. */
function rounded({ x, y }: Stop, digits: number): Stop {
	return { x: Number((100 * x).toFixed(digits)) / 100, y: Number(y.toFixed(digits)) };
}

function stopsOf(source: Source, bound: number): Stop[] {
	const runs = sampleRuns(source, bound / 6, pinnedTicks(source, bound / 10));
	const stops: Stop[] = [];
	for (const run of runs) {
		const { at, values } = stabCorridor(run.times, run.values, run.slack, 1, bound);
		at.forEach((sample, i) => {
			if (i > 0 || !run.joins) stops.push({ x: run.times[sample], y: values[i] });
		});
	}
	// A run before a jump ends a float32 step early: its end belongs to the place of the jump.
	for (let i = 0; i + 1 < stops.length; i++)
		if (stops[i + 1].x - stops[i].x < 1e-6) stops[i].x = stops[i + 1].x;
	return stops;
}

/** Places between two stops that are looked at, and what of a bound is left for what lies between those. */
const PLACES = 32;
const GUARD = 0.997;
const INSIDE = 1e-6;

function worstOff(ease: (x: number) => number, stops: readonly Stop[]): number {
	let worst = 0;
	for (let i = 0; i + 1 < stops.length; i++) {
		const [a, b] = [stops[i], stops[i + 1]];
		if (b.x - a.x < 1e-6) continue;
		for (let k = 0; k <= PLACES; k++) {
			// Just inside the ends: at a jump both its sides are one place.
			const u = Math.min(1 - INSIDE, Math.max(INSIDE, k / PLACES));
			worst = Math.max(worst, Math.abs(ease(a.x + (b.x - a.x) * u) - (a.y + (b.y - a.y) * u)));
		}
	}
	return worst;
}
