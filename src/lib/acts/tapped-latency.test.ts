import { expect, it } from 'vitest';
import { tappedLatency } from './tapped-latency';

const clicks = [1000, 1600, 2200, 2800, 3400, 4000];

it('is the middle of how late the taps are, whatever one of them does', () => {
	expect(tappedLatency(clicks, [1040, 1645, 2238, 2841, 3640])).toBe(41);
	expect(tappedLatency(clicks, [1030, 1650, 2240, 2840])).toBe(40);
	// Early hands are no latency.
	expect(tappedLatency(clicks, [980, 1580, 2190, 2780])).toBe(0);
});

it('is nothing of too few taps, or of taps along with nothing', () => {
	expect(tappedLatency(clicks, [1040, 1640, 2240])).toBeNull();
	expect(tappedLatency(clicks, [1299, 1899, 2499, 3099, 3699])).toBeNull();
	expect(tappedLatency([], [1, 2, 3, 4])).toBeNull();
});
