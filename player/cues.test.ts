import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nextPass } from './cues';
import { localTime, playedTicks, type Loop } from './loop';

const loops = fc.record({
	mode: fc.constantFrom<Loop['mode']>('once', 'repeat', 'alternate'),
	count: fc.constantFrom(null, 1, 2, 5),
	pause: fc.constantFrom(0, 500),
});
const clipWith = (loop: Loop) => ({ length: 1000, loop });
/** All passes of a time, one after the other, until a time. */
function passes(loop: Loop, t: number, from: number, until: number, way = 1): number[] {
	const found: number[] = [];
	for (let at = from; ;) {
		at = nextPass(clipWith(loop), t, at, way);
		if (!((until - at) * way >= 0)) return found;
		found.push(at);
	}
}

describe('a time of a round', () => {
	it('is passed where the clip shows it, and nowhere between', () => {
		fc.assert(
			fc.property(loops, fc.nat(1000), (loop, t) => {
				const clip = clipWith(loop);
				const end = Math.min(playedTicks(clip), 8000);
				const shown = { local: 0, round: 0 };
				const found = passes(loop, t, -1, end);
				for (const at of found) {
					localTime(clip, at, shown);
					// The end of a round that repeats without a pause is shown as the start of the next.
					const isEnd = t === 1000 && loop.mode === 'repeat' && loop.pause === 0 && at < playedTicks(clip);
					expect(shown.local).toBe(isEnd ? 0 : t);
				}
				const rounds = loop.mode === 'once' ? 1 : Math.min(loop.count ?? Infinity, 9);
				const inRounds = Array.from({ length: rounds }, (_, round) => {
					const start = loop.mode === 'once' ? 0 : round * (1000 + loop.pause);
					return start + (loop.mode === 'alternate' && round % 2 === 1 ? 1000 - t : t);
				}).filter((at) => at <= end);
				expect(found).toEqual([...new Set(inRounds)]);
			}),
			{ numRuns: 1000 },
		);
	});

	it('is passed backwards as often, the later first', () => {
		fc.assert(
			fc.property(loops, fc.nat(1000), fc.nat(7000), (loop, t, until) => {
				const there = passes(loop, t, -1, until);
				expect(passes(loop, t, until + 1, 0, -1)).toEqual(there.toReversed());
			}),
			{ numRuns: 1000 },
		);
		expect(passes({ mode: 'repeat', count: null, pause: 0 }, 800, 1900, 50, -1)).toEqual([1800, 800]);
	});

	it('is never passed beyond the clip', () => {
		for (const mode of ['once', 'repeat', 'alternate'] as const)
			expect(nextPass(clipWith({ mode, count: null, pause: 0 }), 1001, -1, 1)).toBe(Infinity);
	});
});
