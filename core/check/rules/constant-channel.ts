import { restValue } from '../../document/rest';
import { removeChannels, removeKeys } from '../../edits/keys';
import { keysOf, withUnit, type ChannelRule } from '../rule';

const SAME = 1e-9;

export const constantChannel: ChannelRule = {
	id: 'constant-channel',
	title: 'A channel that never changes',
	why: ({ facts }) =>
		'value' in facts
			? 'It costs space in every file and does nothing.'
			: 'It does what the rest pose does anyway.',
	measure: (finding, doc) =>
		'value' in finding.facts ? `always ${withUnit(finding, doc, 'value')}` : 'one key at the rest value',
	mends: {
		'keep-one': {
			label: 'Keep one key',
			edit: (doc, finding) => {
				const others = doc.channels[finding.channel!].keys.slice(1).map((key) => key.t);
				return removeKeys(doc, keysOf(finding, ...others));
			},
		},
		delete: { label: 'Delete the channel', edit: (doc, { channel }) => removeChannels(doc, [channel!]) },
	},
	scope: 'channel',
	find({ channel, doc, range }) {
		const { keys, part, property, component } = channel;
		const [{ t, v }] = keys;
		if (keys.length > 1)
			return range < SAME ? [{ severity: 'note', t, facts: { value: v }, mends: ['keep-one'] }] : [];
		const isAtRest = Math.abs(v - restValue(doc.parts[part], property, component)) < SAME;
		return isAtRest ? [{ severity: 'note', t, mends: ['delete'] }] : [];
	},
};
