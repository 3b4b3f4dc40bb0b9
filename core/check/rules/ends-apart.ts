import { updateClip } from '../../edits/clips';
import { moveStrayKeys } from '../../edits/seam';
import { endHere } from '../end-of';
import { counted, numberOf, short, type ChannelRule } from '../rule';

export const endsApart: ChannelRule = {
	id: 'ends-apart',
	title: 'Ends at another time than the clip',
	why: ({ facts }) =>
		'after' in facts
			? 'What comes after the end of the clip is never shown.'
			: 'It ends at another time than the clip: it waits there, or is cut off, in every round.',
	measure: ({ facts }) =>
		'after' in facts
			? `${counted(facts.after, 'key', 'keys')} after the end`
			: `${short(facts.frames)} ${short(facts.frames) === '1' ? 'frame' : 'frames'} ${facts.side} the end`,
	mends: {
		longer: {
			label: 'Make the clip longer',
			edit: (doc, { clip, channel }) =>
				updateClip(doc, clip, { length: doc.channels[channel!].keys.at(-1)!.t }),
		},
		'to-end': {
			label: 'Move last keys to the end',
			edit: (doc, finding) => moveStrayKeys(doc, doc.clips[finding.clip], numberOf(finding, 'reach')),
		},
	},
	scope: 'channel',
	find(subject) {
		const { channel, clip } = subject;
		const late = channel.keys.filter((key) => key.t > clip.length);
		const found =
			late.length > 0
				? [
						{
							severity: 'warning' as const,
							t: late[0].t,
							facts: { after: late.length },
							mends: ['longer'],
						},
					]
				: [];
		const end = endHere(subject);
		if (!end || Math.abs(end.away) > end.reach) return found;
		const facts = { frames: end.frames, side: end.away > 0 ? 'before' : 'after', reach: end.reach };
		return [...found, { severity: 'note' as const, t: end.t, facts, mends: ['to-end'] }];
	},
};
