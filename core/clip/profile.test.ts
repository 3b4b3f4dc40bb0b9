import { expect, it } from 'vitest';
import { makeQuay } from '../../demo/quay';
import { compileCurve } from '../curve/compile';
import { PLAYS_ONCE } from '../curve/handles';
import { channelsOfClip, type Doc } from '../document/types';
import type { Shape } from '../../player/easing/shape';
import { clipRidges, peakBetweenKeys, peakSpeed, sampleProfile } from './profile';

const quay = makeQuay();

it('a profile has the values of its curve, at both ends of the stretch too, and their range', () => {
	const keys = [
		{ t: 0, v: 2, shape: { kind: 'linear' } as const },
		{ t: 100, v: -4, shape: { kind: 'hold' } as const },
	];
	const curve = compileCurve(keys, { before: 'hold', after: 'straight' }, PLAYS_ONCE);
	const out = new Float64Array(5);
	expect(sampleProfile(curve, 0, 100, out)).toEqual({ low: -4, high: 2 });
	expect([...out]).toEqual([2, 0.5, -1, -2.5, -4]);
	expect(sampleProfile(curve, -50, -50, new Float64Array(1))).toEqual({ low: 2, high: 2 });
});

it.each<[string, Shape, number, number]>([
	['linear', { kind: 'linear' }, 1, 0],
	// Under gravity half of the way takes 1/√2 of the time: at the end it is twice as fast as on the mean.
	['fall', { kind: 'fall' }, 2, 1],
	['rise', { kind: 'rise' }, 2, 0],
	// y = 3u² − 2u³ where time goes evenly: 6u(1 − u) is 1.5 half way.
	['cubic Bezier of thirds', { kind: 'bezier', x1: 1 / 3, y1: 0, x2: 2 / 3, y2: 1 }, 1.5, 0.5],
	['quint out', { kind: 'family', family: 'quint', way: 'out' }, 5, 0],
	['hold', { kind: 'hold' }, 0, 0],
	['steps', { kind: 'steps', count: 3, jump: 'jump-end' }, Infinity, 1 / 3],
])('the peak speed of %s is the true one, also at an end', (_, shape, speed, at) => {
	const keys = [
		{ t: 0, v: 0, shape },
		{ t: 7200, v: 400, shape: { kind: 'linear' } as const },
	];
	const peak = peakSpeed(compileCurve(keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE), 0, 7200);
	const mean = 400 / 7200;
	if (speed === Infinity) expect(peak.speed).toBe(Infinity);
	else expect(peak.speed / mean).toBeCloseTo(speed, 3);
	if (speed > 1 && speed < Infinity) expect(peak.at / 7200).toBeCloseTo(at, 2);
});

it('the fastest of several spans is found, and the jump between two of them is none', () => {
	const keys = [
		{ t: 0, v: 0, shape: { kind: 'linear' } as const },
		{ t: 7200, v: 72, shape: { kind: 'hold' } as const },
		{ t: 14_400, v: 500, shape: { kind: 'fall' } as const },
		{ t: 21_600, v: 644, shape: { kind: 'linear' } as const },
	];
	const curve = compileCurve(keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE);
	expect(peakSpeed(curve, 0, 28_800).speed).toBe(Infinity);
	const peak = peakBetweenKeys(curve, 0, 28_800);
	expect(peak.speed).toBeCloseTo((2 * 144) / 7200, 5);
	expect(peak.at).toBe(21_600);
	expect(peakBetweenKeys(curve, 0, 7200).speed).toBeCloseTo(0.01, 9);
	expect(peakBetweenKeys(curve, 22_000, 28_800).speed).toBe(0);
});

it('the ridges of a clip are its liveliest channels, the one with most keys first, each from 0 to 1', () => {
	const clip = quay.clips['sack-drop'];
	const ridges = clipRidges(quay, clip, 3, 60);
	expect(ridges.map((ridge) => ridge.length)).toEqual([60, 60, 60]);
	for (const ridge of ridges) {
		expect(Math.min(...ridge)).toBe(0);
		expect(Math.max(...ridge)).toBe(1);
	}
	// The scale of the sack has most keys: it starts at rest, and is flattest where it lands.
	const most = channelsOfClip(quay, clip.id).reduce((a, b) => (b.keys.length > a.keys.length ? b : a));
	expect([most.property, most.component]).toEqual(['scale', 'y']);
	const flattest = most.keys.reduce((a, b) => (b.v < a.v ? b : a));
	expect(ridges[0].indexOf(0)).toBe(Math.round((flattest.t / clip.length) * 59));

	// What has one key does not move; what moves but never changes its value lies on the ground.
	const still: Doc = {
		...quay,
		channels: Object.fromEntries(
			Object.entries(quay.channels).map(([id, channel]) => [
				id,
				{
					...channel,
					keys: channel.keys.map((key) => ({ ...key, v: 7, shape: { kind: 'linear' } as const })),
				},
			]),
		),
	};
	expect(new Set(clipRidges(still, clip, 2, 10).flat())).toEqual(new Set([0]));
	const one = { ...still, channels: { [most.id]: { ...most, keys: most.keys.slice(0, 1) } } };
	expect(clipRidges(one, clip, 3, 10)).toEqual([]);
});
