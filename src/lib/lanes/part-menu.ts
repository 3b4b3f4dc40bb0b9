/** The menu of a part. */

/** Those that the menu of a part shows, in this order. */
export const PART_MENU = [
	'part-rename',
	'part-pick',
	'part-copy',
	'part-copy-keys',
	'part-earlier',
	'part-later',
	'part-unhang',
	'part-alone',
	'part-hide',
	'part-lock',
	'part-key-rest',
	'part-rest-here',
	'part-still',
	'part-bounce',
	'part-delete',
] as const;
