import { spanExcess } from '../../curve/excess';
import { NOTICEABLE, withUnit, type ChannelRule } from '../rule';
import { SMOOTH_HANDLES } from './span-mend';

export const overshoot: ChannelRule = {
	id: 'overshoot',
	title: 'Goes past both of its keys',
	why: 'The handles carry it farther than either key says.',
	measure: (finding, doc) => `${withUnit(finding, doc, 'past')} past its keys`,
	mends: { smooth: SMOOTH_HANDLES },
	scope: 'channel',
	find: ({ channel, curve, range }) =>
		channel.keys.slice(1).flatMap((next, i) => {
			const key = channel.keys[i];
			const excess = spanExcess(curve, key, next);
			// One that sets off backwards besides is told as that.
			if (!excess || excess.back > NOTICEABLE * range || excess.past <= NOTICEABLE * range) return [];
			const facts = { past: excess.past, from: key.t, to: next.t };
			return [{ severity: 'warning' as const, t: excess.pastAt, facts, mends: ['smooth'] }];
		}),
};
