import { canAccumulate } from '../../edits/keys';
import { blendSeam, endAtStart, markAccumulating } from '../../edits/seam';
import { withUnit, type ChannelRule } from '../rule';
import { seamHere } from '../seam-of';

/** Share of a clip over which an end may lead over to the start. */
const LEAD_OVER = 0.2;

export const seamGap: ChannelRule = {
	id: 'seam-gap',
	title: 'Does not close at the seam',
	why: 'Each new round starts with a jump.',
	measure: (finding, doc) => `a jump of ${withUnit(finding, doc, 'gap')}`,
	mends: {
		close: { label: 'End at start value', edit: (doc, { channel }) => endAtStart(doc, channel!) },
		'lead-over': {
			label: 'Blend into the start',
			edit: (doc, { channel, clip }) => blendSeam(doc, channel!, LEAD_OVER * doc.clips[clip].length),
		},
		travel: { label: 'Accumulate', edit: (doc, { channel }) => markAccumulating(doc, channel!) },
	},
	scope: 'channel',
	find(subject) {
		const seam = seamHere(subject);
		if (!seam?.isOpen) return [];
		const { length, loop } = subject.clip;
		const travels = loop.mode === 'repeat' && canAccumulate(subject.channel.property) ? ['travel'] : [];
		const facts = { gap: Math.abs(seam.gap) };
		return [{ severity: 'error', t: length, facts, mends: ['close', 'lead-over', ...travels] }];
	},
};
