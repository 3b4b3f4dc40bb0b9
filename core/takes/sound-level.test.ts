import { expect, it } from 'vitest';
import { LEVEL_RATE, soundLevel } from './sound-level';

const RATE = 8000;
/** A tone that is loud in the second half of each second. */
const beats = Float32Array.from({ length: 3 * RATE }, (_, i) =>
	i % RATE < RATE / 2 ? 0 : 0.3 * Math.sin((2 * Math.PI * 440 * i) / RATE),
);

it('is 1 where it is loudest, nothing where it is silent, and falls slowly', () => {
	const levels = soundLevel(beats, RATE);
	expect(levels).toHaveLength(3 * LEVEL_RATE + 1);
	const at = (seconds: number) => levels[Math.round(seconds * LEVEL_RATE)];
	expect(Math.max(...levels)).toBe(1);
	for (const loud of [0.75, 1.75, 2.75]) expect(at(loud)).toBeGreaterThan(0.95);
	expect(at(0.25)).toBe(0);
	// Two steps after it fell silent it still shows, half a second after hardly.
	expect(at(1.05)).toBeGreaterThan(0.4);
	expect(at(1.45)).toBeLessThan(0.05);
});

it('of silence, and of next to nothing, is nothing', () => {
	expect([...soundLevel(new Float32Array(RATE), RATE)].every((v) => v === 0)).toBe(true);
	expect([...soundLevel([], RATE)]).toEqual([0]);
	expect([...soundLevel([0.5], RATE)]).toEqual([1]);
});
