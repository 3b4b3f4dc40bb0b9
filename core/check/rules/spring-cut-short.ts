import { springSettleSeconds } from '../../../player/easing/ease';
import { secondsToTicks, ticksToSeconds } from '../../../player/time';
import { moveKeys, setShape } from '../../edits/keys';
import { snapToFrame } from '../../time';
import { keysOf, numberOf, short, type ChannelRule } from '../rule';

/** A span that lasts this share of what its spring takes is as good as long enough. */
const NEARLY = 1.02;

export const springCutShort: ChannelRule = {
	id: 'spring-cut-short',
	title: 'A spring that is cut short',
	why: 'The spring is still moving when its span ends, so it is bent to meet the next key.',
	measure: ({ facts }) => `settles in ${short(facts.settles)} s, the span lasts ${short(facts.lasts)} s`,
	mends: {
		longer: {
			label: 'Make the span as long as it settles',
			edit: (doc, finding) =>
				moveKeys(doc, keysOf(finding, finding.t), numberOf(finding, 'end') - finding.t, 0),
		},
		fit: {
			label: 'Fit the spring to the span',
			edit: (doc, finding) => {
				const from = numberOf(finding, 'from');
				const shape = doc.channels[finding.channel!]?.keys.find((key) => key.t === from)?.shape;
				if (shape?.kind !== 'spring') return doc;
				return setShape(doc, keysOf(finding, from), { ...shape, time: 'fitted' });
			},
		},
	},
	scope: 'channel',
	find: ({ channel, doc, clip }) =>
		channel.keys.slice(1).flatMap((next, i) => {
			const key = channel.keys[i];
			if (key.shape.kind !== 'spring' || key.shape.time !== 'real') return [];
			const settles = springSettleSeconds(key.shape, next.v - key.v);
			const lasts = ticksToSeconds(next.t - key.t);
			if (settles <= lasts * NEARLY) return [];
			const end = snapToFrame(key.t + secondsToTicks(settles), doc.project.frameRate);
			const room = end <= clip.length && (channel.keys[i + 2]?.t ?? Infinity) > end;
			const facts = { settles, lasts, from: key.t, end };
			return [{ severity: 'warning' as const, t: next.t, facts, mends: [room ? 'longer' : 'fit'] }];
		}),
};
