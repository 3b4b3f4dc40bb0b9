import { headOf } from '../head';
import type { Format } from '../format';

export const x3d: Format = {
	id: 'x3d',
	name: 'X3D',
	extensions: ['.x3d'],
	mediaTypes: ['model/x3d+xml'],
	detect: (bytes) => (/<X3D[\s>]/.test(headOf(bytes)) ? 2 : 0),
	ships: {
		for: 'web',
		about: 'a scene of the open standard: interpolators with straight keys, a time sensor a clip',
		hasDrawings: true,
		hasMotion: true,
		switches: [],
	},
	takes: { mostBytes: 16 * 1024 * 1024, isHeavy: true },
};
