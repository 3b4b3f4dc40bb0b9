import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linear, ONCE, ProjectBuilder, type KeyRow } from '../../demo/builder';
import { makeQuay } from '../../demo/quay';
import type { Loop } from '../../player/loop';
import { compileClip } from './compile';
import { evaluateClip } from '../../player/motion';
import { evaluateCurve } from '../../player/curve/evaluate';
import { localTime, playedTicks } from '../../player/loop';
import { seamOf } from './seam';
import { between } from '../../player/testing';

const FRAME = 2400;

/** A crate that goes from 0 to 3 in x over 30 frames. */
function crate(
	loop: Loop,
	accumulates = false,
	rows: KeyRow[] = [
		[0, 0, linear],
		[30, 3],
	],
) {
	const doc = new ProjectBuilder('Loop', 'world', 30)
		.part('crate', { kind: 'empty' })
		.startClip('clip', 30, loop)
		.keys('crate', 'translation.x', rows, accumulates)
		.build();
	const compiled = compileClip(doc, doc.clips.clip);
	const out = compiled.layout.rest.slice();
	return (frame: number) => {
		evaluateClip(compiled, frame * FRAME, out);
		return out[0];
	};
}
const looped = (mode: Loop['mode'], count: number | null = null, pause = 0): Loop => ({
	mode,
	count,
	pause: pause * FRAME,
});

describe('a clip', () => {
	it('that plays once stays at its end', () => {
		const at = crate(ONCE);
		expect([at(0), at(15), at(30), at(99)]).toEqual([0, 1.5, 3, 3]);
	});

	it('that repeats shows its start where its end would be, and its end at the very last', () => {
		const at = crate(looped('repeat', 2));
		expect([at(29), at(30), at(45), at(60), at(70)].map((v) => Number(v.toFixed(9)))).toEqual([
			2.9, 0, 1.5, 3, 3,
		]);
	});

	it('that repeats with a pause holds its end in the pause', () => {
		const at = crate(looped('repeat', null, 10));
		expect([at(30), at(39), at(40), at(55)].map((v) => Number(v.toFixed(9)))).toEqual([3, 3, 0, 1.5]);
	});

	it('that alternates comes back the way it went', () => {
		const at = crate(looped('alternate'));
		for (const frame of [1, 7, 13.5, 29]) expect(at(60 - frame)).toBeCloseTo(at(frame), 12);
		expect(at(30)).toBe(3);
	});

	it('with a channel that accumulates travels by its own change each round', () => {
		const at = crate(looped('repeat'), true);
		for (let round = 0; round < 5; round++) expect(at(30 * round + 10)).toBeCloseTo(3 * round + 1, 9);
	});

	it('lasts as long as its rounds and the pauses between them', () => {
		const clip = { ...makeQuay().clips['sack-drop'], length: 100 };
		expect(playedTicks({ ...clip, loop: ONCE })).toBe(100);
		expect(playedTicks({ ...clip, loop: { mode: 'repeat', count: 3, pause: 7 } })).toBe(314);
		expect(playedTicks({ ...clip, loop: looped('repeat') })).toBe(Infinity);
	});

	it('is always within its length, whatever the time', () => {
		const place = { local: 0, round: 0 };
		fc.assert(
			fc.property(
				fc.constantFrom<Loop['mode']>('once', 'repeat', 'alternate'),
				fc.option(fc.integer({ min: 1, max: 9 })),
				fc.integer({ min: 0, max: 50_000 }),
				between(-1e5, 1e7),
				(mode, count, pause, t) => {
					const clip = { ...makeQuay().clips['sack-drop'], length: 72_000, loop: { mode, count, pause } };
					localTime(clip, t, place);
					expect(place.local).toBeGreaterThanOrEqual(0);
					expect(place.local).toBeLessThanOrEqual(72_000);
					expect(place.round).toBeLessThan(count ?? Infinity);
				},
			),
		);
	});
});

it('a pose read span by span is the pose read channel by channel, in any order of times', () => {
	const doc = makeQuay();
	for (const clip of Object.values(doc.clips)) {
		const compiled = compileClip(doc, clip);
		const fresh = compileClip(doc, { ...clip });
		const out = compiled.layout.rest.slice();
		fc.assert(
			fc.property(fc.array(between(0, clip.length), { minLength: 3, maxLength: 12 }), (times) => {
				for (const t of times) {
					evaluateClip(compiled, t, out);
					if (t === clip.length) continue;
					for (const { curve, place } of fresh.channels)
						expect(out[place]).toBeCloseTo(evaluateCurve(curve, t), 12);
				}
			}),
			{ numRuns: 20 },
		);
	}
});

describe('a seam', () => {
	const seam = (
		rows: KeyRow[],
		options: { rotates?: boolean; accumulates?: boolean } = {},
		mode: Loop['mode'] = 'repeat',
	) => {
		const doc = new ProjectBuilder('Seam', 'world', 30)
			.part('crate', { kind: 'empty' })
			.startClip('clip', 30, looped(mode))
			.keys('crate', 'translation.x', rows)
			.build();
		const { curve } = compileClip(doc, doc.clips.clip).channels[0];
		return seamOf(curve, doc.clips.clip, { rotates: false, accumulates: false, ...options });
	};
	it('has the gap between end and start; whole turns close, and so does travel that adds up', () => {
		expect(
			seam([
				[0, 1, linear],
				[30, 4],
			]).gap,
		).toBe(3);
		expect(
			seam(
				[
					[0, 0, linear],
					[30, 720],
				],
				{ rotates: true },
			).gap,
		).toBe(0);
		expect(
			seam(
				[
					[0, 0, linear],
					[30, 370],
				],
				{ rotates: true },
			).gap,
		).toBe(10);
		expect(
			seam(
				[
					[0, 0, linear],
					[30, 5],
				],
				{ accumulates: true },
			).gap,
		).toBe(0);
	});
	it('has the difference of the speeds; there and back, twice the end speed', () => {
		expect(
			seam([
				[0, 0, linear],
				[15, 2, linear],
				[30, 0],
			]).slopeGap,
		).toBeCloseTo(8, 6);
		expect(
			seam(
				[
					[0, 0, linear],
					[30, 3],
				],
				{},
				'alternate',
			).slopeGap,
		).toBeCloseTo(6, 6);
	});
});
