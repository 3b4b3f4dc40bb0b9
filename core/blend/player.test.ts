import { describe, expect, it } from 'vitest';
import { eased, hold, linear, ONCE, ProjectBuilder, REPEAT } from '../../demo/builder';
import { makeQuay } from '../../demo/quay';
import { placeOf } from '../../player/layout';
import { angleBetween, type Quaternion } from '../../player/maths/quaternion';
import { evaluateClip } from '../../player/motion';
import { Player, type PlayerCue, type PlayerOptions } from '../../player/player';
import type { Blend, Cue, Doc, Property } from '../document/types';
import { putBlend } from '../edits/clips';
import { blendSpec, clipSet, measureBlend, type DocNames } from './clip-set';
import { blendPops } from './pops';

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
		.startClip('still', 30, REPEAT)
		.keys('ferry', 'translation.x', [[0, 9]])
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

const playerOf = (doc: Doc, options?: PlayerOptions<DocNames>) => new Player(clipSet(doc), options);
/** A number of the only part in a player's pose; rotations as angles about y, in −180…180°. */
function numberOf({ layout, pose }: Player<DocNames>, path: Property, k = 0): number {
	const [{ part }] = layout.targets;
	const at = placeOf(layout, part, path);
	return path === 'rotation' ? (2 * Math.atan2(pose[at + 1], pose[at + 3]) * 180) / Math.PI : pose[at + k];
}

const CUT = { kind: 'cut', seconds: 0 } as const;
const FADE = { kind: 'crossfade', seconds: 0.5 } as const;

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
	const shownAt = (kind: 'crossfade' | 'inertial', seconds: number) => {
		const player = playerOf(doc);
		player.play({ clip: 'wide', blend: { kind: 'cut', seconds: 0 } });
		player.advance(0.5);
		player.play({ clip: 'narrow', blend: { kind, seconds: 0.4 } });
		player.advance(seconds);
		return [numberOf(player, 'size'), numberOf(player, 'radius')];
	};

	it('fades and decays as other numbers do', () => {
		expect(shownAt('crossfade', 0.2)).toEqual([expect.closeTo(80, 9), expect.closeTo(7, 9)]);
		// Half way a decay without a rate has (1 − ½)⁴ · (1 + 4 · ½) of its offset left.
		expect(shownAt('inertial', 0.2)[0]).toBeCloseTo(40 + 80 * (3 / 16), 6);
		expect(shownAt('inertial', 0.4)).toEqual([expect.closeTo(40, 9), expect.closeTo(10, 9)]);
	});

	it('jumps in a cut, which is told', () => {
		const pops = blendPops(clipSet(doc), 'wide', 30, 'narrow', { kind: 'cut', seconds: 0 });
		expect(pops.map(({ property, value }) => [property, value])).toEqual([
			['size', 80],
			['radius', 6],
		]);
	});
});

describe('a player', () => {
	it('shows the clip itself when there is nothing to blend', () => {
		const doc = makeQuay();
		const player = playerOf(doc);
		player.play({ clip: 'crane-swing', blend: CUT });
		player.advance(1.237);
		const truth = player.pose.slice();
		evaluateClip(clipSet(doc).clips.get('crane-swing')!.motion, 1.237 * 72_000, truth);
		expect(player.pose).toEqual(truth);
	});

	it('fades straight over, switches at a half', () => {
		const player = playerOf(ferry());
		player.play({ clip: 'turn', blend: CUT });
		player.advance(1);
		player.play({ clip: 'wait', blend: FADE });
		player.advance(0.125);
		expect(numberOf(player, 'rotation')).toBeCloseTo(90 * 0.75, 6);
		expect(numberOf(player, 'visible')).toBe(0);
		player.advance(0.126);
		expect(numberOf(player, 'visible')).toBe(1);
		player.advance(0.25);
		expect(player.playing).toHaveLength(1);
		expect(numberOf(player, 'rotation')).toBe(0);
	});

	it('travels on through blends: rates are mixed, never places', () => {
		const doc = ferry();
		for (const frame of [1 / 7, 1 / 60, 1 / 240]) {
			const player = playerOf(doc);
			const run = (seconds: number) => {
				for (let left = seconds; left > 1e-9; left -= frame) player.advance(Math.min(frame, left));
			};
			player.play({ clip: 'cruise', blend: CUT });
			run(2.5);
			expect(numberOf(player, 'translation')).toBeCloseTo(5 + 5, 9);
			player.play({ clip: 'wait', blend: FADE });
			run(0.5);
			// Half of what it would have gone on for in the half second.
			expect(numberOf(player, 'translation')).toBeCloseTo(10 + 0.5, 6);
			run(3);
			expect(numberOf(player, 'translation')).toBeCloseTo(10.5, 6);
			player.play({ clip: 'cruise', blend: FADE });
			expect(numberOf(player, 'translation')).toBeCloseTo(10.5, 6);
			run(1.5);
			expect(numberOf(player, 'translation')).toBeCloseTo(10.5 + 0.5 + 2, 6);
		}
	});

	it('goes on without a jump when a third clip interrupts', () => {
		const player = playerOf(ferry());
		player.play({ clip: 'wait', blend: CUT });
		player.advance(0.3);
		let before = player.pose.slice();
		for (const clip of ['turn', 'cruise', 'wait', 'turn']) {
			player.play({ clip, blend: FADE });
			for (let i = 0; i < 12; i++) {
				player.advance(1 / 120);
				for (const { kind, at, size } of player.layout.targets)
					for (let k = at; kind !== 'angles' && k < at + size; k++)
						expect(Math.abs(player.pose[k] - before[k])).toBeLessThan(kind === 'rotation' ? 0.022 : 2.5);
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
			blendPops(clipSet(doc), 'turn', 36_000, 'wait', { kind, seconds: 0.5 }).find(
				(pop) => pop.property === 'rotation',
			)!;
		const [soft, cut] = [turning('inertial'), turning('cut')];
		expect(cut.value).toBeCloseTo(45, 3);
		expect(soft.value).toBeLessThan(1e-6);
		expect(cut.rate).toBeGreaterThan(100);
		expect(soft.rate).toBeLessThan(0.05 * cut.rate);
		const player = playerOf(doc);
		player.play({ clip: 'turn', blend: CUT });
		player.advance(0.5);
		player.play({ clip: 'wait', blend: { kind: 'inertial', seconds: 0.5 } });
		player.advance(0.6);
		expect(numberOf(player, 'rotation')).toBe(0);
	});

	it('begins what waits or is queued at its own moment, whatever the frame time is', () => {
		const doc = ferry();
		for (const frame of [2.75, 1 / 3, 1 / 50]) {
			const fired: string[] = [];
			const player = playerOf(doc, { oncue: ({ cue }) => fired.push(cue.name) });
			player.play({ clip: 'turn', blend: CUT, delay: 0.25 });
			player.enqueue({ clip: 'turn', blend: CUT });
			for (let left = 2.75; left > 1e-9; left -= frame) player.advance(Math.min(frame, left));
			expect(fired).toEqual(['begun', 'half', 'about', 'begun', 'half', 'about']);
		}
	});

	it('fires no cue on a seek, nor of a clip that weighs less than half', () => {
		const fired: PlayerCue[] = [];
		const player = playerOf(ferry(), { oncue: (cue) => fired.push(cue) });
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

	it('keeps the momentum when one inertial play follows another at once, and at the very start of a clip', () => {
		const doc = ferry();
		for (const [seconds, kinds] of [
			[0.5, ['inertial', 'inertial']],
			[0.5, ['inertial']],
			[0, ['inertial']],
		] as const) {
			const player = playerOf(doc);
			player.play({ clip: 'cruise', blend: CUT });
			if (seconds > 0) player.advance(seconds);
			for (const kind of kinds) player.play({ clip: 'still', blend: { kind, seconds: 0.5 } });
			const from = numberOf(player, 'translation');
			player.advance(1e-4);
			// Two metres a second, as before the switch.
			expect((numberOf(player, 'translation') - from) / 1e-4, `${seconds} ${kinds}`).toBeCloseTo(2, 1);
		}
	});

	it('lets a queued clip wait for its delay', () => {
		const fired: string[] = [];
		const player = playerOf(ferry(), { oncue: ({ cue }) => fired.push(cue.name) });
		player.play({ clip: 'turn', blend: CUT });
		player.enqueue({ clip: 'turn', blend: CUT, delay: 0.5 });
		player.advance(1.4);
		expect(fired).toEqual(['begun', 'half', 'about']);
		player.advance(0.2);
		expect(fired).toEqual(['begun', 'half', 'about', 'begun']);
	});

	it('decides by its weight at the cue itself whether it fires, whatever the frame time is', () => {
		for (const frame of [2, 0.7, 1 / 3, 1 / 60]) {
			const fired: [string, number][] = [];
			const player = playerOf(ferry(), { oncue: ({ cue, weight }) => fired.push([cue.name, weight]) });
			player.play({ clip: 'wait', blend: CUT });
			player.play({ clip: 'turn', blend: { kind: 'crossfade', seconds: 1.25 } });
			for (let left = 2; left > 1e-9; left -= frame) player.advance(Math.min(frame, left));
			// Its middle comes after 0.5 s, at a weight of 0.4; its end after 1 s.
			expect(fired).toEqual([['about', expect.closeTo(0.8, 9)]]);
		}
	});

	it('answers to triggers, takes a phase over, and refuses what it does not know', () => {
		const player = playerOf(ferry());
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
		const player = playerOf(doc);
		player.play({ clip: 'a', blend: CUT });
		player.play({ clip: 'b', blend: { kind: 'crossfade', seconds: 1 } });
		const place = placeOf(player.layout, 'vane', 'rotation');
		const turnNow = () => [...player.pose.subarray(place, place + 4)] as Quaternion;
		let before = turnNow();
		for (let i = 0; i < 60; i++) {
			player.advance(1 / 60);
			const now = turnNow();
			expect(angleBetween(before, now)).toBeLessThan(8);
			before = now;
		}
	});
});

it('cues of one tick come in the order of their ids, whatever the order in which they were made', () => {
	const at = (name: string) => ({ type: 'cue', id: name, clip: 'turn', name, t: 0 }) as Cue;
	const doc = { ...ferry(), cues: { splash: at('splash'), bell: at('bell'), horn: at('horn') } };
	expect(
		clipSet(doc)
			.clips.get('turn')!
			.cues.map(({ id }) => id),
	).toEqual(['bell', 'horn', 'splash']);
});

it('a blend out of a clip that goes round is measured where it pops most', () => {
	const doc = new ProjectBuilder('Crate', 'world', 30)
		.part('crate', { kind: 'box', size: [1, 1, 1] })
		.startClip('climb', 30, REPEAT)
		.keys('crate', 'translation.y', [
			[0, 0, linear],
			[30, 8],
		])
		.startClip('stand', 30, REPEAT)
		.keys('crate', 'translation.y', [[0, 6]])
		.build();
	const blend: Blend = {
		type: 'blend',
		id: 'b',
		from: 'climb',
		to: 'stand',
		kind: 'cut',
		seconds: 0,
		shape: { kind: 'linear' },
		start: 'start',
	};
	const [worst] = measureBlend(doc, blend);
	// Early in the round it is furthest from 6; what comes later in it is less.
	expect(worst.value).toBeGreaterThan(5);
	expect(worst.at).toBeLessThan(0.1 * 72_000);
});
