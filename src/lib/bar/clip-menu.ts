/** The menu of clips: commands by their ids. */

/** Changes of the open clip as a whole, in the order of the menu. */
export const CLIP_CHANGES = [
	'clip-reverse',
	'clip-mirror',
	'clip-split',
	'clip-end-here',
	'clip-begin-here',
	'clip-cut',
] as const;
export const CLIP_ORDER = ['clip-earlier', 'clip-later'] as const;
