import { moveKeys } from '../../edits/keys';
import { isOnFrame, snapToFrame, ticksToFrame } from '../../time';
import { counted, keysOf, short, type ChannelRule } from '../rule';

export const offGrid: ChannelRule = {
	id: 'off-grid',
	title: 'A key between frames',
	why: 'Between frames its value is never shown exactly.',
	measure: ({ facts }) => `${counted(facts.count, 'key', 'keys')}, the first at frame ${short(facts.frame)}`,
	mends: {
		snap: {
			label: 'Move to whole frames',
			edit: (doc, finding) => {
				const rate = doc.project.frameRate;
				const off = doc.channels[finding.channel!].keys.filter((key) => !isOnFrame(key.t, rate));
				return off.reduce(
					(next, { t }) => moveKeys(next, keysOf(finding, t), snapToFrame(t, rate) - t, 0),
					doc,
				);
			},
		},
	},
	scope: 'channel',
	find({ channel, doc }) {
		const rate = doc.project.frameRate;
		const off = channel.keys.filter((key) => !isOnFrame(key.t, rate));
		if (off.length === 0) return [];
		const facts = { count: off.length, frame: ticksToFrame(off[0].t, rate) };
		return [{ severity: 'note', t: off[0].t, facts, mends: ['snap'] }];
	},
};
