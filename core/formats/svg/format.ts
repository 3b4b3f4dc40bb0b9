import { headOf } from '../head';
import type { Format } from '../format';

export const svg: Format = {
	id: 'svg',
	name: 'SVG',
	extensions: ['.svg'],
	mediaTypes: ['image/svg+xml'],
	detect: (bytes) => (/<svg[^>]*>\s*<!-- Written by Hillock/.test(headOf(bytes)) ? 2 : 0),
	ships: {
		for: 'web',
		about: 'a drawing that plays by itself wherever pictures are shown: one clip, no script',
		hasDrawings: true,
		hasMotion: true,
		spaces: ['interface'],
		switches: [],
		usage: [{ who: 'a page', lines: (file, clip) => `<img src="${file}" alt=${JSON.stringify(clip)} />` }],
	},
};
