import { setModes, setShape } from '../../edits/keys';
import { keysOf, numberOf, type Mend } from '../rule';

/** For a span whose handles lead it astray. */
export const SMOOTH_HANDLES: Mend = {
	label: 'Make its handles smooth',
	edit: (doc, finding) => {
		const [from, to] = [numberOf(finding, 'from'), numberOf(finding, 'to')];
		const handled = setShape(doc, keysOf(finding, from), { kind: 'handles' });
		return setModes(handled, keysOf(finding, from, to), 'smooth');
	},
};
