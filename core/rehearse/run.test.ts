import { describe, expect, it } from 'vitest';
import { eased, linear, ONCE, ProjectBuilder } from '../../demo/builder';
import { makeParcelSlip } from '../../demo/parcel-slip';
import { makeQuay } from '../../demo/quay';
import { blendId, inOrder, type Doc } from '../document/types';
import type { RehearsalLimits } from '../document/rehearsals';
import { putBlend, removeClip, updateClip } from '../edits/clips';
import { removePart } from '../edits/parts';
import { putTrigger } from '../edits/triggers';
import { runRehearsal } from './run';
import { faultsToSarif } from './sarif';

const [ashore] = inOrder(makeQuay().rehearsals);
const run = (doc: Doc, rate = 60) => runRehearsal(doc, inOrder(doc.rehearsals)[0], { rate });

/** A lift that rises at 2 a second, then is sent down, which begins where it is told. */
const lift = (from: number, limits: Partial<RehearsalLimits> = {}) =>
	new ProjectBuilder('Lift', 'world', 30)
		.part('lift', { kind: 'box', size: [1, 1, 1] })
		.startClip('rise', 30, ONCE)
		.keys('lift', 'translation.y', [
			[0, 0, linear],
			[30, 2],
		])
		.cue('up', 30)
		.startClip('sink', 30, ONCE)
		.keys('lift', 'translation.y', [
			[0, from, linear],
			[30, from - 2],
		])
		.trigger({ kind: 'start' }, { kind: 'play', clip: 'rise', layer: null })
		.trigger({ kind: 'key', key: 's' }, { kind: 'play', clip: 'sink', layer: null })
		.rehearsal('up and down', 2, [{ t: 0.5, what: { kind: 'key', key: 's' } }], limits)
		.build();

describe('a rehearsal', () => {
	it('of the demo keeps its limits, in frames of any length', () => {
		for (const doc of [makeQuay(), makeParcelSlip()]) {
			const [rehearsal] = inOrder(doc.rehearsals);
			let n = 0;
			const random = () => (n = (n + 0.618034) % 1);
			const runs = [{ rate: 60 }, { rate: 15 }, { random }].map((frames) =>
				runRehearsal(doc, rehearsal, frames),
			);
			for (const { faults, cues } of runs) {
				expect(faults).toEqual([]);
				cues.forEach((cue, i) =>
					expect(cue).toEqual({ ...runs[0].cues[i], t: expect.closeTo(runs[0].cues[i].t, 6) }),
				);
			}
		}
	});

	it('tells a jump and a kink where a clip takes over, by what the part goes through', () => {
		// From 1 on at 0.5 s: it jumps to 4 and goes to 2; from 0 to 4 is its range, and the speed turns from 2 to −2.
		const { jump, kink, step, end } = run(lift(4));
		expect(jump).toMatchObject({
			part: 'lift',
			path: 'translation',
			share: expect.closeTo(3 / 4, 1) as number,
		});
		expect(jump!.t).toBeCloseTo(0.5, 2);
		expect(kink!.share).toBeCloseTo(1, 1);
		expect(step!.share).toBeCloseTo(3 / 4, 1);
		expect(end.lift.translation[1]).toBeCloseTo(2, 2);
		// Where it begins where the other one is left, nothing jumps.
		expect(run(lift(1)).jump).toBeNull();
	});

	it('breaks its limits when a blend jumps, a cue comes late, is missing or comes unasked', () => {
		const messages = (doc: Doc) => run(doc).faults.map(({ kind }) => kind);
		const cues = [{ t: 1, clip: 'rise', cue: 'up' }];
		expect(messages(lift(1, { jump: 0.01, kink: 20, cues: [] }))).toEqual([]);
		expect(messages(lift(4, { jump: 0.01, kink: 20, cues: [] }))).toEqual(['jump']);
		expect(messages(lift(4, { jump: 0.9, kink: 0.5, cues }))).toEqual(['kink', 'missing-cue']);
		const calm = putBlend(lift(4, { jump: 0.01 }), {
			from: 'rise',
			to: 'sink',
			kind: 'inertial',
			seconds: 0.4,
			start: 'start',
			shape: eased(0.4, 0.4),
		});
		expect(messages(calm)).toEqual([]);
		expect(calm.blends[blendId('rise', 'sink')].kind).toBe('inertial');

		const quay = makeQuay();
		// A cue that is moved by 0.1 s no longer passes where it is waited for.
		const thump = Object.values(quay.cues).find(({ name, t }) => name === 'thump' && t > 72_000)!;
		const late = { ...quay, cues: { ...quay.cues, [thump.id]: { ...thump, t: thump.t + 7200 } } };
		const faults = runRehearsal(late, ashore).faults;
		expect(faults.map(({ kind }) => kind)).toEqual(['missing-cue', 'unexpected-cue']);
		expect(faults[0].message).toBe('“thump” of sack drop does not pass within 0.05 s of 4.300 s');
		const sarif = JSON.stringify(
			faultsToSarif(
				'quay.json',
				faults.map((own) => ({ ...own, rehearsal: 'x' })),
			),
		);
		expect(sarif).toContain('A cue does not pass in its time: “thump” of sack drop');
	});

	it('does what is left of it where parts and clips are gone, and is refused without a clip', () => {
		const doc = makeQuay();
		const flown = removePart(doc, 'pelican');
		expect(inOrder(flown.rehearsals)[0].inputs).toHaveLength(2);
		const still = removeClip(doc, 'pelican-hop');
		expect(inOrder(still.rehearsals)[0].limits.cues!.map(({ clip }) => clip)).not.toContain('pelican-hop');
		expect(run(still).faults).toEqual([]);
		const twice = Object.values(doc.triggers).reduce(
			(all, own) => putTrigger(all, { ...own, delay: own.when.kind === 'cue' ? 0.3 : own.delay }),
			doc,
		);
		expect(run(twice).faults.map(({ kind }) => kind)).toContain('missing-cue');
		expect(() => runRehearsal({ ...doc, clips: {}, channels: {}, cues: {} }, ashore)).toThrow(RangeError);
		expect(run(updateClip(doc, 'sack-drop', { name: 'drop' })).faults).toEqual([]);
	});
});
