import { strFromU8 } from 'fflate';
import type { Format } from '../format';
import { isPack } from '../project/is-pack';

/** The first file in such a zip: it is known by it. */
export const FIRST_FILE = 'hillock-player.js';
/** Where the name of its first file stands in a zip. Source: APPNOTE.TXT 4.3.7. */
const NAME_AT = 30;

export const clipPage: Format = {
	id: 'player',
	name: 'Clip file with player',
	extensions: ['.player.zip'],
	mediaTypes: ['application/zip'],
	detect: (bytes) =>
		isPack(bytes) && strFromU8(bytes.subarray(NAME_AT, NAME_AT + FIRST_FILE.length), true) === FIRST_FILE
			? 2
			: 0,
	ships: {
		for: 'web',
		about: 'a zip: clip file, player, types and a page that plays it from any disk or server',
		hasDrawings: true,
		hasMotion: true,
		switches: [],
	},
};
