import { NOTICEABLE, withUnit, type ChannelRule } from '../rule';
import { SMOOTH_HANDLES, spanExcesses } from './span-mend';

export const backwardsFirst: ChannelRule = {
	id: 'backwards-first',
	title: 'Goes backwards first',
	why: 'It sets off away from where it is going, which looks like a slip unless it is meant as a wind-up.',
	measure: (finding, doc) => `${withUnit(finding, doc, 'back')} the wrong way`,
	mends: { smooth: SMOOTH_HANDLES },
	scope: 'channel',
	find: (subject) =>
		spanExcesses(subject)
			.filter(({ excess }) => excess.back > NOTICEABLE * subject.range)
			.map(({ key, next, excess }) => ({
				severity: 'warning',
				t: key.t,
				facts: { back: excess.back, from: key.t, to: next.t },
				mends: ['smooth'],
			})),
};
