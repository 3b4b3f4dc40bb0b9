/** Laws of mixes: clips that play as one, of which a parameter says how much each counts. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ClipFile } from './file/format';
import { readClips } from './file/read';
import { evaluateClip } from './motion';
import { Player, type PlayerCue } from './player';
import { between } from './testing';

const SECOND = 72_000;
/** A walk of one number a clip: still goes there and back, slow goes round, fast plays once by itself. */
const FILE = {
	format: 'hillock-clips',
	version: 1,
	ticks: SECOND,
	space: 'world',
	parts: [{ name: 'leg' }],
	shapes: [],
	clips: [
		{
			name: 'still',
			length: 2 * SECOND,
			loop: { mode: 'alternate' },
			curves: [
				{ part: 0, path: 'rotation.z', times: [0, 2 * SECOND], quantum: 1, values: [0, 2], spans: 1 },
				{ part: 0, path: 'translation.y', times: [0, SECOND], quantum: 0.5, values: [1, 3], spans: 1 },
			],
			cues: [{ name: 'breath', t: SECOND, payload: null }],
		},
		{
			name: 'slow',
			length: SECOND,
			loop: { mode: 'repeat', count: 3 },
			curves: [
				{
					part: 0,
					path: 'rotation.z',
					times: [0, SECOND / 2, SECOND / 2],
					quantum: 5,
					values: [-4, 8, -8],
					spans: 1,
				},
			],
			cues: [{ name: 'step', t: SECOND / 4, payload: 'soft' }],
		},
		{
			name: 'fast',
			length: SECOND / 2,
			curves: [
				{
					part: 0,
					path: 'rotation.z',
					times: [0, SECOND / 4, SECOND / 4],
					quantum: 5,
					values: [-9, 18, -18],
					spans: 1,
				},
			],
			cues: [{ name: 'step', t: SECOND / 8, payload: 'hard' }],
		},
		{
			name: 'jump',
			length: SECOND,
			curves: [{ part: 0, path: 'translation.y', times: [0], quantum: 1, values: [7], spans: [] }],
		},
	],
	blends: [],
	mixes: [
		{
			name: 'gait',
			parameter: 'pace',
			seconds: 0.25,
			stops: [
				{ clip: 2, at: 2 },
				{ clip: 0, at: 0 },
				{ clip: 1, at: 1 },
			],
		},
	],
	triggers: [
		{ when: { kind: 'cue', clip: 'fast', cue: 'step' }, then: { kind: 'tell', name: 'dust', payload: 1 } },
	],
} satisfies ClipFile;
const set = readClips(FILE);
const STOPS = [
	{ name: 'still', at: 0, period: 4 },
	{ name: 'slow', at: 1, period: 1 },
	{ name: 'fast', at: 2, period: 0.5 },
];

function started(pace: number, told: PlayerCue[] = [], messages: unknown[] = []): Player {
	const player = new Player(set, {
		oncue: (cue) => told.push(cue),
		onmessage: (message) => messages.push(message),
	});
	player.set('pace', pace);
	player.play({ clip: 'gait' });
	return player;
}

/** The angles and the height of a clip at a phase of its round. */
function alone(name: string, period: number, phase: number): Float64Array {
	const { motion } = set.clips.get(name)!;
	const pose = set.layout.rest.slice();
	evaluateClip({ ...motion, loop: { ...motion.loop, count: null } }, phase * period * SECOND, pose);
	return pose;
}
const near = (a: ArrayLike<number>, b: ArrayLike<number>) =>
	Math.max(...Array.from(a, (v, k) => Math.abs(v - b[k])));

describe('a mix', () => {
	it('is at its stops the clips themselves, and before and behind them the first and the last', () => {
		fc.assert(
			fc.property(fc.constantFrom(...STOPS), between(0, 9), fc.boolean(), (stop, seconds, isBeyond) => {
				const beyond = isBeyond ? (stop.at - 1) * 3 : 0;
				const player = started(stop.at + beyond);
				player.advance(seconds);
				expect(near(player.pose, alone(stop.name, stop.period, (seconds / stop.period) % 1))).toBeLessThan(
					1e-9,
				);
			}),
		);
	});

	it('mixes neighbours at one phase; a round takes what theirs take, mixed', () => {
		fc.assert(
			fc.property(between(0, 1.999), between(0, 9), (pace, seconds) => {
				const player = started(pace);
				player.advance(seconds);
				const [a, b] = [STOPS[Math.floor(pace)], STOPS[Math.floor(pace) + 1]];
				const share = pace - a.at;
				const phase = (seconds / (a.period + (b.period - a.period) * share)) % 1;
				const [from, to] = [alone(a.name, a.period, phase), alone(b.name, b.period, phase)];
				const { at } = set.layout.targets.find(({ path }) => path === 'translation')!;
				const height = from[at + 1] + (to[at + 1] - from[at + 1]) * share;
				expect(player.pose[at + 1]).toBeCloseTo(height, 9);
			}),
		);
	});

	it('keeps its phase whatever its parameter does, and is the same whatever the frames are', () => {
		const changes = fc.array(fc.tuple(between(0.01, 0.6), between(-0.5, 2.5)), {
			minLength: 1,
			maxLength: 8,
		});
		fc.assert(
			fc.property(changes, fc.integer({ min: 2, max: 9 }), (list, frames) => {
				const told: PlayerCue[][] = [[], []];
				const [one, many] = [started(0.5, told[0]), started(0.5, told[1])];
				for (const [seconds, pace] of list) {
					one.advance(seconds);
					for (let i = 0; i < frames; i++) many.advance(seconds / frames);
					one.set('pace', pace);
					many.set('pace', pace);
					expect(near(one.pose, many.pose)).toBeLessThan(1e-6);
				}
				const names = (cues: PlayerCue[]) => cues.map(({ clip, cue }) => `${clip.name} ${cue.name}`);
				expect(names(told[1])).toEqual(names(told[0]));
			}),
			{ numRuns: 60 },
		);
		// There and back of the parameter leaves no trace: the phase is the mix's own.
		const player = started(1);
		player.advance(0.3);
		const pose = player.pose.slice();
		player.set('pace', 2);
		expect(near(player.pose, alone('fast', 0.5, 0.3))).toBeLessThan(1e-9);
		player.set('pace', 1);
		expect(near(player.pose, pose)).toBeLessThan(1e-12);
	});

	it('tells the cues of the clip that counts for more, as that clip’s, and triggers hear them', () => {
		const told: PlayerCue[] = [];
		const messages: unknown[] = [];
		const player = started(1.4, told, messages);
		// A round takes 0.8 s: a quarter of it is the step of either.
		player.advance(1.1);
		expect(told.map(({ clip, cue }) => [clip.name, cue.payload])).toEqual([
			['slow', 'soft'],
			['slow', 'soft'],
		]);
		expect(messages).toEqual([]);
		player.set('pace', 1.6);
		player.advance(0.8);
		expect(told.slice(2).map(({ clip, cue, weight }) => [clip.name, cue.payload, weight])).toEqual([
			['fast', 'hard', expect.closeTo(0.6, 9)],
		]);
		expect(messages).toEqual([{ name: 'dust', payload: 1 }]);
		// There and back, a breath is passed twice a round.
		const breaths: PlayerCue[] = [];
		started(0, breaths).advance(8);
		expect(breaths.map(({ cue }) => cue.name)).toEqual(['breath', 'breath', 'breath', 'breath']);
	});

	it('fades in and out, tells how much each of its clips counts, and comes to the end of its round', () => {
		const player = started(1.25);
		player.advance(0.1);
		expect(player.playing.map(({ clip, weight }) => [clip.name, weight])).toEqual([
			['slow', 0.75],
			['fast', 0.25],
		]);
		const { at } = set.layout.targets.find(({ path }) => path === 'translation')!;
		player.play({ clip: 'jump' });
		player.advance(0.125);
		expect(player.pose[at + 1]).toBeCloseTo(3.5, 9);
		expect(player.playing.map(({ weight }) => weight)).toEqual([0.375, 0.125, 0.5]);
		const ended: string[] = [];
		const other = new Player(set, { onend: ({ clip }) => ended.push(clip.name) });
		other.play({ clip: 'gait' });
		other.set('pace', 2);
		other.advance(0.6);
		other.finish();
		other.advance(0.39);
		expect(ended).toEqual([]);
		other.advance(0.02);
		expect(ended).toEqual(['gait']);
	});

	it('goes on at its phase when its clips are exchanged', () => {
		const player = started(1.5);
		player.advance(0.7);
		const pose = player.pose.slice();
		player.exchange(readClips(FILE));
		expect(near(player.pose, pose)).toBeLessThan(1e-12);
		player.set('pace', 2);
		player.advance(0.1);
		// The round was of 0.75 s, now it is of 0.5 s.
		expect(near(player.pose, alone('fast', 0.5, (0.7 / 0.75 + 0.2) % 1))).toBeLessThan(1e-9);
	});

	it('is refused where there are not two clips to mix', () => {
		const stops = [{ clip: 0, at: 0 }];
		expect(() => readClips({ ...FILE, mixes: [{ ...FILE.mixes[0], stops }] })).toThrow(
			/^\/mixes\/0\/stops: /,
		);
	});
});
