import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linear, ProjectBuilder } from '../../demo/builder';
import type { Doc } from '../document/types';
import { isOnFrame } from '../time';
import { countKeys } from './keys';
import { keysOffFrames, toWholeFrames } from './whole-frames';

const FRAME = 2400;
const id = 'c/cage/translation/y';
/** A channel with keys at some frames, whole or not. */
function withKeysAt(frames: readonly number[]): Doc {
	const doc = new ProjectBuilder('Lift', 'world', 30)
		.part('cage', { kind: 'box', size: [1, 1, 1] })
		.startClip('c', 60)
		.keys('cage', 'translation.y', [[0, 0, linear]])
		.build();
	const keys = frames.map((f, i) => ({ t: Math.round(f * FRAME), v: i, shape: { kind: 'linear' } as const }));
	return { ...doc, channels: { [id]: { ...doc.channels[id], keys } } };
}
const framesOf = (doc: Doc) => doc.channels[id].keys.map(({ t }) => t / FRAME);

describe('keys between frames', () => {
	it('are found, and go to the nearest frame, picked as before', () => {
		const doc = withKeysAt([0, 3.4, 7, 9.6]);
		const off = keysOffFrames(doc, 'c');
		expect(off).toEqual(new Map([[id, new Set([3.4 * FRAME, Math.round(9.6 * FRAME)])]]));
		const { doc: made, keys } = toWholeFrames(doc, off);
		expect(framesOf(made)).toEqual([0, 3, 7, 10]);
		expect(keys).toEqual(new Map([[id, new Set([3 * FRAME, 10 * FRAME])]]));
		expect(keysOffFrames(made, 'c').size).toBe(0);
	});

	it('leave those alone that are not picked', () => {
		const made = toWholeFrames(withKeysAt([0, 3.4, 7.4]), new Map([[id, new Set([7.4 * FRAME])]]));
		expect(framesOf(made.doc)).toEqual([0, 3.4, 7]);
	});

	it('that are no longer there are not picked, and nothing is changed for them', () => {
		const doc = withKeysAt([0, 3]);
		const gone = new Map([
			[id, new Set([3.4 * FRAME])],
			['c/cage/rotation/z', new Set([FRAME / 2])],
		]);
		const made = toWholeFrames(doc, gone);
		expect([made.doc, made.keys.size]).toEqual([doc, 0]);
	});

	it('that have one nearest frame: the nearer has it, the other stays and is never passed by', () => {
		expect(
			framesOf(toWholeFrames(withKeysAt([5, 5.3, 5.9]), keysOffFrames(withKeysAt([5, 5.3, 5.9]), 'c')).doc),
		).toEqual([5, 5.3, 6]);
		const crowd = withKeysAt([4.9, 5.2, 5.4]);
		expect(framesOf(toWholeFrames(crowd, keysOffFrames(crowd, 'c')).doc)).toEqual([5, 5.2, 5.4]);
	});

	it('whatever they are: none is lost, all stay in order, and what stays has its frame taken', () => {
		const times = fc.uniqueArray(fc.integer({ min: 0, max: 60 * FRAME }), { minLength: 1, maxLength: 30 });
		fc.assert(
			fc.property(times, (ticks) => {
				const doc = withKeysAt(ticks.sort((a, b) => a - b).map((t) => t / FRAME));
				const { doc: made, keys } = toWholeFrames(doc, keysOffFrames(doc, 'c'));
				const settled = made.channels[id].keys;
				expect(settled.map(({ v }) => v)).toEqual(doc.channels[id].keys.map(({ v }) => v));
				settled.forEach(({ t }, i) => {
					expect(t).toBeGreaterThan(settled[i - 1]?.t ?? -1);
					if (isOnFrame(t, 30)) return;
					const frame = Math.round(t / FRAME) * FRAME;
					// Another key has its frame, or stands between.
					if (frame < t) expect(settled[i - 1]?.t).toBeGreaterThanOrEqual(frame);
					else expect(settled[i + 1]?.t).toBeLessThanOrEqual(frame);
				});
				expect(countKeys(keys)).toBe(countKeys(keysOffFrames(doc, 'c')));
			}),
		);
	});
});
