/** What a check reports: where, how much, why it matters, and where possible an edit that mends it. */
import type { Doc } from '../document/types';

export const RULES = {
	overshoot: 'Goes past both of its keys',
	'backwards-first': 'Goes backwards first',
	'seam-gap': 'Does not close at the seam',
	'seam-slope': 'Changes speed at the seam',
	'last-frame-doubled': 'The last frame shows the first one again',
	'ends-apart': 'Ends at another time than the clip',
	'dead-hold': 'Stands still towards the end of a loop',
	'off-grid': 'A key between frames',
	'rebound-grows': 'A rebound higher or longer than the one before',
	'spring-cut-short': 'A spring that is cut short',
	'two-axis-swing': 'A turn about two axes that leaves the short way',
	'long-turn': 'Half a turn or more between two keys',
	'scale-through-zero': 'Scale goes through zero',
	teleport: 'A large change within a frame',
	'constant-channel': 'A channel that never changes',
	'formula-not-finite': 'A formula that fails',
	'formula-not-periodic': 'A formula that does not come round',
	'cue-outside': 'A cue outside the clip',
	'blend-pop': 'A jump where one clip gives way to another',
} as const;
export type Rule = keyof typeof RULES;
export type Severity = 'error' | 'warning' | 'note';

export interface Mend {
	label: string;
	edit: (doc: Doc) => Doc;
}

export interface Finding {
	rule: Rule;
	severity: Severity;
	clip: string;
	/** Id of the channel or formula; null for what concerns a whole clip. */
	channel: string | null;
	/** Ticks. */
	t: number;
	/** What was measured, in words with units. */
	measure: string;
	/** Why it matters to somebody who watches. */
	why: string;
	/** Edits that put it right, the most likely first. */
	mends: readonly Mend[];
}
