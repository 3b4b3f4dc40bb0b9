/** A player shows and tells the same whatever the steps are in which its time passes. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eased, hold, linear, ONCE, ProjectBuilder, REPEAT } from '../../demo/builder';
import { placeOf } from '../../player/layout';
import { Player, type PlayerOptions, type PlayRequest } from '../../player/player';
import { between } from '../../player/testing';
import { putBlend } from '../edits/clips';
import { clipSet, type DocNames } from './clip-set';

/** A boat that bobs, travels on and turns about, there and back; a lamp that blinks. */
const doc = new ProjectBuilder('Boat', 'world', 30)
	.part('boat', { kind: 'box', size: [1, 1, 1] })
	.part('lamp', { kind: 'ball', size: [1, 1, 1] })
	.startClip('bob', 30, REPEAT)
	.keys('boat', 'translation.y', [
		[0, 0, eased(0.4, 0.4)],
		[15, 1, eased(0.4, 0.4)],
		[30, 0],
	])
	.cue('low', 0)
	.cue('high', 15)
	.startClip('cruise', 24, REPEAT)
	.keys(
		'boat',
		'translation.x',
		[
			[0, 0, linear],
			[24, 2],
		],
		true,
	)
	.cue('stroke', 6)
	.startClip('turn', 20, ONCE)
	.keys('boat', 'rotation.y', [
		[0, 0, eased(0.5, 0.5)],
		[20, 90],
	])
	.cue('begun', 0)
	.cue('about', 20)
	.startClip('rock', 18, { mode: 'alternate', count: 3, pause: 7200 })
	.keys('boat', 'rotation.z', [
		[0, -10, eased(0.5, 0.5)],
		[18, 10],
	])
	.cue('port', 0)
	.cue('starboard', 18)
	.startClip('blink', 12, REPEAT)
	.keys('lamp', 'opacity', [
		[0, 1, linear],
		[6, 0.2, linear],
		[12, 1],
	])
	.keys('lamp', 'visible', [[0, 1, hold]])
	.cue('lit', 12)
	.build();
const set = clipSet(doc);
const CLIPS = ['bob', 'cruise', 'turn', 'rock', 'blink'];

const blend = fc.record({
	kind: fc.constantFrom('crossfade' as const, 'inertial' as const, 'cut' as const),
	seconds: fc.constantFrom(0, 0.1, 0.35, 0.8),
	start: fc.constantFrom('start' as const, 'phase' as const, { seconds: 0.21 }),
});
const request = fc.record(
	{
		clip: fc.constantFrom(...CLIPS),
		blend,
		delay: fc.constantFrom(0, 0.13, 0.5),
		count: fc.constantFrom(1, 2, null),
		speed: fc.constantFrom(1, 1, 2, 0.5, 0, -1),
	},
	{ requiredKeys: ['clip'] },
) as fc.Arbitrary<PlayRequest>;
const act = fc.oneof(
	{ weight: 4, arbitrary: fc.record({ what: fc.constant('play' as const), request }) },
	{ weight: 2, arbitrary: fc.record({ what: fc.constant('enqueue' as const), request }) },
	{ weight: 2, arbitrary: fc.record({ what: fc.constant('layer' as const), request }) },
	{ weight: 1, arbitrary: fc.record({ what: fc.constant('stop' as const), blend }) },
	{ weight: 1, arbitrary: fc.record({ what: fc.constant('layer stop' as const), blend }) },
	{
		weight: 1,
		arbitrary: fc.record({ what: fc.constant('speed' as const), speed: fc.constantFrom(1, 0.5, 0, -1, 2) }),
	},
);
type Act = typeof act extends fc.Arbitrary<infer A> ? A : never;
/**
 * What is done, each with some seconds after it: not at the very moment of an event, where rounding says which comes
 * first.
 */
const script = fc.array(
	fc.tuple(
		act,
		between(0.001, 0.9).map((seconds) => 0.98713 * seconds),
	),
	{ minLength: 2, maxLength: 8 },
);
/** Lengths of frames, as shares of a tenth of a second. */
const frames = fc.array(between(0.01, 2.5), { minLength: 1, maxLength: 7 });

interface Told {
	moment: number;
	what: string;
}

function run(script: readonly (readonly [Act, number])[], split: (seconds: number) => number[]) {
	const told: Told[] = [];
	let now = 0;
	const tell = (what: string) => told.push({ moment: now, what });
	const player: Player<DocNames> = new Player(set, {
		oncue: ({ cue, layer, at }) => {
			tell(`cue ${layer} ${cue.name} ${at}`);
			// What code does at a cue happens at the cue.
			if (cue.name === 'about') player.play({ clip: 'cruise', blend: { kind: 'crossfade', seconds: 0.2 } });
			if (cue.name === 'high') player.layer('lamp').play({ clip: 'blink', count: 1 });
		},
		onloop: ({ clip, layer, round }) => tell(`loop ${layer} ${clip.name} ${round}`),
		onend: ({ clip, layer }) => tell(`end ${layer} ${clip.name}`),
	});
	const lamp = player.layer('lamp', { mode: 'replace', parts: ['lamp'] });
	const poses: Float64Array[] = [];
	for (const [one, seconds] of script) {
		if (one.what === 'play') player.play(one.request);
		else if (one.what === 'enqueue') player.enqueue(one.request);
		else if (one.what === 'layer') lamp.play(one.request);
		else if (one.what === 'stop') player.stop(one.blend);
		else if (one.what === 'layer stop') lamp.stop(one.blend);
		else player.speed = one.speed;
		for (const step of split(seconds)) player.advance(step);
		now++;
		poses.push(player.pose.slice());
	}
	return { told: told.map(({ moment, what }) => `${moment} ${what}`), poses };
}

describe('whatever the frames are', () => {
	it('the poses are the same, and so is what is told, in the same order', () => {
		fc.assert(
			fc.property(script, frames, (acts, lengths) => {
				const whole = run(acts, (seconds) => [seconds]);
				const cut = run(acts, (seconds) => {
					const steps = [0];
					for (let i = 0, left = seconds; left > 0; i++) {
						const step = Math.min(left, lengths[i % lengths.length] / 10);
						steps.push(step);
						left = left - step < 1e-12 ? 0 : left - step;
					}
					return steps;
				});
				expect(cut.told).toEqual(whole.told);
				// Switches change at a half, which may be the very moment that is looked at.
				for (const { kind, at, size } of set.layout.targets)
					for (let k = at; kind !== 'switch' && kind !== 'angles' && k < at + size; k++)
						whole.poses.forEach((pose, i) => expect(Math.abs(cut.poses[i][k] - pose[k])).toBeLessThan(1e-7));
			}),
			{ numRuns: 300 },
		);
	});
});

const playerOf = (options?: PlayerOptions<DocNames>) => new Player(set, options);
const numberOf = ({ layout, pose }: Player<DocNames>, part: string, path: string, k = 0) =>
	pose[placeOf(layout, part, path) + k];
const heightOf = (player: Player<DocNames>) => numberOf(player, 'boat', 'translation', 1);

describe('what happens to a clip', () => {
	const events = (request: PlayRequest, seconds: number) => {
		const told: string[] = [];
		const player = playerOf({
			oncue: ({ cue, at }) => told.push(`${cue.name} ${at}`),
			onloop: ({ round, at }) => told.push(`round ${round} ${at}`),
			onend: ({ at }) => told.push(`end ${at}`),
		});
		player.play(request);
		player.advance(seconds);
		player.advance(1);
		return told;
	};
	const SECOND = 72_000;

	it('is told in order: cues, rounds as they begin, the end once', () => {
		expect(events({ clip: 'turn' }, 1)).toEqual(['begun 0', 'about 48000', 'end 48000']);
		expect(events({ clip: 'bob', count: 2 }, 1.5)).toEqual([
			'low 0',
			'high 36000',
			'low 72000',
			'round 1 72000',
			'high 108000',
			'end 144000',
		]);
		// There, a pause, back, a pause, there.
		expect(events({ clip: 'rock' }, 3)).toEqual([
			'port 0',
			'starboard 43200',
			'starboard 50400',
			'round 1 50400',
			'port 93600',
			'port 100800',
			'round 2 100800',
			'starboard 144000',
			'end 144000',
		]);
	});

	it('is told backwards where it runs backwards, from its end to its start', () => {
		expect(events({ clip: 'bob', count: 2, speed: -1 }, 3)).toEqual([
			'high 108000',
			'low 72000',
			'round 0 72000',
			'high 36000',
			'low 0',
			'end 0',
		]);
		expect(events({ clip: 'turn', speed: -2 }, 3)).toEqual(['about 48000', 'begun 0', 'end 0']);
	});

	it('is told a thousand times at most in one step', () => {
		expect(events({ clip: 'blink', count: null }, 3600).length).toBeGreaterThan(900);
		expect(events({ clip: 'blink', count: null }, 3600).length).toBeLessThan(1010);
	});

	it('goes on for as many rounds as are asked for, a clip that plays once too', () => {
		const player = playerOf();
		player.play({ clip: 'turn', count: null });
		player.advance(5.5 * (20 / 30));
		expect(player.playing[0].ticks).toBeCloseTo(5.5 * (20 / 30) * SECOND, 3);
		// Half way through its sixth round.
		expect(numberOf(player, 'boat', 'rotation', 1)).toBeCloseTo(Math.sin(Math.PI / 8), 6);
	});
});

describe('the pace of a player', () => {
	it('is that of its speed and the clip’s own; paused it stands', () => {
		const player = playerOf();
		player.play({ clip: 'cruise', speed: 0.5 });
		player.speed = 2;
		player.advance(0.3);
		expect(numberOf(player, 'boat', 'translation')).toBeCloseTo(0.75, 9);
		player.isPaused = true;
		player.advance(10);
		player.isPaused = false;
		player.speed = 0;
		player.advance(10);
		expect(numberOf(player, 'boat', 'translation')).toBeCloseTo(0.75, 9);
		player.speed = -1;
		player.advance(0.2);
		expect(numberOf(player, 'boat', 'translation')).toBeCloseTo(0.5, 9);
	});

	it('is kept by an inertial blend out of a clip that runs backwards or fast', () => {
		for (const speed of [-1, 2.5]) {
			const player = playerOf();
			player.play({ clip: 'cruise', speed });
			player.advance(0.1);
			const paceOf = () => {
				const from = numberOf(player, 'boat', 'translation');
				player.advance(1e-4);
				return (numberOf(player, 'boat', 'translation') - from) / 1e-4;
			};
			const pace = paceOf();
			expect(pace).toBeCloseTo(2.5 * speed, 6);
			player.play({ clip: 'blink', blend: { kind: 'inertial', seconds: 0.5 } });
			expect(paceOf() / pace).toBeCloseTo(1, 1);
		}
	});

	it('cannot be none, nor can times, counts and weights', () => {
		const player = playerOf();
		for (const bad of [NaN, Infinity]) {
			expect(() => (player.speed = bad)).toThrow(RangeError);
			expect(() => player.play({ clip: 'bob', speed: bad })).toThrow(RangeError);
			expect(() => player.play({ clip: 'bob', delay: bad })).toThrow(RangeError);
			expect(() => player.stop({ kind: 'crossfade', seconds: bad })).toThrow(RangeError);
		}
		for (const bad of [0, -1, 1.5])
			expect(() => player.enqueue({ clip: 'bob', count: bad })).toThrow(RangeError);
		expect(() => player.layer('')).toThrow(RangeError);
		expect(() => (player.layer('lamp').weight = NaN)).toThrow(RangeError);
		expect(player.playing).toEqual([]);
	});
});

describe('a stop', () => {
	it('leads to the rest pose: at once, by a fade, or with the momentum that was there', () => {
		for (const blend of [
			undefined,
			{ kind: 'crossfade', seconds: 0.4 },
			{ kind: 'inertial', seconds: 0.4 },
		] as const) {
			const player = playerOf();
			player.play({ clip: 'bob' });
			player.advance(0.4);
			const [height] = [heightOf(player)];
			player.stop(blend);
			expect(heightOf(player)).toBeCloseTo(blend ? height : 0, 6);
			player.advance(0.2);
			if (blend?.kind === 'crossfade') expect(heightOf(player)).toBeGreaterThan(0.3);
			player.advance(0.21);
			expect([heightOf(player), player.playing]).toEqual([0, []]);
		}
	});

	it('lets go of travel, and of what is queued; another play goes on from there', () => {
		const player = playerOf();
		player.play({ clip: 'cruise' });
		player.enqueue({ clip: 'bob' });
		player.advance(2);
		player.stop({ kind: 'crossfade', seconds: 1 });
		player.advance(0.5);
		// Half of five metres, and of what it goes on for meanwhile.
		expect(numberOf(player, 'boat', 'translation')).toBeCloseTo((2.5 * 2.5) / 2, 6);
		player.play({ clip: 'turn', blend: { kind: 'crossfade', seconds: 0.2 } });
		const before = numberOf(player, 'boat', 'translation');
		player.advance(1e-6);
		expect(numberOf(player, 'boat', 'translation')).toBeCloseTo(before, 4);
		player.advance(3);
		expect(player.playing.map(({ clip }) => clip.name)).toEqual(['turn']);
	});
});

describe('a layer', () => {
	it('covers its own parts as far as it is weighed, fades in and out, and is clear then', () => {
		const player = playerOf();
		const lamp = player.layer('lamp', { parts: ['lamp'], weight: 0.5 });
		const opacity = () => numberOf(player, 'lamp', 'opacity');
		player.play({ clip: 'bob' });
		lamp.play({ clip: 'blink', blend: { kind: 'crossfade', seconds: 0.2 } });
		player.advance(0.1);
		// Its own 0.6, half there, at half its weight, over 1.
		expect(opacity()).toBeCloseTo(1 - 0.25 * 0.4, 9);
		expect(heightOf(player)).toBeGreaterThan(0);
		player.advance(0.1);
		expect(opacity()).toBeCloseTo(1 - 0.5 * 0.8, 9);
		lamp.weight = 1;
		player.advance(0.2);
		lamp.stop({ kind: 'crossfade', seconds: 0.4 });
		player.advance(0.2);
		expect(opacity()).toBeCloseTo(1 - 0.5 * 0.8, 9);
		player.advance(0.21);
		expect([opacity(), lamp.playing]).toEqual([1, []]);
	});

	it('that had almost faded out brings nothing back when another clip fades in', () => {
		const player = playerOf();
		const layer = player.layer('over');
		layer.play({ clip: 'bob', speed: 0, blend: { kind: 'cut', seconds: 0, start: { seconds: 0.5 } } });
		layer.stop({ kind: 'crossfade', seconds: 1 });
		player.advance(0.98);
		expect(heightOf(player)).toBeCloseTo(0.02, 9);
		layer.play({ clip: 'turn', blend: { kind: 'crossfade', seconds: 0.4 } });
		for (let i = 0; i < 40; i++) {
			player.advance(0.01);
			expect(heightOf(player)).toBeLessThan(0.02);
		}
		expect(layer.playing.map(({ clip, weight }) => [clip.name, weight])).toEqual([['turn', 1]]);
	});

	it('adds its difference from rest to what plays below; another one lies over it', () => {
		const player = playerOf();
		player.play({ clip: 'bob' });
		player
			.layer('sway', { mode: 'add' })
			.play({ clip: 'bob', blend: { kind: 'cut', seconds: 0, start: { seconds: 0.5 } } });
		player.advance(0);
		expect(heightOf(player)).toBeCloseTo(1, 9);
		player.advance(0.5);
		expect(heightOf(player)).toBeCloseTo(1, 9);
		player.layer('hold', { weight: 0.5 }).play({ clip: 'turn', speed: 0 });
		player.advance(0);
		expect(heightOf(player)).toBeCloseTo(0.5, 9);
	});
});

it('a play without a blend takes the one that the project has for the two clips', () => {
	const own = putBlend(doc, {
		from: 'bob',
		to: 'turn',
		kind: 'crossfade',
		seconds: 0.5,
		shape: { kind: 'linear' },
		start: 'start',
	});
	const player = new Player(clipSet(own));
	player.play({ clip: 'bob' });
	player.advance(0.5);
	player.play({ clip: 'turn' });
	player.advance(0.1);
	expect(player.playing.map(({ weight }) => weight)).toEqual([
		expect.closeTo(0.8, 9),
		expect.closeTo(0.2, 9),
	]);
	player.play({ clip: 'bob', blend: { kind: 'cut', seconds: 0 } });
	expect(player.playing.map(({ clip }) => clip.name)).toEqual(['bob']);
});
