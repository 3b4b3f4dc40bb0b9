import { ticksToSeconds } from '../../../player/time';
import { setKeyValue } from '../../edits/keys';
import type { Facts, Found } from '../finding';
import { keysOf, numberOf, short, withUnit, type ChannelRule } from '../rule';

/** How much more than the one before counts as more. */
const MORE = 1.02;
/** A rebound that is mended is at most this share as high as the one before. */
const LOWER = 0.9;
/** Of a height that is written into a key. */
const DIGITS = 6;

/** Falls and rises: each rebound should be lower and shorter than the one before. */
export const reboundGrows: ChannelRule = {
	id: 'rebound-grows',
	title: 'A rebound higher or longer than the one before',
	why: 'Every rebound loses speed: a higher or a longer one looks as if something had pushed.',
	measure: (finding, doc) =>
		'height' in finding.facts
			? `${withUnit(finding, doc, 'height')} high after ${withUnit(finding, doc, 'before')}`
			: `${short(finding.facts.seconds)} s long after ${short(finding.facts.secondsBefore)} s`,
	mends: {
		lower: {
			label: 'Lower it to fit its length',
			edit: (doc, finding) =>
				setKeyValue(doc, keysOf(finding, finding.t), () => numberOf(finding, 'fitting')),
		},
	},
	scope: 'channel',
	find({ channel: { keys } }) {
		const found: Found[] = [];
		let before: { height: number; ticks: number } | null = null;
		for (let i = 0; i + 2 < keys.length; i++) {
			const [key, top, landing] = [keys[i], keys[i + 1], keys[i + 2]];
			if (key.shape.kind !== 'rise' || top.shape.kind !== 'fall') {
				if (key.shape.kind !== 'fall' && key.shape.kind !== 'hold') before = null;
				continue;
			}
			const arc = { height: Math.abs(top.v - key.v), ticks: landing.t - key.t };
			const higher = before && arc.height > before.height * MORE;
			const longer = before && arc.ticks > before.ticks * MORE;
			if (before && (higher || longer)) {
				// Under one gravity heights go with the square of the time: what its own length allows.
				const height = before.height * Math.min(LOWER, (arc.ticks / before.ticks) ** 2);
				const fitting = Number((key.v + Math.sign(top.v - key.v) * height).toPrecision(DIGITS));
				const facts: Facts = higher
					? { height: arc.height, before: before.height, fitting }
					: { seconds: ticksToSeconds(arc.ticks), secondsBefore: ticksToSeconds(before.ticks), fitting };
				found.push({ severity: 'warning', t: top.t, facts, mends: longer ? [] : ['lower'] });
			}
			before = arc;
		}
		return found;
	},
};
