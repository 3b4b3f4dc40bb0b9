import type { StepJump } from './shape';

/** CSS Easing Level 2, §2.3 `steps(count, jump)`, right-continuous: at a jump the later value holds. */
export function stepsEase(count: number, jump: StepJump): (x: number) => number {
	const jumps = count + (jump === 'jump-both' ? 1 : jump === 'jump-none' ? -1 : 0);
	const first = jump === 'jump-start' || jump === 'jump-both' ? 1 : 0;
	return (x) => {
		const step = Math.floor(Math.min(1, Math.max(0, x)) * count) + first;
		return Math.min(step, jumps) / Math.max(1, jumps);
	};
}

/** Progress values at which a `steps()` function jumps, in 0…1. */
export function stepTimes(count: number): number[] {
	return Array.from({ length: count + 1 }, (_, i) => i / count);
}

/** CSS `linear()` with resolved stops: piecewise linear, the last of several stops at one place wins. */
export function stopsEase(stops: readonly { x: number; y: number }[]): (x: number) => number {
	return (x) => {
		let low = 0;
		let high = stops.length - 1;
		if (x < stops[0].x) return stops[0].y;
		if (x >= stops[high].x) return stops[high].y;
		while (high - low > 1) {
			const middle = (low + high) >> 1;
			if (stops[middle].x <= x) low = middle;
			else high = middle;
		}
		const a = stops[low];
		const b = stops[high];
		return a.y + ((b.y - a.y) * (x - a.x)) / (b.x - a.x);
	};
}
