import { headOf } from '../head';
import type { Format } from '../format';

export const bvh: Format = {
	id: 'bvh',
	name: 'BVH',
	extensions: ['.bvh'],
	mediaTypes: ['model/x-bvh'],
	detect: (bytes) => (/^\s*HIERARCHY\b/i.test(headOf(bytes)) ? 2 : 0),
	takes: { mostBytes: 32 * 1024 * 1024, isHeavy: true },
};
