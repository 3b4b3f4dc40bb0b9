import { spanExcess } from '../../curve/excess';
import { NOTICEABLE, withUnit, type ChannelRule } from '../rule';
import { SMOOTH_HANDLES } from './span-mend';

export const backwardsFirst: ChannelRule = {
	id: 'backwards-first',
	title: 'Goes backwards first',
	why: 'It sets off away from where it is going, which looks like a slip unless it is meant as a wind-up.',
	measure: (finding, doc) => `${withUnit(finding, doc, 'back')} the wrong way`,
	mends: { smooth: SMOOTH_HANDLES },
	scope: 'channel',
	find: ({ channel, curve, range }) =>
		channel.keys.slice(1).flatMap((next, i) => {
			const key = channel.keys[i];
			const excess = spanExcess(curve, key, next);
			if (!excess || excess.back <= NOTICEABLE * range) return [];
			const facts = { back: excess.back, from: key.t, to: next.t };
			return [{ severity: 'warning' as const, t: key.t, facts, mends: ['smooth'] }];
		}),
};
