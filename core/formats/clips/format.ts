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
		usage: [
			{
				who: 'a page',
				lines: (file, clip) => `import { Player, readClips } from './hillock-player.js';
import { bindToElements } from './hillock-player-dom.js';

const set = readClips(await (await fetch('./${file}')).json());
const player = new Player(set);
const show = bindToElements(set, document); // elements with data-part="NAME"
player.play({ clip: ${JSON.stringify(clip)} });
// each frame: player.advance(seconds); show(player.pose);`,
			},
			{
				who: 'a three.js scene',
				lines: (file, clip) => `import { Player, readClips } from './hillock-player.js';
import { bindToObjects } from './hillock-player-three.js';

const set = readClips(await (await fetch('./${file}')).json());
const player = new Player(set);
const show = bindToObjects(set, scene); // objects by their names
player.play({ clip: ${JSON.stringify(clip)} });
// each frame: player.advance(seconds); show(player.pose);`,
			},
		],
		playedBy: [
			{ path: '/player/hillock-player.js', says: 'the player' },
			{ path: '/player/hillock-player-dom.js', says: 'shows it on elements of a page' },
			{ path: '/player/hillock-player-three.js', says: 'shows it on objects of a three.js scene' },
		],
	},
};
