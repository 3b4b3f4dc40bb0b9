import { setModes, setShape } from '../../edits/keys';
import { spanExcess, type Excess } from '../../curve/excess';
import type { Key } from '../../curve/types';
import { keysOf, numberOf, type Mend, type Subject } from '../rule';

/** For a span whose handles lead it astray. */
export const SMOOTH_HANDLES: Mend = {
	label: 'Make its handles smooth',
	edit: (doc, finding) => {
		const [from, to] = [numberOf(finding, 'from'), numberOf(finding, 'to')];
		const handled = setShape(doc, keysOf(finding, from), { kind: 'handles' });
		return setModes(handled, keysOf(finding, from, to), 'smooth');
	},
};

/** The spans of a channel that are not meant to overshoot, each with how far it leaves the values of its two keys. */
export function spanExcesses({ channel, curve }: Subject): { key: Key; next: Key; excess: Excess }[] {
	return channel.keys.slice(1).flatMap((next, i) => {
		const excess = spanExcess(curve, channel.keys[i], next);
		return excess ? [{ key: channel.keys[i], next, excess }] : [];
	});
}
