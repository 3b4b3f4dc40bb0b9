import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shownAt } from '../testing';
import { ONCE, ProjectBuilder } from '../../demo/builder';
import { channelId, type Doc } from '../document/types';
import { validateDocument } from '../document/validate';
import { cutAt, livesOf, moveEnd, putLives, type Life } from './life';
import { updatePart } from './parts';

const doc = new ProjectBuilder('Yard', 'world', 30)
	.part('lamp', { kind: 'ball', size: [1, 1, 1] })
	.startClip('night', 30, ONCE)
	.build();
const { night: clip } = doc.clips;
const { length } = clip;
const ID = channelId('night', 'lamp', 'visible', 'value');
const read = (of: Doc) => livesOf(of.channels[ID], of.parts.lamp, of.clips.night);
const life = (from: number, to: number): Life => ({ from, to });

/** Stretches in order, apart by a tick at least. */
const someLives = fc
	.uniqueArray(fc.integer({ min: 0, max: length }), { minLength: 2, maxLength: 10 })
	.map((ticks) => {
		const sorted = ticks.sort((a, b) => a - b);
		const pairs = Array.from({ length: Math.floor(sorted.length / 2) }, (_, i) =>
			life(sorted[2 * i], sorted[2 * i + 1]),
		);
		return pairs;
	});

it('a part that no key hides is shown throughout, or not at all, as it rests', () => {
	expect(read(doc)).toEqual([life(0, length)]);
	expect(read(updatePart(doc, 'lamp', { visible: false }))).toEqual([]);
});

it('stretches are read as they were written, and the part is shown in them and nowhere else', () => {
	fc.assert(
		fc.property(someLives, fc.array(fc.integer({ min: 0, max: length - 1 })), (lives, times) => {
			const made = putLives(doc, clip, 'lamp', lives);
			expect(
				validateDocument(JSON.parse(JSON.stringify({ format: 'hillock-project', version: 8, ...made }))).ok,
			).toBe(true);
			expect(read(made)).toEqual(lives);
			for (const t of times) {
				const isIn = lives.some(({ from, to }) => from <= t && t < to);
				expect([t, shownAt(made, 'night', t).number('lamp', 'visible')]).toEqual([t, isIn ? 1 : 0]);
			}
		}),
		{ numRuns: 60 },
	);
});

it('shown throughout again, it has no key more', () => {
	const short = putLives(doc, clip, 'lamp', [life(10, 20)]);
	expect(putLives(short, clip, 'lamp', [life(0, length)])).toEqual(doc);
	// What rests hidden needs one.
	const hidden = updatePart(doc, 'lamp', { visible: false });
	expect(read(putLives(hidden, clip, 'lamp', [life(0, length)]))).toEqual([life(0, length)]);
});

describe('an end that is moved', () => {
	const lives = [life(100, 200), life(300, 400)];
	it.each<[number, keyof Life, number, Life]>([
		[0, 'from', 50, life(50, 200)],
		[0, 'from', -50, life(0, 200)],
		[0, 'from', 500, life(190, 200)],
		[0, 'to', 150, life(100, 150)],
		[0, 'to', 999, life(100, 290)],
		[1, 'from', 0, life(210, 400)],
		[1, 'to', 999_999, life(300, length)],
	])('stretch %i, %s to %i: %j', (index, end, t, expected) => {
		const moved = moveEnd(lives, index, end, t, length, 10);
		expect(moved[index]).toEqual(expected);
		expect(moved[1 - index]).toEqual(lives[1 - index]);
	});
});

it('cut anywhere, the ends of the clip among them, a life is one that can be written', () => {
	const time = fc.oneof(fc.constantFrom(0, 1, length - 1, length), fc.integer({ min: 0, max: length }));
	fc.assert(
		fc.property(someLives, fc.constantFrom('from' as const, 'to' as const), time, (lives, end, t) => {
			for (const before of [lives, [], [life(0, length)]]) {
				const cut = cutAt(before, end, t, length);
				if (!cut) {
					// Nothing is left to be shown, or it would be hidden where it begins.
					expect(end === 'from' ? t === length : t === 0 || before.some(({ from }) => from === t)).toBe(true);
					continue;
				}
				const made = putLives(doc, clip, 'lamp', cut);
				const keys = made.channels[ID]?.keys ?? [];
				expect(keys.every((key, i) => i === 0 || key.t > keys[i - 1].t)).toBe(true);
				expect(cut.every((own) => own.to > own.from)).toBe(true);
				if (JSON.stringify(cut) === JSON.stringify(before)) continue;
				const isShown = (at: number) => cut.some(({ from, to }) => from <= at && at < to);
				expect([t, isShown(t), end === 'from' || isShown(t - 1)]).toEqual([t, end === 'from', true]);
			}
		}),
		{ numRuns: 1000 },
	);
});

describe('a life that is cut at the playhead', () => {
	const lives = [life(100, 200), life(300, 400)];
	it.each<[keyof Life, number, Life[] | null]>([
		['from', 150, [life(150, 200), life(300, 400)]],
		['to', 150, [life(100, 150), life(300, 400)]],
		['from', 250, [life(100, 200), life(250, 400)]],
		['to', 250, [life(100, 250), life(300, 400)]],
		['from', 50, [life(50, 200), life(300, 400)]],
		['to', 450, [life(100, 200), life(300, 450)]],
		['from', 450, [...lives, life(450, length)]],
		['to', 50, [life(0, 50), ...lives]],
		// What comes to touch its neighbour is one with it.
		['from', 200, [life(100, 400)]],
		['to', 300, null],
		['from', 400, [life(100, 200), life(300, length)]],
		['to', 100, null],
		['to', 200, lives],
	])('%s %i', (end, t, expected) => {
		expect(cutAt(lives, end, t, length)).toEqual(expected);
	});
});
