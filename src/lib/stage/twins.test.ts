import { expect, it } from 'vitest';
import { compileClip, poseAt } from '$core/clip/compile';
import { setValue } from '$core/edits/keys';
import { putPart } from '$core/edits/parts';
import type { Doc } from '$core/document/types';
import { makeQuay } from '../../../demo/quay';
import { movingRoots, standAlike, type PosedClip } from './twins';

const quay = makeQuay();
const posed = (doc: Doc, clip: string, frame: number): PosedClip => {
	const compiled = compileClip(doc, doc.clips[clip]);
	return { compiled, pose: poseAt(compiled, frame * 2400) };
};

it('parts that move are shown once, with all that hangs on them', () => {
	const roots = (clip: string) => movingRoots(compileClip(quay, quay.clips[clip])).sort();
	expect(roots('kelp-sway')).toEqual(['kelp-1']);
	// The wheel turns by a formula on a ferry that travels; the rope hangs on the arm, the sack on nothing.
	expect(roots('ferry-crossing')).toEqual(['ferry']);
	expect(roots('sack-drop')).toEqual(['crane-arm', 'dust', 'mail-sack']);
});

it('a twin is hidden where nothing of it differs, and only there', () => {
	const address = { clip: 'kelp-sway', part: 'kelp-3', property: 'rotation', component: 'z' } as const;
	const changed = setValue(quay, address, 45 * 2400, 33);
	const alike = (frame: number) =>
		standAlike('kelp-1', posed(quay, 'kelp-sway', frame), posed(changed, 'kelp-sway', frame));
	// A segment in the middle of the strand turns otherwise about one frame alone.
	expect([0, 45, 90].map(alike)).toEqual([true, false, true]);
	expect(standAlike('mail-sack', posed(quay, 'sack-drop', 9), posed(quay, 'sack-drop', 9))).toBe(true);
	// The rope is the same, but what it hangs on is not.
	const lower = setValue(quay, { ...address, clip: 'sack-drop', part: 'crane-arm' }, 9 * 2400, -40);
	expect(standAlike('rope', posed(quay, 'sack-drop', 9), posed(lower, 'sack-drop', 9))).toBe(false);
	// Hung elsewhere the same numbers mean another place.
	const hung = putPart(quay, { ...quay.parts.rope, parent: null });
	expect(standAlike('rope', posed(quay, 'kelp-sway', 0), posed(hung, 'kelp-sway', 0))).toBe(false);
});
