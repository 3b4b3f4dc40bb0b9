import { TICKS_PER_SECOND } from '../../../player/time';
import { smoothSeam } from '../../edits/seam';
import { withUnit, type ChannelRule } from '../rule';
import { seamHere } from '../seam-of';

/** A change of speed is told when it is this many times as large as the range in a clip's time. */
const KNOCK = 1.2;

export const seamSlope: ChannelRule = {
	id: 'seam-slope',
	title: 'Changes speed at the seam',
	why: 'The value closes, but the speed changes at once: a small knock in every round.',
	measure: (finding, doc) => `a change of ${withUnit(finding, doc, 'change')}/s`,
	mends: {
		smooth: { label: 'Smooth across the seam', edit: (doc, { channel }) => smoothSeam(doc, channel!) },
	},
	scope: 'channel',
	find(subject) {
		const seam = seamHere(subject);
		const { clip, channel, range } = subject;
		if (!seam || seam.isOpen || clip.loop.mode !== 'repeat' || clip.loop.pause !== 0) return [];
		const change = Math.abs(seam.slopeGap);
		if (change <= KNOCK * (range / (clip.length / TICKS_PER_SECOND))) return [];
		const { keys } = channel;
		const smoothable = keys[0].t === 0 && keys.at(-1)!.t === clip.length;
		return [{ severity: 'note', t: clip.length, facts: { change }, mends: smoothable ? ['smooth'] : [] }];
	},
};
