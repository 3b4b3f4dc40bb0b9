import { headOf, isJsonText } from '../head';
import type { Format } from '../format';

const MAGIC = [0x67, 0x6c, 0x54, 0x46];
/** Every glTF file says in an object what it is. */
const ASSET = /"asset"\s*:\s*\{/;

export const gltf: Format = {
	id: 'gltf',
	name: 'glTF',
	extensions: ['.glb', '.gltf'],
	mediaTypes: ['model/gltf-binary', 'model/gltf+json'],
	detect(bytes) {
		if (MAGIC.every((byte, i) => bytes[i] === byte)) return 2;
		return isJsonText(bytes) && ASSET.test(headOf(bytes)) ? 2 : 0;
	},
	ships: {
		for: 'engines',
		about: 'for engines: parts with their drawings, curves as animation samplers',
		hasDrawings: true,
		hasMotion: true,
		switches: [{ id: 'curvesOnly', flag: 'curves-only', says: 'curves only, no drawings' }],
	},
	takes: {
		mostBytes: 32 * 1024 * 1024,
		isHeavy: true,
	},
};
