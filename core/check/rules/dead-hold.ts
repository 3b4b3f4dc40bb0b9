import { endHere } from '../end-of';
import { evaluateCurve } from '../../../player/curve/evaluate';
import { curveOf } from '../../clip/compile';
import { channelId, channelsOfClip } from '../../document/types';
import { short, type ChannelRule, type Subject } from '../rule';

/** A channel that rests for more than this share of a clip while it moved before. */
const DEAD = 0.3;

/** Below this a part is not seen. */
const UNSEEN = 0.005;

/** Whether a part still moves after a tick in other channels, or is faded out by then: a squash or a flash is over. */
function isAlive({ doc, clip, channel }: Subject, t: number): boolean {
	const own = channelsOfClip(doc, clip.id).filter(({ part }) => part === channel.part);
	const fade = doc.channels[channelId(clip.id, channel.part, 'opacity', 'value')];
	if (fade && evaluateCurve(curveOf(fade, clip), clip.length) < UNSEEN) return true;
	return own.some(({ keys, ends }) => keys.at(-1)!.t > t + DEAD * clip.length || ends.after !== 'hold');
}

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
		if (channel.ends.after !== 'hold' || clip.loop.pause !== 0 || isAlive(subject, end.t)) return [];
		return [{ severity: 'note', t: end.t, facts: { frames: end.frames } }];
	},
};
