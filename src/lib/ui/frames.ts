/**
 * One frame of the screen: first what moves with the clock, then what follows from it, then what is drawn, each once.
 * Whoever asks for a picture while the clock moves gets it in that very frame.
 */
import { flushSync } from 'svelte';

type Tick = (time: number) => void;
type Draw = () => void;

const ticks = new Set<Tick>();
const draws = new Set<Draw>();
let queued = 0;

function taken<T>(set: Set<T>): T[] {
	const all = [...set];
	set.clear();
	return all;
}

function run(time: number): void {
	queued = 0;
	for (const tick of taken(ticks)) tick(time);
	flushSync();
	for (const draw of taken(draws)) draw();
}

function ask(): void {
	queued ||= requestAnimationFrame(run);
}

/** Calls a function in the next frame with the time of that frame in ms; asked for again, it is still called once. */
export function nextTick(tick: Tick): void {
	ticks.add(tick);
	ask();
}

/** Has something drawn in this frame, while the clock moves, or else in the next one: once, however often it is asked. */
export function nextPicture(draw: Draw): void {
	draws.add(draw);
	ask();
}

/** Takes back what was asked for. */
export function cancelFrame(asked: Tick | Draw): void {
	ticks.delete(asked as Tick);
	draws.delete(asked as Draw);
	if (ticks.size > 0 || draws.size > 0) return;
	cancelAnimationFrame(queued);
	queued = 0;
}
