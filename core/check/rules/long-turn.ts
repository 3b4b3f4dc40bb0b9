import { withUnit, type ChannelRule } from '../rule';

/** Between two keys of a file of quaternions a reader turns the short way: 180° and more needs keys between. */
const SHORT_WAY = 180;

export const longTurn: ChannelRule = {
	id: 'long-turn',
	title: 'Half a turn or more between two keys',
	why: 'Readers of quaternions turn the short way between two keys: export puts keys between, a copy of these two alone would not turn like this.',
	measure: (finding, doc) => `${withUnit(finding, doc, 'turn')} between two keys`,
	mends: {},
	scope: 'channel',
	find: ({ channel }) =>
		channel.keys.slice(1).flatMap((next, i) => {
			const key = channel.keys[i];
			const turn = Math.abs(next.v - key.v);
			if (channel.property !== 'rotation' || key.shape.kind === 'hold' || turn < SHORT_WAY) return [];
			return [{ severity: 'note' as const, t: key.t, facts: { turn } }];
		}),
};
