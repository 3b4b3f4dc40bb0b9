import { evaluateCurve } from '../../../player/curve/evaluate';
import { setShape } from '../../edits/keys';
import { frameToTicks } from '../../time';
import { keysOf, withUnit, type ChannelRule } from '../rule';

/** Share of the range within one frame that is seen as a jump. */
const JUMP = 0.5;

/** A large part of the range within one frame, where no hold or step says that it is meant. */
export const teleport: ChannelRule = {
	id: 'teleport',
	title: 'A large change within a frame',
	why: 'So far in one frame is seen as a jump; a hold says that it is meant.',
	measure: (finding, doc) => `${withUnit(finding, doc, 'change')} in a frame`,
	mends: {
		hold: {
			label: 'Make it a hold',
			edit: (doc, finding) => setShape(doc, keysOf(finding, finding.t), { kind: 'hold' }),
		},
	},
	scope: 'channel',
	find({ channel, clip, curve, range, doc }) {
		if ((channel.property !== 'translation' && channel.property !== 'rotation') || range === 0) return [];
		const frame = frameToTicks(1, doc.project.frameRate);
		for (let i = 0; i + 1 < channel.keys.length; i++) {
			const [key, next] = [channel.keys[i], channel.keys[i + 1]];
			if (key.shape.kind === 'hold' || key.shape.kind === 'steps' || next.t - key.t > 1.5 * frame) continue;
			const change = Math.abs(evaluateCurve(curve, next.t) - key.v);
			if (change > JUMP * range && next.t <= clip.length)
				return [{ severity: 'note', t: key.t, facts: { change }, mends: ['hold'] }];
		}
		return [];
	},
};
