import { isJsonText } from '../head';
import type { Format } from '../format';
import { isPack } from './is-pack';
import { MAX_FILE_LENGTH, MOST_PACK_BYTES } from './limits';

export const projectFile: Format = {
	id: 'project',
	name: 'Hillock project',
	extensions: ['.hillock.json', '.json'],
	mediaTypes: ['application/json'],
	detect: (bytes) => (isJsonText(bytes) ? 1 : 0),
	takes: {
		mostBytes: MAX_FILE_LENGTH,
	},
};

export const projectPack: Format = {
	id: 'pack',
	name: 'Hillock project with its files',
	extensions: ['.hillock.zip', '.zip'],
	mediaTypes: ['application/zip'],
	detect: (bytes) => (isPack(bytes) ? 2 : 0),
	takes: {
		mostBytes: MOST_PACK_BYTES,
		isHeavy: true,
	},
};
