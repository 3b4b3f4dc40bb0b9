import type { StepJump } from './shape';

interface Stop {
	x: number;
	y: number;
}

/** Far below what a tick is of the longest clip in a thousand steps. */
const ROUNDING = 1e-9;

/** CSS Easing Level 2, §2.3 `steps(count, jump)`, right-continuous: at a jump the later value holds. */
export function stepsEase(count: number, jump: StepJump): (x: number) => number {
	const jumps = count + (jump === 'jump-both' ? 1 : jump === 'jump-none' ? -1 : 0);
	const first = jump === 'jump-start' || jump === 'jump-both' ? 1 : 0;
	return (x) => {
		// A progress at a jump may have been rounded to just before it.
		const step = Math.floor(Math.min(1, Math.max(0, x)) * count + ROUNDING) + first;
		return Math.min(step, jumps) / Math.max(1, jumps);
	};
}

/** Progress values at which a `steps()` function jumps, in 0…1. */
export function stepTimes(count: number): number[] {
	return Array.from({ length: count + 1 }, (_, i) => i / count);
}

/**
 * CSS `linear()` with resolved stops (CSS Easing Level 2, §2.2): piecewise linear, the last of several stops at one
 * place wins; before the first and after the last, the line through the outermost two goes on.
 */
export function stopsEase(stops: readonly Stop[]): (x: number) => number {
	return (x) => {
		let low = 0;
		let high = stops.length - 1;
		if (x < stops[0].x) return along(stops[0], stops[1], x);
		if (x === stops[high].x) return stops[high].y;
		if (x > stops[high].x) return along(stops[high], stops[high - 1], x);
		while (high - low > 1) {
			const middle = (low + high) >> 1;
			if (stops[middle].x <= x) low = middle;
			else high = middle;
		}
		return along(stops[low], stops[high], x);
	};
}

/** The line from one stop through another; where they stand at one place, the first's value. */
function along(a: Stop, b: Stop, x: number): number {
	return a.x === b.x ? a.y : a.y + ((b.y - a.y) * (x - a.x)) / (b.x - a.x);
}
