import { expect, it } from 'vitest';
import { compileCurve } from '$core/curve/compile';
import { PLAYS_ONCE } from '$core/curve/handles';
import type { Key } from '$core/curve/types';
import { speedAt, tellSpeed } from './lane-speed';

it('the speed at a corner is that of its faster side; a jump there is none', () => {
	const linear = { kind: 'linear' } as const;
	const keys: Key[] = [
		{ t: 0, v: 0, shape: linear },
		{ t: 7200, v: 72, shape: linear },
		{ t: 14_400, v: 108, shape: { kind: 'hold' } },
		{ t: 21_600, v: 500, shape: linear },
	];
	const curve = compileCurve(keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE);
	for (const [t, speed] of [
		[3600, 0.01],
		[7200, 0.01],
		[10_800, 0.005],
		[14_400, 0.005],
		[18_000, 0],
		[21_600, 0],
	])
		expect([t, speedAt(curve, t)]).toEqual([t, expect.closeTo(speed, 6)]);
});

it('is told a second, in the units of its channel', () => {
	expect(tellSpeed(14.3114 / 72_000, ' m')).toBe('14.31 m/s');
	expect(tellSpeed(1474.3 / 72_000, ' px')).toBe('1474 px/s');
	expect(tellSpeed(90 / 72_000, '°')).toBe('90°/s');
	expect(tellSpeed(Infinity, '°')).toBe('∞°/s');
});
