import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eased, hold, linear, ONCE, ProjectBuilder, REPEAT } from '../../demo/builder';
import { makeQuay } from '../../demo/quay';
import { compileClip, evaluateClip, POSE_STRIDE, slotOffset } from '../clip/compile';
import { putBlend } from '../edits/clips';
import type { Doc, Loop } from '../document/types';
import { angleBetween, fromEuler } from '../pose/quaternion';
import { cuesPassed } from './cue-track';
import { decayOf, offsetAt } from './inertial';
import { layOver } from './mix';
import { Player, type PlayerCue } from './player';
import { blendPops } from './pops';
import { blendSpec } from './stored';
import { between } from '../testing';

/** A ferry that waits, travels on and turns about, with cues. */
function ferry(): Doc {
	return new ProjectBuilder('Ferry', 'world', 30)
		.part('ferry', { kind: 'box', size: [1, 1, 1] })
		.startClip('wait', 30, REPEAT)
		.keys('ferry', 'translation.y', [
			[0, 0, linear],
			[15, 1, linear],
			[30, 0],
		])
		.startClip('cruise', 30, REPEAT)
		.keys(
			'ferry',
			'translation.x',
			[
				[0, 5, linear],
				[30, 7],
			],
			true,
		)
		.startClip('turn', 30, ONCE)
		.keys('ferry', 'rotation.y', [
			[0, 0, eased(0.5, 0.5)],
			[30, 90],
		])
		.keys('ferry', 'visible', [[0, 0, hold]])
		.cue('begun', 0)
		.cue('half', 15)
		.cue('about', 30)
		.build();
}

const CUT = { kind: 'cut', seconds: 0 } as const;
const FADE = { kind: 'crossfade', seconds: 0.5 } as const;

describe('cues', () => {
	const loops = fc.record({
		mode: fc.constantFrom<Loop['mode']>('once', 'repeat', 'alternate'),
		count: fc.constantFrom(null, 1, 2, 5),
		pause: fc.constantFrom(0, 500),
	});
	const cueTimes = fc.uniqueArray(fc.nat(1000), { minLength: 1, maxLength: 5 });
	const clipWith = (loop: Loop) => ({
		type: 'clip' as const,
		id: 'c',
		name: 'c',
		order: 'a',
		length: 1000,
		loop,
		note: '',
	});
	const cuesAt = (times: number[]) =>
		times.map((t, i) => ({ type: 'cue' as const, id: `q${i}`, clip: 'c', name: 'q', t, payload: null }));
	const names = (list: { cue: { id: string }; at: number }[]) => list.map(({ cue, at }) => `${cue.id}@${at}`);

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
					const own = fired.filter(({ cue }) => cue.id === `q${i}`).length;
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

describe('an inertial offset', () => {
	const finite = (size: number) => between(-size, size);

	it('starts as it was, with the rate that it had, and ends at rest', () => {
		fc.assert(
			fc.property(finite(10), finite(50), (o, rate) => {
				const decay = decayOf(o, rate, 0.4, 0.03);
				const h = 1e-6;
				expect(offsetAt(decay, 0)).toBeCloseTo(o, 9);
				expect((offsetAt(decay, h) - offsetAt(decay, 0)) / h).toBeCloseTo(rate, 1);
				expect(Math.abs(offsetAt(decay, decay.seconds - 1e-4))).toBeLessThan(1e-6);
				expect(offsetAt(decay, decay.seconds)).toBe(0);
			}),
		);
	});

	it('never crosses zero, unless it would have to stop within two frames', () => {
		fc.assert(
			fc.property(finite(10), finite(50), (o, rate) => {
				const decay = decayOf(o, rate, 0.4, 0);
				for (let i = 0; i <= 50; i++)
					expect(offsetAt(decay, (decay.seconds * i) / 50) * o).toBeGreaterThanOrEqual(-1e-12 * o * o);
			}),
		);
		expect(decayOf(1, -1000, 0.4, 2 / 60).seconds).toBeCloseTo(2 / 60, 12);
	});
});

describe('layers', () => {
	const doc = ferry();
	const compiled = compileClip(doc, doc.clips.wait);
	const rest = compiled.rest;
	const posed = (change: Record<number, number>) => {
		const pose = rest.slice();
		for (const [slot, v] of Object.entries(change)) pose[Number(slot)] = v;
		return pose;
	};

	it('that add put their difference on top: doubly where two do', () => {
		const out = rest.slice();
		const layer = {
			mode: 'add',
			weight: 1,
			mask: null,
			pose: posed({ 0: 2, 4: 30, 6: 1.5 }),
			reference: rest,
		} as const;
		layOver(compiled.parts, posed({ 0: 1, 4: 10, 6: 2 }), [layer, { ...layer, weight: 0.5 }], out);
		expect(out[0]).toBeCloseTo(1 + 2 + 1, 12);
		expect(out[4]).toBeCloseTo(10 + 30 + 15, 9);
		expect(out[6]).toBeCloseTo(2 * 1.5 * 1.25, 12);
	});

	it('leave parts outside their mask alone', () => {
		const out = rest.slice();
		const pose = posed({ 0: 9 });
		for (const mode of ['add', 'replace'] as const) {
			layOver(
				compiled.parts,
				rest,
				[{ mode, weight: 1, mask: new Set(['other']), pose, reference: rest }],
				out,
			);
			expect(out).toEqual(rest);
			layOver(
				compiled.parts,
				rest,
				[{ mode, weight: 1, mask: new Set(['ferry']), pose, reference: rest }],
				out,
			);
			expect(out[0]).toBe(9);
		}
	});

	it('are refused where they would divide by a scale of 0', () => {
		const layer = { mode: 'add', weight: 1, mask: null, pose: rest, reference: posed({ 7: 0 }) } as const;
		expect(() => layOver(compiled.parts, rest, [layer], rest.slice())).toThrow(/scale of 0/);
	});
});

describe('what a drawing has', () => {
	/** A gauge whose card is wide in one clip and narrow in the other. */
	const doc = new ProjectBuilder('Gauge', 'interface', 60)
		.part('card', { kind: 'card', size: [80, 20, 0], radius: 4 })
		.startClip('wide', 60, ONCE)
		.keys('card', 'size.x', [[0, 120]])
		.startClip('narrow', 60, ONCE)
		.keys('card', 'size.x', [[0, 40]])
		.keys('card', 'radius.value', [[0, 10]])
		.build();
	const slot = slotOffset('size', 'x');
	const radius = slotOffset('radius', 'value');
	const shownAt = (kind: 'crossfade' | 'inertial', seconds: number) => {
		const player = new Player(doc);
		player.play({ clip: 'wide', blend: { kind: 'cut', seconds: 0 } });
		player.advance(0.5);
		player.play({ clip: 'narrow', blend: { kind, seconds: 0.4 } });
		player.advance(seconds);
		return [player.pose[slot], player.pose[radius]];
	};

	it('fades and decays as other numbers do', () => {
		expect(shownAt('crossfade', 0.2)).toEqual([expect.closeTo(80, 9), expect.closeTo(7, 9)]);
		// Half way a decay without a rate has (1 − ½)⁴ · (1 + 4 · ½) of its offset left.
		expect(shownAt('inertial', 0.2)[0]).toBeCloseTo(40 + 80 * (3 / 16), 6);
		expect(shownAt('inertial', 0.4)).toEqual([expect.closeTo(40, 9), expect.closeTo(10, 9)]);
	});

	it('jumps in a cut, which is told', () => {
		const pops = blendPops(doc, 'wide', 30, 'narrow', { kind: 'cut', seconds: 0 });
		expect(pops.map(({ property, value }) => [property, value])).toEqual([
			['size', 80],
			['radius', 6],
		]);
	});
});

describe('a player', () => {
	it('shows the clip itself when there is nothing to blend', () => {
		const doc = makeQuay();
		const player = new Player(doc);
		player.play({ clip: 'crane-swing', blend: CUT });
		player.advance(1.237);
		const compiled = compileClip(doc, doc.clips['crane-swing']);
		const truth = new Float64Array(compiled.parts.length * POSE_STRIDE);
		evaluateClip(compiled, 1.237 * 72_000, truth);
		expect(player.pose).toEqual(truth);
	});

	it('fades straight over, switches at a half', () => {
		const player = new Player(ferry());
		player.play({ clip: 'turn', blend: CUT });
		player.advance(1);
		player.play({ clip: 'wait', blend: FADE });
		player.advance(0.125);
		expect(player.pose[4]).toBeCloseTo(90 * 0.75, 6);
		expect(player.pose[10]).toBe(0);
		player.advance(0.126);
		expect(player.pose[10]).toBe(1);
		player.advance(0.25);
		expect(player.playing).toHaveLength(1);
		expect(player.pose[4]).toBe(0);
	});

	it('travels on through blends: rates are mixed, never places', () => {
		const doc = ferry();
		for (const frame of [1 / 7, 1 / 60, 1 / 240]) {
			const player = new Player(doc);
			const run = (seconds: number) => {
				for (let left = seconds; left > 1e-9; left -= frame) player.advance(Math.min(frame, left));
			};
			player.play({ clip: 'cruise', blend: CUT });
			run(2.5);
			expect(player.pose[0]).toBeCloseTo(5 + 5, 9);
			player.play({ clip: 'wait', blend: FADE });
			run(0.5);
			// Half of what it would have gone on for in the half second.
			expect(player.pose[0]).toBeCloseTo(10 + 0.5, 6);
			run(3);
			expect(player.pose[0]).toBeCloseTo(10.5, 6);
			player.play({ clip: 'cruise', blend: FADE });
			expect(player.pose[0]).toBeCloseTo(10.5, 6);
			run(1.5);
			expect(player.pose[0]).toBeCloseTo(10.5 + 0.5 + 2, 6);
		}
	});

	it('goes on without a jump when a third clip interrupts', () => {
		const player = new Player(ferry());
		player.play({ clip: 'wait', blend: CUT });
		player.advance(0.3);
		let before = player.pose.slice();
		for (const clip of ['turn', 'cruise', 'wait', 'turn']) {
			player.play({ clip, blend: FADE });
			for (let i = 0; i < 12; i++) {
				player.advance(1 / 120);
				for (let k = 0; k < 10; k++) expect(Math.abs(player.pose[k] - before[k])).toBeLessThan(2.5);
				before = player.pose.slice();
			}
		}
		const weights = player.playing.map(({ weight }) => weight);
		expect(weights.length).toBe(5);
		expect(weights.reduce((sum, w) => sum + w, 0)).toBeCloseTo(1, 12);
	});

	it('has an inertial blend keep value and rate, and end in the next clip', () => {
		const doc = ferry();
		const turning = (kind: 'inertial' | 'cut') =>
			blendPops(doc, 'turn', 36_000, 'wait', { kind, seconds: 0.5 }).find(
				(pop) => pop.property === 'rotation',
			)!;
		const [soft, cut] = [turning('inertial'), turning('cut')];
		expect(cut.value).toBeCloseTo(45, 3);
		expect(soft.value).toBeLessThan(1e-6);
		expect(cut.rate).toBeGreaterThan(100);
		expect(soft.rate).toBeLessThan(0.05 * cut.rate);
		const player = new Player(doc);
		player.play({ clip: 'turn', blend: CUT });
		player.advance(0.5);
		player.play({ clip: 'wait', blend: { kind: 'inertial', seconds: 0.5 } });
		player.advance(0.6);
		expect(player.pose[4]).toBe(0);
	});

	it('begins what waits or is queued at its own moment, whatever the frame time is', () => {
		const doc = ferry();
		for (const frame of [2.75, 1 / 3, 1 / 50]) {
			const fired: string[] = [];
			const player = new Player(doc, { oncue: ({ cue }) => fired.push(cue.name) });
			player.play({ clip: 'turn', blend: CUT, delay: 0.25 });
			player.enqueue({ clip: 'turn', blend: CUT });
			for (let left = 2.75; left > 1e-9; left -= frame) player.advance(Math.min(frame, left));
			expect(fired).toEqual(['begun', 'half', 'about', 'begun', 'half', 'about']);
		}
	});

	it('fires no cue on a seek, nor of a clip that weighs less than half', () => {
		const fired: PlayerCue[] = [];
		const player = new Player(ferry(), { oncue: (cue) => fired.push(cue) });
		player.play({ clip: 'turn', blend: CUT });
		player.seek(0.9);
		expect(fired).toEqual([]);
		player.advance(0.2);
		expect(fired.map(({ cue }) => cue.name)).toEqual(['about']);
		fired.length = 0;
		player.play({ clip: 'wait', blend: CUT });
		player.play({ clip: 'turn', blend: { kind: 'crossfade', seconds: 3 } });
		player.advance(1);
		expect(fired).toEqual([]);
	});

	it('answers to triggers, takes a phase over, and refuses what it does not know', () => {
		const player = new Player(ferry());
		player.on('go', { clip: 'cruise', blend: { ...FADE, start: 'phase' } });
		player.play({ clip: 'wait', blend: CUT });
		player.advance(0.25);
		expect(player.trigger('go')).toBe(true);
		expect(player.playing[1].ticks).toBe(18_000);
		expect(player.trigger('stop')).toBe(false);
		expect(() => player.play({ clip: 'dive', blend: CUT })).toThrow(/no clip "dive"/);
		expect(() => player.advance(NaN)).toThrow(RangeError);
	});

	it('plays a stored blend with its own shape', () => {
		const doc = putBlend(ferry(), {
			from: 'wait',
			to: 'cruise',
			kind: 'crossfade',
			seconds: 2,
			start: 0.5,
			shape: { kind: 'eased', start: 0.5, finish: 0.5 },
		});
		const spec = blendSpec(Object.values(doc.blends)[0]);
		expect(spec).toMatchObject({ kind: 'crossfade', seconds: 2, start: { seconds: 0.5 } });
		expect([0, 0.5, 1].map(spec.ease!)).toEqual([0, 0.5, 1].map((v) => expect.closeTo(v, 9)));
		expect(spec.ease!(0.2)).toBeLessThan(0.1);
	});

	it('turns the way chosen at the start of a fade all through it', () => {
		const doc = new ProjectBuilder('Vane', 'world', 30)
			.part('vane', { kind: 'box', size: [1, 1, 1] })
			.startClip('a', 60)
			.keys('vane', 'rotation.y', [
				[0, 0, linear],
				[60, 0],
			])
			.startClip('b', 60)
			.keys('vane', 'rotation.y', [
				[0, 170, linear],
				[60, 290],
			])
			.build();
		const player = new Player(doc);
		player.play({ clip: 'a', blend: CUT });
		player.play({ clip: 'b', blend: { kind: 'crossfade', seconds: 1 } });
		let before = fromEuler(player.pose.subarray(3, 6), 'XYZ');
		for (let i = 0; i < 60; i++) {
			player.advance(1 / 60);
			const now = fromEuler(player.pose.subarray(3, 6), 'XYZ');
			expect(angleBetween(before, now)).toBeLessThan(8);
			before = now;
		}
	});
});
