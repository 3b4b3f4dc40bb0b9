import { reduceKeys } from '../../edits/reduce';
import { frameToTicks } from '../../time';
import { keysOf, type ChannelRule } from '../rule';

/** From so many keys on they are a nuisance, where they stand so close. */
const MANY = 30;
const FRAMES = 1.5;
/** What the fewer keys may be off, as a share of the channel's range. */
const ROOM = 0.002;

/** Recordings and baked files have a key a frame: nobody can shape what lies between. */
export const denseKeys: ChannelRule = {
	id: 'dense-keys',
	scope: 'channel',
	title: 'A key on every frame',
	why: 'A curve with fewer keys moves the same, can be shaped, and ships smaller.',
	measure: ({ facts }) => `${facts.keys} keys`,
	find({ doc, channel: { keys } }) {
		if (keys.length < MANY) return [];
		const apart = (keys.at(-1)!.t - keys[0].t) / (keys.length - 1);
		if (apart > FRAMES * frameToTicks(1, doc.project.frameRate)) return [];
		return [{ severity: 'note', t: keys[0].t, facts: { keys: keys.length }, mends: ['reduce'] }];
	},
	mends: {
		reduce: {
			label: 'Reduce keys',
			edit: (doc, finding) => {
				const times = doc.channels[finding.channel!].keys.map(({ t }) => t);
				return reduceKeys(doc, keysOf(finding, ...times), ROOM);
			},
		},
	},
};
