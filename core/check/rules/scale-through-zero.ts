import { evaluateCurve } from '../../../player/curve/evaluate';
import { SAMPLES, type ChannelRule } from '../rule';

/** Below this a scale has no sign. */
const NOTHING = 1e-6;

export const scaleThroughZero: ChannelRule = {
	id: 'scale-through-zero',
	title: 'Scale goes through zero',
	why: 'The part turns inside out, and some readers show nothing or black.',
	measure: () => 'changes its sign',
	mends: {},
	scope: 'channel',
	find({ channel, clip, curve }) {
		if (channel.property !== 'scale') return [];
		let sign = 0;
		for (let i = 0; i <= 4 * SAMPLES; i++) {
			const t = (clip.length * i) / (4 * SAMPLES);
			const v = evaluateCurve(curve, t);
			if (Math.abs(v) < NOTHING) continue;
			if (sign !== 0 && Math.sign(v) !== sign) return [{ severity: 'warning', t }];
			sign = Math.sign(v);
		}
		return [];
	},
};
