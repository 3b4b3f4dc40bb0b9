import { headOf } from '../head';
import type { Format } from '../format';

const OURS = /<svg[^>]*>\s*<!-- Written by Hillock/;

export const svg: Format = {
	id: 'svg',
	name: 'SVG',
	extensions: ['.svg'],
	mediaTypes: ['image/svg+xml'],
	detect: (bytes) => (OURS.test(headOf(bytes)) ? 2 : /<svg[\s>]/.test(headOf(bytes)) ? 1 : 0),
	takes: { mostBytes: 4 * 1024 * 1024, isHeavy: true },
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
