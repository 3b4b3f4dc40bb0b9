import { moveKeys } from '../../edits/keys';
import { frameToTicks } from '../../time';
import { keysOf, numberOf, type ChannelRule } from '../rule';

/** In a repeating clip the last frame before the end should differ from the first one. */
export const lastFrameDoubled: ChannelRule = {
	id: 'last-frame-doubled',
	title: 'The last frame shows the first one again',
	why: 'The end of a round is the start of the next: closed a frame early, the same picture is shown twice and the loop stutters.',
	measure: () => 'one frame too early',
	mends: {
		'to-end': {
			label: 'Move the last key to the end',
			edit: (doc, finding) => moveKeys(doc, keysOf(finding, finding.t), numberOf(finding, 'frame'), 0),
		},
	},
	scope: 'channel',
	find({ channel: { keys }, clip, doc }) {
		if (clip.loop.mode !== 'repeat' || keys.length < 3) return [];
		const frame = frameToTicks(1, doc.project.frameRate);
		const [first, last] = [keys[0], keys.at(-1)!];
		if (last.t !== clip.length - frame || last.v !== first.v || first.t !== 0) return [];
		if (keys.at(-2)!.v === last.v) return [];
		return [{ severity: 'warning', t: last.t, facts: { frame }, mends: ['to-end'] }];
	},
};
