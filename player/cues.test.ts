import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cuesPassed, type FiredCue } from './cues';
import type { Loop } from './loop';

describe('cues', () => {
	const loops = fc.record({
		mode: fc.constantFrom<Loop['mode']>('once', 'repeat', 'alternate'),
		count: fc.constantFrom(null, 1, 2, 5),
		pause: fc.constantFrom(0, 500),
	});
	const cueTimes = fc.uniqueArray(fc.nat(1000), { minLength: 1, maxLength: 5 });
	const clipWith = (loop: Loop) => ({ length: 1000, loop });
	const cuesAt = (times: number[]) => times.map((t, i) => ({ name: `q${i}`, t, payload: null }));
	const names = (list: FiredCue[]) => list.map(({ cue, at }) => `${cue.name}@${at}`);

	it('fire once each, in order, however time is cut into frames', () => {
		fc.assert(
			fc.property(
				loops,
				cueTimes,
				fc.array(fc.nat(2500), { minLength: 1, maxLength: 8 }),
				(loop, times, frames) => {
					const [clip, cues] = [clipWith(loop), cuesAt(times)];
					const whole = frames.reduce((sum, step) => sum + step, 0);
					let at = 0;
					const pieces = frames.flatMap((step, i) => {
						const fired = cuesPassed(clip, cues, at, at + step, i === 0);
						at += step;
						return fired;
					});
					expect(names(pieces)).toEqual(names(cuesPassed(clip, cues, 0, whole, true)));
				},
			),
		);
	});

	it('fire in every round, once a round', () => {
		fc.assert(
			fc.property(loops, cueTimes, fc.integer({ min: 1, max: 5 }), (loop, times, rounds) => {
				const clip = clipWith({ ...loop, count: rounds });
				const fired = cuesPassed(clip, cuesAt(times), 0, 100_000, true);
				const each = loop.mode === 'once' ? 1 : rounds;
				const turningPoints = loop.mode === 'alternate' && loop.pause === 0;
				times.forEach((t, i) => {
					const own = fired.filter(({ cue }) => cue.name === `q${i}`).length;
					// Where it turns about without a pause, the end of one round is the start of the next.
					const shared = turningPoints
						? t === 1000
							? Math.floor(rounds / 2)
							: t === 0
								? Math.floor((rounds - 1) / 2)
								: 0
						: 0;
					expect(own).toBe(each - shared);
				});
			}),
		);
	});

	it('fire backwards too, the later first', () => {
		const fired = cuesPassed(
			clipWith({ mode: 'repeat', count: null, pause: 0 }),
			cuesAt([100, 800]),
			1900,
			50,
		);
		expect(names(fired)).toEqual(['q1@1800', 'q0@1100', 'q1@800', 'q0@100']);
	});
});
