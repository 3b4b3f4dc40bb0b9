/** Prints the value of a node's path in a .glb file at a time: node read.mjs FILE CLIP NODE PATH SECONDS */
import { readFileSync } from 'node:fs';

const SIZES = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4 };
/** By the component types of glTF; whole numbers that are normalised are divided by the largest. */
const ARRAYS = { 5120: Int8Array, 5121: Uint8Array, 5122: Int16Array, 5123: Uint16Array, 5126: Float32Array };
const LARGEST = { 5120: 127, 5121: 255, 5122: 32767, 5123: 65535, 5126: 1 };

function openGlb(bytes) {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	if (view.getUint32(0, true) !== 0x46546c67) throw new Error('This is no .glb file.');
	const length = view.getUint32(12, true);
	const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length)));
	return { json, binary: bytes.subarray(28 + length) };
}

function numbersOf({ json, binary }, index) {
	const { bufferView, byteOffset = 0, componentType, count, type } = json.accessors[index];
	const view = json.bufferViews[bufferView];
	const from = (view.byteOffset ?? 0) + byteOffset;
	const Numbers = ARRAYS[componentType];
	const bytes = binary.slice(from, from + count * SIZES[type] * Numbers.BYTES_PER_ELEMENT);
	const largest = LARGEST[componentType];
	return Float64Array.from(new Numbers(bytes.buffer), (v) => (largest === 1 ? v : Math.max(-1, v / largest)));
}

function slerp(a, b, u) {
	let dot = a.reduce((sum, v, k) => sum + v * b[k], 0);
	const sign = dot < 0 ? -1 : 1;
	const angle = Math.acos(Math.min(1, Math.abs(dot)));
	const [wa, wb] =
		angle < 1e-4
			? [1 - u, u]
			: [Math.sin(angle * (1 - u)), Math.sin(angle * u)].map((w) => w / Math.sin(angle));
	return a.map((v, k) => wa * v + sign * wb * b[k]);
}

function evaluate(times, values, interpolation, size, turns, t) {
	const cubic = interpolation === 'CUBICSPLINE';
	const at = (key, part) => [
		...values.subarray((cubic ? 3 * key + part : key) * size, ((cubic ? 3 * key + part : key) + 1) * size),
	];
	const last = times.length - 1;
	const value = (key) => at(key, 1);
	if (t <= times[0]) return value(0);
	if (t >= times[last]) return value(last);
	const key = times.findLastIndex((time) => time <= t);
	if (interpolation === 'STEP') return value(key);
	const span = times[key + 1] - times[key];
	const u = (t - times[key]) / span;
	if (!cubic)
		return turns
			? slerp(value(key), value(key + 1), u)
			: value(key).map((v, k) => v + (value(key + 1)[k] - v) * u);
	const [out, into] = [at(key, 2), at(key + 1, 0)];
	const [h0, h2] = [2 * u ** 3 - 3 * u ** 2 + 1, 3 * u ** 2 - 2 * u ** 3];
	const [h1, h3] = [span * (u ** 3 - 2 * u ** 2 + u), span * (u ** 3 - u ** 2)];
	const mixed = value(key).map((v, k) => h0 * v + h1 * out[k] + h2 * value(key + 1)[k] + h3 * into[k]);
	return turns ? mixed.map((v) => v / Math.hypot(...mixed)) : mixed;
}

const [file, clip, node, path, seconds] = process.argv.slice(2);
const glb = openGlb(new Uint8Array(readFileSync(file)));
const animation = glb.json.animations.find(({ name }) => name === clip);
const channel = animation.channels.find(
	({ target }) => glb.json.nodes[target.node]?.name === node && target.path === path,
);
const { input, output, interpolation = 'LINEAR' } = animation.samplers[channel.sampler];
const size = SIZES[glb.json.accessors[output].type];
const [times, values] = [numbersOf(glb, input), numbersOf(glb, output)];
console.log(evaluate(times, values, interpolation, size, path === 'rotation', Number(seconds)).join(' '));
