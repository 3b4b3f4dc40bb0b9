import { headOf, isJsonText } from '../head';
import type { Format } from '../format';
import { MARK } from './mark';

const OURS = new RegExp(`"format"\\s*:\\s*"${MARK}"`);
/** What some other format says of itself. */
const FORMAT = /"(format|asset)"\s*:/;
/** What `element.animate()` takes has some of these. */
const KEYFRAMES = /"(keyframes|offset|easing|composite)"\s*:/;

export const webAnimations: Format = {
	id: 'animations',
	name: 'Web Animations',
	extensions: ['.animations.json', '.json'],
	mediaTypes: ['application/json'],
	detect(bytes) {
		if (!isJsonText(bytes)) return 0;
		const head = headOf(bytes);
		// What says another format is that.
		return OURS.test(head) || (!FORMAT.test(head) && KEYFRAMES.test(head)) ? 2 : 0;
	},
	takes: { mostBytes: 16 * 1024 * 1024, isHeavy: true },
	ships: {
		for: 'web',
		about: 'for scripts of web pages: keyframes for element.animate(), to be started, sought and reversed',
		hasDrawings: false,
		hasMotion: true,
		spaces: ['interface'],
		switches: [],
		usage: [
			{
				who: 'a page',
				lines: (file, clip) => `import { playAnimations } from './play-animations.js';

const file = await (await fetch('./${file}')).json();
playAnimations(file, ${JSON.stringify(clip)}, document.body);`,
			},
		],
		playedBy: [{ path: '/web/play-animations.js', says: 'twenty lines: sets a clip going below an element' }],
	},
};
