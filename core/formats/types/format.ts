import type { Format } from '../format';
import { headOf } from '../head';

const MARK = /^\/\*\*[^\n]*Written by Hillock[^\n]*\*\/\n/;

export const clipTypes: Format = {
	id: 'types',
	name: 'TypeScript declarations',
	extensions: ['.clips.d.ts'],
	mediaTypes: ['text/plain'],
	detect: (bytes) => (MARK.test(headOf(bytes)) ? 2 : 0),
	ships: {
		for: 'tools',
		about: 'names of clips, parts and cues, and what each cue carries: a name that is gone breaks the build',
		hasDrawings: false,
		hasMotion: false,
		switches: [],
	},
};
