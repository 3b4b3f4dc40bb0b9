import { endHere } from '../end-of';
import { short, type ChannelRule } from '../rule';

/** A channel that rests for more than this share of a clip while it moved before. */
const DEAD = 0.3;

export const deadHold: ChannelRule = {
	id: 'dead-hold',
	title: 'Stands still towards the end of a loop',
	why: 'It moved before and then stands until the round is over, which looks as if it were stuck.',
	measure: ({ facts }) => `still for the last ${short(facts.frames)} frames`,
	mends: {},
	scope: 'channel',
	find(subject) {
		const { channel, clip } = subject;
		const end = endHere(subject);
		if (!end || Math.abs(end.away) <= end.reach || end.away <= DEAD * clip.length) return [];
		if (channel.ends.after !== 'hold' || clip.loop.pause !== 0) return [];
		return [{ severity: 'note', t: end.t, facts: { frames: end.frames } }];
	},
};
