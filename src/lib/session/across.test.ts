import { describe, expect, it, vi } from 'vitest';
import { compileTogether, poseAt } from '$core/clip/compile';
import { orientationIn, type Posed } from '$core/clip/layout';
import { putBlend } from '$core/edits/clips';
import type { BlendKind } from '$core/document/types';
import { makeQuay } from '../../../demo/quay';
import { Across, Crossing } from './across.svelte';
import { Session } from './session.svelte';

const quay = makeQuay();
const [blend] = Object.values(quay.blends);
const at = (kind: BlendKind, seconds: number) => {
	const crossing = new Crossing(quay, { ...blend, kind });
	crossing.advance(seconds - crossing.now);
	return crossing;
};
const place = quay.clips[blend.from].length / 72_000;
/** How the rope is turned: the sine of half its angle. */
const turned = (posed: Posed) => orientationIn(posed, quay.parts.rope)[2];
const rope = ({ player }: Crossing) => turned({ layout: player.layout, pose: player.pose });
const own = (clip: string, seconds: number) => {
	const compiled = compileTogether(quay, [quay.clips[blend.from], quay.clips[blend.to]]);
	const one = compiled.find((found) => found.clip.id === clip)!;
	return turned({ layout: one.layout, pose: poseAt(one, seconds * 72_000) });
};

describe('playing across', () => {
	it('begins a second before the clip ends, and shows the clip that goes until then', () => {
		const crossing = new Crossing(quay, blend);
		expect([crossing.leaves, crossing.now]).toEqual([place, place - 1]);
		expect(rope(at('crossfade', place - 0.5))).toBeCloseTo(own(blend.from, place - 0.5), 6);
	});

	it('goes over by the kind of the blend, at the very moment of the end', () => {
		// However long the pictures are between which the end lies.
		for (const kind of ['cut', 'crossfade'] as const) {
			const long = new Crossing(quay, { ...blend, kind });
			const later = place + blend.seconds + 0.3;
			long.advance(later - long.now);
			expect(rope(long)).toBeCloseTo(own(blend.to, blend.seconds + 0.3), 6);
		}
		expect(rope(at('cut', place + 0.05))).toBeCloseTo(own(blend.to, 0.05), 6);
		const half = rope(at('crossfade', place + blend.seconds / 2));
		expect(half).not.toBeCloseTo(own(blend.to, blend.seconds / 2), 2);
	});

	it('ends by itself, later by the blend; a clip into itself too', () => {
		const played = (kind: BlendKind, seconds: number) => {
			const crossing = new Crossing(putBlend(quay, blend), { ...blend, kind, seconds });
			const from = crossing.now;
			while (crossing.advance(0.01));
			return crossing.now - from;
		};
		expect(played('crossfade', 0.4)).toBeCloseTo(1 + 0.4 + 1.5, 1);
		const again = new Crossing(quay, { ...blend, to: blend.from });
		expect(again.advance(10)).toBe(false);
	});
});

it('what is played across is shown, and any playing or another clip ends it', () => {
	vi.stubGlobal('requestAnimationFrame', () => 1);
	vi.stubGlobal('cancelAnimationFrame', () => {});
	vi.stubGlobal('fetch', () => new Promise(() => {}));
	const session = new Session({ doc: quay, revision: 0, undo: null, redo: null });
	session.openClip(blend.from);
	const still = session.posed;
	session.playAcross(blend);
	expect([session.across.blend, session.posed === still]).toEqual([blend.id, false]);
	expect(session.posed.layout.rest.length).toBeGreaterThan(still.layout.rest.length);
	session.togglePlaying();
	expect([session.across.blend, session.transport.playing]).toEqual([null, false]);
	expect(session.posed.layout).toStrictEqual(still.layout);
	session.playAcross(blend);
	session.openClip(blend.to);
	expect(session.across.ticks).toBeNull();
	expect(new Across(() => 1).posed).toBeNull();
	vi.unstubAllGlobals();
});
