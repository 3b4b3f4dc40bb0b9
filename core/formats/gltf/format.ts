import { headOf, isJsonText } from '../head';
import type { Format } from '../format';
import { MOST_ROUNDS } from '../../tracks/rounds';
import { metresOf } from './choices';

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
		usage: [
			{
				who: 'three.js',
				lines: (file, clip) => `const { scene, animations } = await new GLTFLoader().loadAsync('${file}');
const mixer = new AnimationMixer(scene);
mixer.clipAction(AnimationClip.findByName(animations, ${JSON.stringify(clip)})).play(); // then mixer.update(seconds) a frame`,
			},
			{
				who: 'an engine of one’s own',
				lines:
					() => `// each channel: node, path (translation, rotation, scale), sampler: times, values, interpolation
i = last key with times[i] <= t;  u = (t - times[i]) / (times[i + 1] - times[i]);
STEP: values[i] | LINEAR: mix(values[i], values[i + 1], u), rotations slerp
CUBICSPLINE: rows of (in, value, out); d = times[i + 1] - times[i]
  (2u³-3u²+1) value[i] + d (u³-2u²+u) out[i] + (-2u³+3u²) value[i+1] + d (u³-u²) in[i+1]`,
			},
		],
		switches: [
			{ id: 'curvesOnly', flag: 'curves-only', says: 'curves only, no drawings' },
			{ id: 'linearOnly', flag: 'linear-only', says: 'LINEAR keys only, no cubic ones' },
			{ id: 'travelOut', flag: 'in-place', says: 'in place: root travel left out', excludes: 'travelAbove' },
			{
				id: 'travelAbove',
				flag: 'travel-node',
				says: 'root travel on a node of its own',
				excludes: 'travelOut',
			},
			{ id: 'zUp', flag: 'z-up', says: 'z up, by a node on top' },
			{ id: 'fadesByScale', flag: 'fade-by-scale', says: 'scale 0 where opacity is 0' },
			{ id: 'separate', flag: 'separate', says: '.gltf with a .bin beside it', extension: '.gltf' },
			{ id: 'motionFile', flag: 'motion-file', says: '.motion.json beside it: loops, cues, blends' },
			{ id: 'onlySwitches', flag: 'only-switches', says: 'hide by KHR_node_visibility alone' },
		],
		numbers: [
			{
				id: 'rounds',
				flag: 'rounds',
				says: 'iterations written out',
				unit: '',
				lowest: 1,
				highest: MOST_ROUNDS,
				whole: true,
				initial: () => 1,
				initially: '1: the reader loops',
			},
			{
				id: 'keyRate',
				flag: 'key-rate',
				says: 'fixed key rate, 0 for the fewest keys',
				unit: ' Hz',
				lowest: 0,
				highest: 240,
				initial: () => 0,
				initially: '0: keys where the curves need them, within the bound',
			},
			{
				id: 'metresPerUnit',
				flag: 'metres-per-unit',
				says: 'metres a unit of the project',
				unit: ' m',
				lowest: 1e-6,
				highest: 1e6,
				initial: metresOf,
				initially: '1, or 0.01 a pixel',
			},
		],
	},
	takes: {
		mostBytes: 32 * 1024 * 1024,
		isHeavy: true,
	},
};
