import { headOf } from '../head';
import type { Format } from '../format';

/** Rows as `hillock sample` prints them, one after the other. */
const FIRST_ROW = /^\s*\[\s*\{\s*"clip"\s*:[^\n]*"path"\s*:[^\n]*"value"\s*:/;

export const samples: Format = {
	id: 'samples',
	name: 'Samples as JSON',
	extensions: ['.json'],
	mediaTypes: ['application/json'],
	detect: (bytes) => (FIRST_ROW.test(headOf(bytes)) ? 2 : 0),
	takes: { mostBytes: 128 * 1024 * 1024, isHeavy: true },
};
