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
		switches: [{ id: 'curvesOnly', flag: 'curves-only', says: 'curves only, no drawings' }],
	},
	takes: {
		mostBytes: 32 * 1024 * 1024,
		isHeavy: true,
	},
};
