/** The pages of the guide by id, in the order of the work; what they say is fetched when one is read. */
export const GUIDE_PAGES = [
	'plan',
	'parts',
	'keys',
	'look',
	'shape',
	'retime',
	'loop',
	'link',
	'record',
	'cue',
	'blend',
	'ship',
] as const;
export type GuidePageId = (typeof GUIDE_PAGES)[number];
/** Where more is told about what a check finds. */
export const PAGE_OF_RULE: Readonly<Record<string, GuidePageId>> = {
	'seam-gap': 'loop',
	'seam-slope': 'loop',
	'ends-apart': 'loop',
	'last-frame-doubled': 'loop',
	'formula-not-periodic': 'link',
	'formula-not-finite': 'link',
	'constant-channel': 'keys',
	'dense-keys': 'record',
	'off-grid': 'plan',
	teleport: 'keys',
	overshoot: 'shape',
	'unlike-gravity': 'shape',
	'rebound-grows': 'shape',
	'spring-cut-short': 'shape',
	'backwards-first': 'shape',
	'two-axis-swing': 'shape',
	'scale-through-zero': 'shape',
	'long-turn': 'shape',
	'dead-hold': 'retime',
	'cue-outside': 'cue',
	'trigger-fault': 'cue',
	'blend-pop': 'blend',
};
export const FIRST_PAGE: GuidePageId = 'plan';

/** The page that a room's work begins with, by its address. */
export function pageOfRoom(path: string): GuidePageId {
	if (path.endsWith('/ship')) return 'ship';
	return path.endsWith('/rehearse') ? 'cue' : FIRST_PAGE;
}
