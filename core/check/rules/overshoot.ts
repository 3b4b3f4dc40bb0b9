import { NOTICEABLE, withUnit, type ChannelRule } from '../rule';
import { SMOOTH_HANDLES, spanExcesses } from './span-mend';

export const overshoot: ChannelRule = {
	id: 'overshoot',
	title: 'Goes past both of its keys',
	why: 'The handles carry it farther than either key says.',
	measure: (finding, doc) => `${withUnit(finding, doc, 'past')} past its keys`,
	mends: { smooth: SMOOTH_HANDLES },
	scope: 'channel',
	find: (subject) =>
		spanExcesses(subject)
			// One that sets off backwards besides is told as that.
			.filter(
				({ excess: { back, past } }) =>
					back <= NOTICEABLE * subject.range && past > NOTICEABLE * subject.range,
			)
			.map(({ key, next, excess }) => ({
				severity: 'warning',
				t: excess.pastAt,
				facts: { past: excess.past, from: key.t, to: next.t },
				mends: ['smooth'],
			})),
};
