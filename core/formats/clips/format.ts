import { CLIP_FILE } from '../../../player/file/format';
import type { Format } from '../format';
import { headOf, isJsonText } from '../head';

const MARK = new RegExp(`"format"\\s*:\\s*"${CLIP_FILE}"`);

export const clipFile: Format = {
	id: 'clips',
	name: 'Clip file',
	extensions: ['.clips.json'],
	mediaTypes: ['application/json'],
	detect: (bytes) => (isJsonText(bytes) && MARK.test(headOf(bytes)) ? 2 : 0),
	ships: {
		for: 'engines',
		about: 'for the player: all that moves, cues and blends, shapes as shapes',
		hasDrawings: false,
		hasMotion: true,
		switches: [],
		playedBy: [
			{ path: '/player/hillock-player.js', says: 'the player' },
			{ path: '/player/hillock-player-dom.js', says: 'shows it on elements of a page' },
			{ path: '/player/hillock-player-three.js', says: 'shows it on objects of a three.js scene' },
		],
	},
};
