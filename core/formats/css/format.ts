import { headOf } from '../head';
import type { Format } from '../format';
import { identifier } from './identifier';

const MARK = /^\/\*[^*]*Written by Hillock/;

/** Rules in which something moves. */
const MOVES = /@keyframes\s|[{;]\s*(animation|transition)(-[a-z-]+)?\s*:/;

export const css: Format = {
	id: 'css',
	name: 'CSS',
	extensions: ['.css'],
	mediaTypes: ['text/css'],
	detect: (bytes) => (MARK.test(headOf(bytes)) ? 2 : MOVES.test(headOf(bytes)) ? 1 : 0),
	takes: { mostBytes: 4 * 1024 * 1024, isHeavy: true },
	ships: {
		for: 'web',
		about: 'for web pages: keyframes and classes, no script; shapes that CSS knows are kept as they are',
		hasDrawings: false,
		hasMotion: true,
		spaces: ['interface'],
		switches: [],
		usage: [
			{
				who: 'a page',
				lines: (file, clip) => `<link rel="stylesheet" href="${file}" />
<div class="${identifier(clip)}">
	<div data-part="NAME">…</div>
</div>`,
			},
		],
	},
};
