import { headOf } from '../head';
import type { Format } from '../format';
import { MARK } from './mark';

export const webAnimations: Format = {
	id: 'animations',
	name: 'Web Animations',
	extensions: ['.animations.json'],
	mediaTypes: ['application/json'],
	detect: (bytes) => (headOf(bytes).includes(`"format":"${MARK}"`) ? 2 : 0),
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
