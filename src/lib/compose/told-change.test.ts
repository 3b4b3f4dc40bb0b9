import { expect, it } from 'vitest';
import { NOTHING_TOUCHED as nothing, type Touched } from '$core/edits/touched';
import { tellTouched } from './told-change';

const one = {
	...nothing,
	part: 'sack',
	channel: 'translation y',
	keys: 1,
	from: 28_800,
	to: 28_800,
	unit: ' m',
};

it('an edit is told by part, channel, time and amount, as far as there is something to tell', () => {
	const tell = (touched: Touched) => tellTouched(touched, 30);
	expect(tell({ ...one, before: 3.2, after: 4.5 })).toBe('sack · translation y · frame 12 · 3.2 → 4.5 m');
	expect(tell({ ...one, after: 4.5 })).toBe('sack · translation y · frame 12 · 4.5 m');
	expect(tell({ ...one, before: 4.5, after: 4.5 }), 'another easing').toBe('sack · translation y · frame 12');
	expect(tell({ ...one, keys: 3, to: 36_000, byTicks: -4800, others: 1 })).toBe(
		'sack · translation y · frames 12–15 · 3 keys · moved −2 f · and 1 more channel',
	);
	expect(tell({ ...nothing, part: 'sack' })).toBe('sack');
	expect(tell(nothing)).toBe('');
});
