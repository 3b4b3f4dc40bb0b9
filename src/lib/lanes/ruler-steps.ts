/** How far apart the marks of the ruler stand. */
import { frameToTicks, ticksToFrame } from '$core/time';

/** Frames between labelled marks so that they are at least `pixels` apart. */
export function frameStep(ticksPerPixel: number, frameRate: number, pixels: number): number {
	const least = ticksToFrame(ticksPerPixel * pixels, frameRate);
	const half = frameRate % 2 === 0 ? [frameRate / 2] : [];
	const steps = [
		1,
		2,
		5,
		10,
		...half,
		frameRate,
		2 * frameRate,
		5 * frameRate,
		10 * frameRate,
		30 * frameRate,
	];
	return steps.sort((a, b) => a - b).find((step) => step >= least) ?? 60 * frameRate;
}

/** Ticks of the marks over [from, to], every `step` frames. */
export function marks(from: number, to: number, step: number, frameRate: number): number[] {
	const first = Math.max(0, Math.ceil(ticksToFrame(from, frameRate) / step));
	const last = Math.floor(ticksToFrame(to, frameRate) / step);
	const result: number[] = [];
	for (let i = first; i <= last && result.length < 500; i++) result.push(frameToTicks(i * step, frameRate));
	return result;
}
