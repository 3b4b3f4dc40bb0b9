import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeParcelSlip } from '../../demo/parcel-slip';
import { linear, ProjectBuilder } from '../../demo/builder';
import { makeQuay } from '../../demo/quay';
import type { Clip, Doc } from '../document/types';
import { setValue } from './keys';
import { updatePart } from './parts';
import { joinClips, mirrorClip, reverseClip, splitClip, trimClip } from './whole-clips';
import { between } from '../../player/testing';
import { shownAt } from '../testing';

function pose(doc: Doc, clip: string, t: number): number[] {
	return shownAt(doc, clip, t).all();
}

/** Largest difference of two poses, colours and switches too. */
function apart(a: number[], b: number[]): number {
	expect(a.length).toBe(b.length);
	return a.reduce((worst, v, i) => Math.max(worst, Math.abs(v - b[i])), 0);
}

const quay = makeQuay();
const slip = makeParcelSlip();
const clips = [quay, slip].flatMap((doc) => Object.values(doc.clips).map((clip) => [doc, clip] as const));
const some = fc.nat(clips.length - 1);
const share = between(0.05, 0.95);
const second: Clip = { ...quay.clips['sack-drop'], id: 'second', name: 'second' };
/** Parametric shapes that are cut become handles within a thousandth of their travel: of some hundred pixels. */
const allowed = (doc: Doc) => (doc === slip ? 1 : 0.06);

describe('a clip', () => {
	it('backwards shows at any time what it showed as long before its end', () => {
		fc.assert(
			fc.property(some, share, (which, where) => {
				const [doc, clip] = clips[which];
				const turned = reverseClip(doc, clip);
				const t = Math.round(where * clip.length) + 0.5;
				// A formula reads time itself nowhere in the demo, so that it turns about with what it reads.
				expect(apart(pose(turned, clip.id, clip.length - t), pose(doc, clip.id, t))).toBeLessThan(
					allowed(doc),
				);
			}),
			{ numRuns: 60 },
		);
		const cues = Object.values(reverseClip(quay, quay.clips['sack-drop']).cues).filter(
			(cue) => cue.clip === 'sack-drop',
		);
		expect(cues.map((cue) => cue.t).sort((a, b) => a - b)).toEqual([14, 37, 55].map((frame) => frame * 2400));
	});

	it('cut out of another shows the same in between', () => {
		fc.assert(
			fc.property(some, share, share, share, (which, a, b, where) => {
				const [doc, clip] = clips[which];
				const [from, to] = [a, b].sort((x, y) => x - y).map((x) => Math.round(x * clip.length));
				if (to - from < 10) return;
				const cut = trimClip(doc, clip, from, to);
				expect(cut.clips[clip.id].length).toBe(to - from);
				const t = where * (to - from);
				expect(apart(pose(cut, clip.id, t), pose(doc, clip.id, from + t))).toBeLessThan(allowed(doc));
			}),
			{ numRuns: 60 },
		);
	});

	it('taken apart and put together again is what it was', () => {
		fc.assert(
			fc.property(some, share, share, (which, at, where) => {
				const [doc, clip] = clips[which];
				const t = Math.max(2, Math.round(at * clip.length));
				const apart2 = splitClip(doc, clip, t, second);
				expect([apart2.clips[clip.id].length, apart2.clips.second.length]).toEqual([t, clip.length - t]);
				let n = 0;
				const joined = joinClips(apart2, apart2.clips[clip.id], apart2.clips.second, () => `again${n++}`);
				expect(joined.clips[clip.id].length).toBe(clip.length);
				const look = where * clip.length;
				if (Math.abs(look - t) < 2) return;
				expect(apart(pose(joined, clip.id, look), pose(doc, clip.id, look))).toBeLessThan(allowed(doc));
			}),
			{ numRuns: 60 },
		);
	});

	it('put after another leaves parts at rest where only one of them moves them', () => {
		const [a, b] = [quay.clips['sack-drop'], quay.clips['pelican-hop']];
		const joined = joinClips(quay, a, b, () => 'cue');
		for (const t of [0, 50_000, a.length - 5])
			expect(apart(pose(joined, a.id, t), pose(quay, a.id, t))).toBeLessThan(1e-9);
		const later = pose(joined, a.id, a.length + 30_000);
		const own = pose(quay, b.id, 30_000);
		expect(apart(later, own)).toBeLessThan(1e-9);
	});

	it('mirrored twice is what it was, and once goes the other way', () => {
		const clip = quay.clips['ferry-crossing'];
		const once = mirrorClip(quay, clip);
		const rest = quay.parts.ferry.rest.translation[0];
		const xIn = (doc: Doc) => shownAt(doc, clip.id, 200_000).number('ferry', 'translation', 'x');
		expect(xIn(once) - rest).toBeCloseTo(rest - xIn(quay), 9);
		expect(apart(pose(mirrorClip(once, clip), clip.id, 123_456), pose(quay, clip.id, 123_456))).toBeLessThan(
			1e-9,
		);
	});
});

describe('two clips in a row', () => {
	const crate = (from: number, to: number) =>
		new ProjectBuilder('Crate', 'world', 30)
			.part('crate', { kind: 'box', size: [1, 1, 1] })
			.startClip('a', 30)
			.keys('crate', 'translation.x', [
				[0, 0, linear],
				[30, from],
			])
			.startClip('b', 30)
			.keys('crate', 'translation.x', [
				[0, to, linear],
				[30, 9],
			])
			.build();
	const joined = (from: number, to: number) => {
		const doc = crate(from, to);
		const { a, b } = doc.clips;
		return joinClips(doc, a, b, () => 'cue').channels['a/crate/translation/x'].keys.map(({ t, v }) => [t, v]);
	};

	it('meet in one key where the second begins as the first ends, and a tick apart where it does not', () => {
		expect(joined(4, 4)).toEqual([
			[0, 0],
			[72_000, 4],
			[144_000, 9],
		]);
		expect(joined(4, 5)).toEqual([
			[0, 0],
			[71_999, 4],
			[72_000, 5],
			[144_000, 9],
		]);
	});
});

it('in a mirror what is revealed from the left is revealed from the right, about the rest pose as well', () => {
	const slip = makeParcelSlip();
	const reveal = { top: 0, right: 0.25, bottom: 0, left: 0 };
	const own = updatePart(slip, 'slip', { drawing: { ...slip.parts.slip.drawing, reveal } });
	const at = { clip: 'slip-arrives', part: 'slip', property: 'reveal', component: 'left' } as const;
	const wiped = setValue(setValue(own, at, 0, 1), at, 24_000, 0);
	const mirrored = mirrorClip(wiped, wiped.clips['slip-arrives']);
	expect(mirrored.channels['slip-arrives/slip/reveal/left']).toBe(undefined);
	const { id, component, keys } = mirrored.channels['slip-arrives/slip/reveal/right'];
	expect([id, component, keys.map(({ v }) => v)]).toEqual([
		'slip-arrives/slip/reveal/right',
		'right',
		[1.25, 0.25],
	]);
	const twice = mirrorClip(mirrored, mirrored.clips['slip-arrives']);
	expect(twice.channels['slip-arrives/slip/reveal/left'].keys.map(({ v }) => v)).toEqual([1, 0]);
});
